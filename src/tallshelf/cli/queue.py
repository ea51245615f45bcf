"""``tallshelf queue``: the requests that wait."""

from __future__ import annotations

import argparse
from datetime import UTC, datetime
from itertools import islice
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import due_text
from tallshelf.core.reports import escape, table

DESCRIPTION = "List requests, those that wait for you first and the ones due longest ago before others."
EXAMPLES = """\
tallshelf queue
tallshelf queue --state done --format json"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--state",
        default="live",
        choices=("live", "all", "open", "sent-back", "agreed", "done", "declined", "taken-back"),
        help="which ones (live: those not decided yet)",
    )
    parser.add_argument(
        "--limit",
        type=_positive,
        default=200,
        metavar="N",
        help="of those decided, how many, newest first (200)",
    )
    options.add_format(parser)


def _positive(text: str) -> int:
    if not text.isascii() or not text.isdigit() or int(text) < 1:
        raise argparse.ArgumentTypeError(f"{text!r} is no number from 1 on")
    return int(text)


def _waits_for(row: dict[str, Any]) -> str:
    desks = ", ".join(map(escape, row["waits_for"])) or "-"
    return f"{desks}: {escape(row['taken_by'])}" if row["taken_by"] else desks


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    found = shelf.requests("" if args.state == "all" else args.state)
    grows = args.state in ("all", "done", "declined", "taken-back")
    kept = list(islice(found, args.limit if grows else None))
    rows = sorted(kept, key=lambda row: (not row["mine"], row["due_at"] or "~", row["opened_at"]))
    if grows and len(rows) == args.limit:
        io.note(f"the newest {args.limit}; more: --limit")
    if args.format == "json":
        io.print_json({"format": "tallshelf.queue/1", "requests": rows})
        return 0
    if not rows:
        io.print("Nothing waits.")
        return 0
    now = datetime.now(UTC)
    cells = [
        (
            "*" if row["mine"] else "",
            str(row["id"]),
            row["kind"],
            f"{row['server']} {row['version'] or escape(row['item'])}".strip(),
            row["state"],
            _waits_for(row),
            due_text(row["due_at"], now, io.paint),
        )
        for row in rows
    ]
    io.print(table(cells, ("", "no.", "to", "what", "state", "waits for", "due (UTC)"), io.paint))
    if any(row["mine"] for row in rows):
        io.note("* waits for you. next: tallshelf show NUMBER, then tallshelf answer NUMBER --agree")
    return 0
