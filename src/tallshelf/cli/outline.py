"""``tallshelf outline``: a snapshot as a model will see it."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.io import IO

DESCRIPTION = (
    "Show names, descriptions and parameters as a model will see them, and about how many tokens they take."
)
EXAMPLES = """\
tallshelf outline berth-planner.json
tallshelf outline berth-planner@1.4.2#find_free_berth"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("snapshot", metavar="REFERENCE", help="a file, or server[@version][#item]")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, outline_document, outline_text
    from tallshelf.core.snapshot import outline, parse_reference

    snapshot, _ = options.load(args.snapshot, io)
    seen = outline(snapshot)
    place = parse_reference(args.snapshot)
    for suspension in io.shelf().suspensions() if place.server else ():
        if suspension["server"] == place.server and suspension["item"] in (
            "",
            place.item or suspension["item"],
        ):
            what = suspension["item"] or place.server
            io.note(f"warning: {escape(what)} is suspended: {escape(suspension['reason'])}")
    if args.format == "json":
        io.print_json(outline_document(seen))
    else:
        io.print(outline_text(seen, io.paint))
    return 0
