"""``tallshelf desks``: who sits where."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day

DESCRIPTION = "List the desks that requests can be sent to, and who sits there since when."
EXAMPLES = "tallshelf desks"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape

    rows = io.shelf().desks()
    if args.format == "json":
        io.print_json(rows)
        return FINE
    for number, row in enumerate(rows):
        lead = f", led by {escape(row['lead'])}" if row["lead"] else ""
        own = "" if row["owner_team_excluded"] else "  (members of the owner team may sign here)"
        io.print(
            ("\n" if number else "") + f"{io.paint.bold(row['desk'])}  {escape(row['title'])}{lead}{own}"
        )
        for member in row["members"]:
            io.print(
                f"  {member['username']:<12} {escape(member['name'])}, since {day(member['since'])[:10]}"
            )
        if not row["members"]:
            io.print("  nobody sits here")
    return FINE
