"""``tallshelf compare``: what breaks between two releases, and for whom."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import Item, parse_reference

DESCRIPTION = (
    "Compare two releases: every difference with its impact, whom it reaches, and a proof where it breaks."
)
EXAMPLES = """\
tallshelf compare berth-planner@1.4.2 berth-planner.json
tallshelf compare old.json new.json --gate --format json
tallshelf compare old.json new.json --impact silent
tallshelf compare old.json new.json --style house.toml
tallshelf compare roster.json#find_crew_member certificates.json#lookup_crew_member --stand-in"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("old", metavar="OLD", help="a file, or server[@version][#item]")
    parser.add_argument("new", metavar="NEW", help="a file, or server[@version][#item]")
    parser.add_argument(
        "--all", action="store_true", help="show every change, those that nobody meets as well"
    )
    parser.add_argument(
        "--gate", action="store_true", help="exit with 1 when the version is too low or undecided"
    )
    parser.add_argument(
        "--impact",
        default="",
        choices=("breaking", "undecided", "caution", "compatible", "silent"),
        help="show these alone",
    )
    parser.add_argument(
        "--reach",
        default="",
        choices=("callers", "receivers", "choosers", "operators"),
        help="show what reaches these alone",
    )
    parser.add_argument("--only", default="", metavar="ITEM", help="show this item alone, such as tool:NAME")
    parser.add_argument(
        "--stand-in",
        action="store_true",
        help="ask whether the tool NEW can take the place of the tool OLD; each names one tool",
    )
    options.add_style(parser)
    options.add_breaking(parser)
    options.add_format(parser, "text", "json", "markdown")


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core import reports
    from tallshelf.core.changes import compare_snapshots, next_version, with_rulings
    from tallshelf.core.snapshot import is_of_scheme

    if args.stand_in:
        return _stand_in(args, io)
    (old, base), (new, declared) = options.load(args.old, io), options.load(args.new, io)
    launches = [options.launches(reference, io) for reference in (args.old, args.new)]
    found = compare_snapshots(old, new, *launches, terms=options.terms(args.style, (args.old, args.new), io))
    comparison = with_rulings(found, _rulings(args.old, args.new, io))
    scheme, breaking = _declared(args, io)
    version = next_version(
        base if base and is_of_scheme(base, scheme) else None,
        declared if declared and is_of_scheme(declared, scheme) else None,
        comparison,
        scheme=scheme,
        breaking=breaking,
    )
    shown = comparison.narrowed(impact=args.impact, reach=args.reach, only=_identity(args.only))
    hit = _hits(args, comparison.changes, io)
    if args.format == "json":
        kits = {} if hit is None else {"kits": reports.hits_document(hit)}
        io.print_json({**reports.comparison_document(shown, version), **kits})
    elif args.format == "markdown":
        io.print(reports.comparison_markdown(shown, version, args.old, args.new))
    else:
        io.print(reports.comparison_text(shown, version, io.paint, everything=args.all))
        if hit:
            io.print("\n" + reports.hits_text(reports.hits_document(hit), io.paint))
    failed = not version.is_honest or comparison.count("undecided") > 0
    return GATE_FAILED if args.gate and failed else FINE


def _hits(args: argparse.Namespace, changes: Any, io: IO) -> Any:
    """Return the kits that the changes of a server on the shelf hit; None where two files are compared."""
    place = next(
        (reference for reference in map(parse_reference, (args.old, args.new)) if not reference.file), None
    )
    if place is None:
        return None
    from tallshelf.core.kits import Holder, hits

    holders = [
        Holder(
            kit["kit"],
            kit["title"],
            kit["team"],
            kit["environment"],
            dict.fromkeys(kit["held"], row["version"]),
        )
        for row in io.shelf().kits_of(place.server)
        for kit in row["kits"]
    ]
    return hits(changes, holders)


def _declared(args: argparse.Namespace, io: IO) -> tuple[Any, bool]:
    """Return by which scheme the server on the shelf is numbered, and whether the new side is declared to break."""
    old, new = parse_reference(args.old), parse_reference(args.new)
    on_shelf = next((place for place in (new, old) if not place.file), None)
    if on_shelf is None:
        return "semver", False
    scheme = io.shelf().server(on_shelf.server)["scheme"]
    if new.file:
        return scheme, args.breaking
    return scheme, args.breaking or io.shelf().release(new.server, new.version or "current")["breaking"]


def _rulings(old: str, new: str, io: IO) -> list[tuple[frozenset[str], str]]:
    """Return what curators ruled on silent changes of the server that is compared, where it is one on the shelf."""
    from tallshelf.core.changes import SAME_MEANING, parts_of

    places = [place for place in map(parse_reference, (old, new)) if not place.file]
    if not places:
        return []
    return [
        (parts_of(pair), row["reason"])
        for row in io.shelf().rulings(state="in force", word=SAME_MEANING, server=places[-1].server)
        for pair in row["pairs"]
    ]


def _identity(name: str) -> str:
    """A bare name means a tool, as in references."""
    return name if not name or name == "server" or ":" in name else f"tool:{name}"


def _stand_in(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.compat import stand_in
    from tallshelf.core.reports import stand_in_document, stand_in_text

    if args.format == "markdown":
        raise BadArgument("a stand-in answer is text or JSON")
    a, b = _tool(args.old, io), _tool(args.new, io)
    answer = stand_in(a.body, b.body)
    if args.format == "json":
        io.print_json(stand_in_document(answer, args.old, args.new))
    else:
        io.print(stand_in_text(answer, args.old, args.new, io.paint))
    return GATE_FAILED if answer.stands_in is False or (args.gate and not answer.stands_in) else FINE


def _tool(reference: str, io: IO) -> Item:
    snapshot, _ = options.load(reference, io)
    if len(snapshot.tools) != 1 or len(snapshot.items) != 1:
        raise BadArgument(
            f"{reference!r} names no single tool",
            remedy="Write server#tool, server@version#tool or file.json#tool.",
        )
    return snapshot.tools[0]
