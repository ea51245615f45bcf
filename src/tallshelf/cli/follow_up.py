"""``tallshelf follow-up``: what reviewers agreed under, and closing it."""

from __future__ import annotations

import argparse
from datetime import UTC, datetime

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Conditions that reviewers agreed under: something that its owner does by a day. They are listed until
they are closed, the ones due first before others."""
EXAMPLES = """\
tallshelf follow-up list
tallshelf follow-up list --mine --state closed
tallshelf follow-up close 3 --note 'Bounded in 1.1.1.'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    lists = acts.add_parser("list", help="list them")
    lists.add_argument("--state", default="open", choices=("open", "closed"))
    lists.add_argument("--mine", action="store_true", help="only those that you own")
    options.add_format(lists)
    close = acts.add_parser("close", help="say that one is done")
    close.add_argument("number", type=int, metavar="NUMBER")
    close.add_argument("--note", required=True, metavar="TEXT", help="what was done")
    options.add_format(close)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    shelf = io.shelf()
    if args.act == "close":
        follow_up = shelf.close_follow_up(args.number, args.note)
        if args.format == "json":
            io.print_json(follow_up)
        else:
            io.print(f"Follow-up {follow_up['id']} is closed: {escape(follow_up['text'])}")
        return FINE
    rows = shelf.follow_ups(args.state, mine=args.mine)
    if args.format == "json":
        io.print_json(rows)
        return FINE
    if not rows:
        io.print("There are none.")
        return FINE
    today = datetime.now(UTC).date().isoformat()
    cells = [
        (
            "*" if row["may_close"] else "",
            str(row["id"]),
            f"{row['server']} {row['version']}".strip(),
            escape(row["text"]) + (f" ({escape(row['closing_note'])})" if row["closing_note"] else ""),
            escape(row["owner"]),
            io.paint.red(f"{row['due']}, overdue")
            if row["closed_at"] is None and row["due"] < today
            else row["due"],
        )
        for row in rows
    ]
    io.print(table(cells, ("", "no.", "of", "what", "owner", "due"), io.paint))
    if any(row["may_close"] for row in rows):
        io.note("* yours to close. next: tallshelf follow-up close NUMBER --note TEXT")
    return FINE
