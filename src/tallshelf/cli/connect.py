"""``tallshelf connect``: the block that connects a host to a release."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadReference
from tallshelf.core.snapshot import parse_reference

DESCRIPTION = """\
Print the JSON that a host's configuration needs. Secrets are placeholders, never values. A
suspended or withdrawn release is refused; a deprecated one, or a suspended item of it, is warned about."""
EXAMPLES = """\
tallshelf connect berth-planner
tallshelf connect berth-planner@1.4.2 --environment test"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("release", metavar="REFERENCE", help="server, or server@version")
    parser.add_argument("--environment", default="", help="production by default, where there is one")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    place = parse_reference(args.release)
    if not place.server:
        raise BadReference(f"{args.release!r} names no release", remedy="Write server or server@version.")
    found = io.shelf().connection(place.server, place.version or "current", args.environment)
    if found["warning"]:
        from tallshelf.core.reports import escape

        io.note(f"warning: {escape(found['warning'])}")
    io.print_json(found if args.format == "json" else found["block"])
    return 0
