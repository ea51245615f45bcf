"""``tallshelf inbox``: what waits for you."""

from __future__ import annotations

import argparse
import itertools
import textwrap
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import due_text

DESCRIPTION = """\
List what waits for you: to sign, publish, answer, fix, decide or do. What was escalated to you as the lead of a
desk comes first, then what is overdue. After it, what you were told and have not read: what became of your
servers and requests, and what hits your kits."""
EXAMPLES = """\
tallshelf inbox
tallshelf inbox --read
tallshelf inbox --format json"""

_WIDEST = 60
_MOST_TOLD = 30
_WORDS = {
    "risen": "sign, escalated",
    "sign": "sign",
    "publish": "publish",
    "sent-back": "fix and resubmit",
    "question": "answer",
    "follow-up": "do",
    "waiver": "decide",
    "style": "approve",
    "routing": "approve",
    "ruling": "approve",
    "known": "approve",
    "suspended": "look",
    "kit": "approve",
}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--read", action="store_true", help="note that you have read what you are told here")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import wrap

    shelf = io.shelf()
    rows, told = shelf.inbox(), list(itertools.islice(shelf.notices(unread=True), _MOST_TOLD))
    if args.read and told:
        shelf.read_notices(told[0]["entry"])
    if args.format == "json":
        io.print_json({"format": "tallshelf.inbox/1", "inbox": rows, "told": told})
        return FINE
    if rows:
        _waits(rows, io)
    else:
        io.print("Nothing waits for you.")
    if told:
        io.print("\n" + io.paint.bold("You were told"))
        for notice in told:
            io.print(wrap(f"{notice['at'][:10]}  {notice['words']}; {notice['because']}", "      ", "  "))
        if not args.read:
            io.note("next: tallshelf inbox --read")
    return FINE


def _waits(rows: Sequence[Mapping[str, Any]], io: IO) -> None:
    from tallshelf.core.reports import escape, table

    now = datetime.now(UTC)
    cells = [
        (
            _WORDS[row["kind"]],
            escape(textwrap.shorten(row["words"], _WIDEST, placeholder="…")),
            due_text(row["due_at"], now, io.paint),
        )
        for row in rows
    ]
    io.print(table(cells, ("to", "what", "due (UTC)"), io.paint))
