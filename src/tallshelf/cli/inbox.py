"""``tallshelf inbox``: what waits for you."""

from __future__ import annotations

import argparse
import textwrap
from datetime import UTC, datetime

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import due_text

DESCRIPTION = """\
List what waits for you: to sign, publish, answer, fix, decide or do. What was escalated to you as the lead of a
desk comes first, then what is overdue."""
EXAMPLES = """\
tallshelf inbox
tallshelf inbox --format json"""

_WIDEST = 60
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
}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    rows = io.shelf().inbox()
    if args.format == "json":
        io.print_json({"format": "tallshelf.inbox/1", "inbox": rows})
        return FINE
    if not rows:
        io.print("Nothing waits for you.")
        return FINE
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
    return FINE
