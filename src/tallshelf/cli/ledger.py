"""``tallshelf ledger``: who did what, and when."""

from __future__ import annotations

import argparse
from itertools import islice

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day, short

DESCRIPTION = "List the ledger, newest first."
EXAMPLES = """\
tallshelf ledger
tallshelf ledger --subject berth-planner --most 200 --format json"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--subject", default="", help="a server, person or desk")
    parser.add_argument("--event", default="", help="one kind of event, such as release-published")
    parser.add_argument("--most", type=int, default=50, metavar="N", help="how many entries (50)")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    rows = list(islice(io.shelf().ledger(subject=args.subject, event=args.event), max(1, args.most)))
    if args.format == "json":
        io.print_json({"format": "tallshelf.ledger/1", "entries": rows})
        return 0
    cells = [
        (
            str(row["number"]),
            day(row["at"]),
            row["event"],
            row["actor"],
            escape(str(row["body"].get("version") or row["body"].get("desk") or "")),
            escape(row["subject"]),
            short(row["hash"]),
        )
        for row in rows
    ]
    io.print(table(cells, ("no.", "at (UTC)", "event", "by", "", "about", "hash"), io.paint))
    return 0
