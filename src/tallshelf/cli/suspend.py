"""``tallshelf suspend``: stop the use of a server or item at once."""

from __future__ import annotations

import argparse
from collections.abc import Mapping
from typing import Any

from tallshelf.cli import kit_shown, options
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadReference
from tallshelf.core.snapshot import parse_reference

DESCRIPTION = """\
Suspend a server, or one item of it, at once. `connect` refuses it from now on. A catalog cannot
cut connections that already stand."""
EXAMPLES = """\
tallshelf suspend bookings --reason 'refunds twice, see incident 4411'
tallshelf suspend 'bookings#refund_booking' --preview
tallshelf suspend 'bookings#refund_booking' --reason 'refunds twice'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("what", metavar="REFERENCE", help="server, or server#item")
    act = parser.add_mutually_exclusive_group(required=True)
    act.add_argument("--reason", default="", help="why; everybody will see it")
    act.add_argument(
        "--preview", action="store_true", help="only say whom it would hit, and what could stand in"
    )
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    place = parse_reference(args.what)
    if not place.server or place.version:
        raise BadReference(
            f"{args.what!r} names no server",
            remedy="All releases are suspended together; leave the version out.",
        )
    ends = io.shelf().ending(place.server, item=place.item)
    if args.preview:
        return _preview(ends, args, io)
    suspension = io.shelf().suspend(place.server, args.reason, place.item)
    if args.format == "json":
        io.print_json({**suspension, "ending": ends})
        return 0
    what = f"{suspension['item']} of {suspension['server']}" if suspension["item"] else suspension["server"]
    io.print(f"{io.paint.red('Suspended')} {what}: {suspension['reason']}")
    kit_shown.ending(ends, io)
    return 0


def _preview(ends: Mapping[str, Any], args: argparse.Namespace, io: IO) -> int:
    if args.format == "json":
        io.print_json(ends)
    elif not ends["kits"]:
        io.print("No kit holds it.")
    else:
        kit_shown.ending(ends, io)
    return 0
