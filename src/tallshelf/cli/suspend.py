"""``tallshelf suspend``: stop the use of a server or item at once."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadReference
from tallshelf.core.snapshot import parse_reference

DESCRIPTION = """\
Suspend a server, or one item of it, at once. `connect` refuses it from now on. A catalog cannot
cut connections that already stand."""
EXAMPLES = """\
tallshelf suspend bookings --reason 'refunds twice, see incident 4411'
tallshelf suspend 'bookings#refund_booking' --reason 'refunds twice'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("what", metavar="REFERENCE", help="server, or server#item")
    parser.add_argument("--reason", required=True, help="why; everybody will see it")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    place = parse_reference(args.what)
    if not place.server or place.version:
        raise BadReference(
            f"{args.what!r} names no server",
            remedy="All releases are suspended together; leave the version out.",
        )
    found = io.shelf().suspend(place.server, args.reason, place.item)
    if args.format == "json":
        io.print_json(found)
        return 0
    what = f"{found['item']} of {found['server']}" if found["item"] else found["server"]
    io.print(f"{io.paint.red('Suspended')} {what}: {found['reason']}")
    return 0
