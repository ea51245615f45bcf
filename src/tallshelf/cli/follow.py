"""``tallshelf follow``: what you follow, and how you are told of it."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Choose how you are told of a thing: catalog, server:SLUG, kit:NAME or team:SLUG. What your teams own and
what hits your kits is told to you anyway; what is chosen for the narrowest thing counts."""
EXAMPLES = """\
tallshelf follow
tallshelf follow server:tide-tables
tallshelf follow team:crew --how digest
tallshelf follow server:tide-tables --how default"""
_HOW = {
    "inbox": "in the inbox",
    "mail": "by mail, each",
    "digest": "by mail, once a day",
    "nothing": "not at all",
}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("thing", nargs="?", metavar="THING", help="without one, what you follow is listed")
    parser.add_argument(
        "--how",
        choices=(*_HOW, "default"),
        default="inbox",
        help="how you are told of it (inbox); default: as if nothing had been chosen",
    )
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    shelf = io.shelf()
    rows = shelf.follow(args.thing, args.how) if args.thing else shelf.following()
    if args.format == "json":
        io.print_json(rows)
    elif not rows:
        io.print("You follow nothing; what concerns your teams and desks is told to you anyway.")
    else:
        io.print(
            table(
                [(escape(following.about), _HOW[following.how]) for following in rows],
                ("thing", "you are told"),
                io.paint,
            )
        )
    return FINE
