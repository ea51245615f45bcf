"""``tallshelf kit``: the named picks of published tools that agents work with."""

from __future__ import annotations

import argparse
from collections.abc import Mapping
from typing import Any

from tallshelf.cli import kit_shown, options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO

DESCRIPTION = """\
A kit names the published tools that one agent, team or application works with: servers, version ranges,
items, a budget of tokens and the data it may see. It is put from a file (tallshelf.kit/1, in TOML), resolves
to exact releases, and is kept as a lock. Who is hit by a change is a question to the kits."""
EXAMPLES = """\
tallshelf kit read host-config.json AGENTS.md --team berths -o berth-helper.toml
tallshelf kit check berth-helper.toml
tallshelf kit put berth-helper.toml
tallshelf kit list --server tide-tables
tallshelf kit show berth-helper
tallshelf kit move berth-helper --to tide-tables@1.1.0
tallshelf kit drop berth-helper --reason 'The assistant was switched off.'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    lists = acts.add_parser("list", help="list kits")
    lists.add_argument("--team", default="", metavar="SLUG", help="only those of this team")
    lists.add_argument("--server", default="", metavar="SLUG", help="only those that hold something of it")
    lists.add_argument("--proposed", action="store_true", help="those that wait to be put, instead")
    options.add_format(lists)
    show = acts.add_parser("show", help="show a kit: what it holds, what is wrong, what would move")
    show.add_argument("kit", metavar="KIT")
    options.add_format(show)
    put = acts.add_parser("put", help="put a kit on the shelf, or put it anew")
    put.add_argument("file", metavar="FILE", help="the kit, as TOML")
    put.add_argument("--reason", default="", metavar="TEXT", help="why it is to see higher data than before")
    options.add_format(put)
    check = acts.add_parser("check", help="say what would move and what breaks for this kit; for CI")
    check.add_argument("file", metavar="FILE", help="the kit, as TOML")
    options.add_format(check, "text", "json", "markdown")
    move = acts.add_parser("move", help="move its lock to what its picks take now")
    move.add_argument("kit", metavar="KIT")
    move.add_argument("--to", default="", metavar="SERVER[@VERSION]", help="this server alone")
    options.add_format(move)
    drop = acts.add_parser("drop", help="take a kit off the shelf")
    drop.add_argument("kit", metavar="KIT")
    drop.add_argument("--reason", required=True, metavar="TEXT")
    options.add_format(drop)
    read = acts.add_parser("read", help="propose a kit from a host's configuration, snapshots or texts")
    read.add_argument("files", nargs="+", metavar="FILE")
    read.add_argument("--name", default="", metavar="KIT", help="its name (by the first file by default)")
    read.add_argument("--team", default="", metavar="SLUG", help="its owner team (yours by default)")
    read.add_argument("-o", "--output", metavar="FILE", help="where to write (standard output by default)")
    options.add_format(read)
    for answer, words in (("agree", "let a kit see higher data"), ("decline", "decline that; needs a note")):
        argument_parser = acts.add_parser(answer, help=f"as a second curator, {words}")
        argument_parser.add_argument("kit", metavar="KIT")
        argument_parser.add_argument("--note", default="", metavar="TEXT")
        options.add_format(argument_parser)


def run(args: argparse.Namespace, io: IO) -> int:
    if args.act == "read":
        from tallshelf.cli import kit_read

        return kit_read.run(args, io)
    shelf = io.shelf()
    if args.act == "list":
        return _list(args, io)
    if args.act == "show":
        return _told(shelf.kit(args.kit), args, io, kit_shown.whole)
    if args.act == "check":
        return _check(args, io)
    if args.act == "put":
        return _told(shelf.put_kit(options.text_of(args.file, io), reason=args.reason), args, io, _put)
    if args.act == "move":
        return _told(shelf.move_kit(args.kit, args.to), args, io, _moved)
    if args.act == "drop":
        shelf.drop_kit(args.kit, args.reason)
        return _told({"name": args.kit, "state": "dropped"}, args, io, _state)
    return _told(shelf.answer_kit(args.kit, args.act, args.note), args, io, _state)


def _told(document: Mapping[str, Any], args: argparse.Namespace, io: IO, words: Any) -> int:
    if args.format == "json":
        io.print_json(document)
    else:
        words(document, io)
    return FINE


def _put(document: Mapping[str, Any], io: IO) -> None:
    said = {
        "put": "is on the shelf",
        "as it was": "is on the shelf as it was",
        "proposed": "waits",
    }[document["state"]]
    io.print(f"{document['name']} {said}.")
    kit_shown.waits(document, io)
    if document["state"] != "proposed":
        io.note(f"next: tallshelf kit show {document['name']}")
    elif document["raises"]:
        io.note(f"next: tallshelf kit agree {document['name']}  (another curator)")
    else:
        io.note("next: once they agree it is put by itself; tallshelf kit list --proposed")


def _moved(document: Mapping[str, Any], io: IO) -> None:
    if not document["moved"]:
        io.print(f"{document['name']} holds what its picks take; nothing moved.")
        return
    kit_shown.history(document["kit"]["history"][:1], io)
    kit_shown.problems(document["kit"], io)


def _state(document: Mapping[str, Any], io: IO) -> None:
    io.print(f"{document['name']}: {document['state']}.")


def _list(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.proposed:
        rows: list[Any] = shelf.proposed_kits()
        words = kit_shown.proposed
    else:
        rows, words = list(shelf.kits(team=args.team, server=args.server)), kit_shown.rows
    if args.format == "json":
        io.print_json(rows)
    elif rows:
        words(rows, io)
    else:
        io.print("There are none.")
    return FINE


def _check(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import kit_check_markdown, kit_check_text

    kit_check = io.shelf().check_kit(options.text_of(args.file, io))
    if args.format == "json":
        io.print_json(kit_check)
    else:
        io.print(
            kit_check_text(kit_check, io.paint) if args.format == "text" else kit_check_markdown(kit_check)
        )
    return FINE if kit_check["passed"] else GATE_FAILED
