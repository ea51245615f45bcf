"""``tallshelf ruling``: the work-list of overlaps, and what curators rule on them and on silent changes."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.snapshot import parse_reference

if TYPE_CHECKING:
    from tallshelf.client import Shelf

DESCRIPTION = """\
Decide on overlaps: distinct (they are different jobs), keep-both, prefer (use this one), or merge (with an
owner and a day). On silent changes of a release: same-meaning (they move no meaning, so that they ask for no
major version). One curator proposes, another agrees; it holds until what was compared changes."""
EXAMPLES = """\
tallshelf ruling open
tallshelf ruling propose crew-roster#find_crew crew-certificates#lookup_crew prefer \\
    --preferred crew-roster#find_crew --reason 'The roster is kept by the crew office.'
tallshelf ruling propose berth-planner@2.0.0#list_berths same-meaning \\
    --reason 'The text only says what was always so.'
tallshelf ruling list --state proposed
tallshelf ruling agree 3"""

_MOST_SHOWN = 8
_WORDS = ("distinct", "keep-both", "prefer", "merge", "same-meaning")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    waiting = acts.add_parser("open", help="list the servers that do the same work, and nobody ruled on it")
    waiting.add_argument(
        "--class", dest="cls", default="", choices=("same-job", "near"), help="near: what waits for nobody"
    )
    waiting.add_argument("--within", action="store_true", help="what one server has twice, instead")
    waiting.add_argument("--team", default="", metavar="SLUG")
    options.add_format(waiting)
    propose = acts.add_parser("propose", help="propose a ruling on overlaps or silent changes")
    propose.add_argument(
        "items",
        nargs="+",
        metavar="SERVER#ITEM",
        help="two items or more, or two servers for all they share; with same-meaning one as server@version#item",
    )
    propose.add_argument("word", choices=_WORDS)
    propose.add_argument("--reason", required=True, metavar="TEXT")
    propose.add_argument(
        "--preferred", default="", metavar="SERVER[#ITEM]", help="with prefer: the one to use"
    )
    propose.add_argument("--owner", default="", metavar="NAME", help="with merge: who does it")
    propose.add_argument("--due", metavar="DATE", help="with merge: until when")
    propose.add_argument(
        "--base", default="", metavar="VERSION", help="with same-meaning: the release before"
    )
    propose.add_argument("--at", default=None, metavar="POINTER", help="with same-meaning: the place alone")
    options.add_format(propose)
    lists = acts.add_parser("list", help="list rulings, newest first")
    lists.add_argument(
        "--state", default="", choices=("proposed", "in force", "declined", "ended", "overdue")
    )
    lists.add_argument("--word", default="", choices=_WORDS)
    lists.add_argument("--server", default="", metavar="SERVER", help="on items of this server")
    options.add_format(lists)
    options.add_answers(
        acts,
        ("agree", "put a proposed ruling in force"),
        ("decline", "decline a proposed ruling; needs a note"),
        ("end", "end a ruling; needs a note"),
    )


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "open":
        state = "" if args.cls == "near" else "open"
        return _open(
            shelf.overlap_groups(state=state, cls=args.cls, team=args.team, within=args.within), args, io
        )
    if args.act == "list":
        return _list(list(shelf.rulings(state=args.state, word=args.word, server=args.server)), args, io)
    if args.act == "propose":
        if args.word == "same-meaning":
            return _told(_same_meaning(shelf, args), args, io)
        pairs = _pairs(shelf, args.items)
        preferred = _whole(args.preferred) if args.preferred else ""
        ruling = shelf.rule(
            pairs, args.word, args.reason, preferred=preferred, owner=args.owner, due=args.due
        )
    else:
        ruling = shelf.answer_ruling(args.number, args.act, args.note)
    return _told(ruling, args, io)


def _told(document: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, wrap

    if args.format == "json":
        io.print_json(document)
        return FINE
    io.print(
        f"Ruling {document['id']}, {document['word']}, is {document['state']}: {', '.join(document['members'])}."
    )
    for one in document["told"]:
        io.print(wrap(escape(one), "  "))
    if document["state"] == "proposed":
        io.note(f"next: a second curator runs tallshelf ruling agree {document['id']}")
    return FINE


def _same_meaning(shelf: Shelf, args: argparse.Namespace) -> dict[str, Any]:
    """Propose that the silent changes of an item, or of one place in it, move no meaning."""
    from tallshelf.core.changes import base_for

    place = parse_reference(args.items[0])
    if len(args.items) != 1 or place.file or not place.version or not place.item:
        raise BadArgument(
            "same-meaning is a word on silent changes of one item", remedy="Name it as server@version#item."
        )
    new = shelf.release(place.server, place.version)["version"]
    published = [
        release["version"]
        for release in shelf.server(place.server)["releases"]
        if release["state"] in ("published", "deprecated")
    ]
    base = args.base or base_for(new, published)
    if base is None:
        raise BadArgument(f"{place.server}@{new} is the first release: nothing changed")
    changes = shelf.comparison(f"{place.server}@{base}", f"{place.server}@{new}")["changes"]
    bases = [
        change["basis"]
        for change in changes
        if change["basis"]
        and change["item"] == place.item
        and args.at in (None, change["new_pointer"], change["old_pointer"])
    ]
    if not bases:
        raise NotFound(
            f"no silent change of {place.item} since {base} may be ruled on",
            remedy=f"`tallshelf compare {place.server}@{base} {place.server}@{new}` tells what changed.",
        )
    return shelf.rule(bases, "same-meaning", args.reason, release=f"{place.server}@{new}", base=base)


def _whole(reference: str) -> str:
    place = parse_reference(reference)
    return f"{place.server}#{place.item}" if place.item else place.server


def _pairs(shelf: Shelf, items: list[str]) -> list[str]:
    """Return what names the overlaps among some items; between whole servers those of the same job."""
    wanted = {_whole(item) for item in items}
    pairs = [
        overlap["pair"]
        for group in (*shelf.overlap_groups(), *shelf.overlap_groups(within=True))
        for overlap in group["overlaps"]
        if {f"{overlap[side]['server']}#{overlap[side]['item']}" for side in ("a", "b")} <= wanted
        or (group["class"] == "same-job" and {server["server"] for server in group["servers"]} == wanted)
    ]
    if not pairs:
        raise NotFound(
            f"no overlap is known among {', '.join(sorted(wanted))}",
            remedy="`tallshelf ruling open` lists them.",
        )
    return pairs


def _open(groups: Sequence[dict[str, Any]], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, wrap
    from tallshelf.core.reports.lines import count

    if args.format == "json":
        io.print_json(groups)
        return FINE
    if not groups:
        io.print("No overlap is like that." if args.cls == "near" else "No overlap waits for a ruling.")
        return FINE
    for number, group in enumerate(groups):
        colour = io.paint.amber if group["class"] == "same-job" else io.paint.blue
        proposed = group["ruling"]
        told = f"  ruling {proposed['id']} is proposed: {proposed['word']}" if proposed else ""
        servers = " and ".join(
            f"{server['server']} ({server['alike']} of {count(server['items'], 'item')})"
            for server in group["servers"]
        )
        io.print(("\n" if number else "") + f"{colour('◎ ' + group['class'])} {io.paint.bold(servers)}{told}")
        for overlap in group["overlaps"][:_MOST_SHOWN]:
            sides = [overlap[side] for side in ("a", "b")]
            sides.sort(key=lambda side: (side["server"], side["item"]))
            io.print(f"  {overlap['score']:.2f}  " + "  and  ".join(escape(side["item"]) for side in sides))
        if len(group["overlaps"]) > _MOST_SHOWN:
            io.print(f"  and {len(group['overlaps']) - _MOST_SHOWN} more")
        if len(group["overlaps"]) == 1:
            for reason in group["overlaps"][0]["reasons"][:2]:
                io.print(io.paint.dim(wrap(reason, "    ")))
    io.note("next: tallshelf ruling propose SERVER SERVER distinct --reason TEXT")
    return FINE


def _list(rows: list[dict[str, Any]], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, wrap

    if args.format == "json":
        io.print_json(rows)
        return FINE
    if not rows:
        io.print("There are none.")
        return FINE
    for number, row in enumerate(rows):
        late = io.paint.red(f", overdue since {row['due']}") if row["overdue"] else ""
        mark = "*" if row["may_answer"] else " "
        head = f"{mark} {row['id']}  {io.paint.bold(row['word'])}, {row['state']}{late}"
        io.print(("\n" if number else "") + head)
        for member in row["members"]:
            used = row["preferred"] in (member, member.partition("#")[0])
            told = "  (the one to use)" if used else ""
            io.print(f"     {escape(member)}{told}")
        for one in row["told"]:
            io.print(wrap(f"{row['base']} to {row['release']}: {escape(one)}", "     "))
        io.print(io.paint.dim(wrap(row["reason"], "     ")))
    if any(row["may_answer"] for row in rows):
        io.note("* waits for you. next: tallshelf ruling agree NUMBER, or decline NUMBER --note TEXT")
    return FINE
