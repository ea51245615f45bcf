"""``tallshelf known``: findings that were accepted for a server, so that only new ones count."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Say how many findings of a server are accepted as known, or accept today's: all that the house style says
of its current release, but for those on safety. They shrink with each release that mends some, and never
grow by themselves."""
EXAMPLES = """\
tallshelf known harbour-radio
tallshelf known harbour-radio --accept 'Written before there were rules; the next release mends it.'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("server", metavar="SERVER")
    parser.add_argument("--accept", metavar="REASON", help="accept today's findings, for this reason")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    known = shelf.known(args.server) if args.accept is None else shelf.accept_known(args.server, args.accept)
    if args.format == "json":
        io.print_json({"server": args.server, "known": known})
    else:
        io.print(
            f"{known} finding{'' if known == 1 else 's'} of {args.server} {'is' if known == 1 else 'are'} known."
        )
        io.note(f"next: tallshelf lint {args.server}")
    return FINE
