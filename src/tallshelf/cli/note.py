"""``tallshelf note``: what users say of a release, and the owners' answers."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import Reference, parse_reference

DESCRIPTION = """\
Leave a short note on a release that you use: what it works for, what to know. Its owners are told, and may
answer. Notes on current releases are shown where they are found."""
EXAMPLES = """\
tallshelf note leave tide-tables 'Works for the inner harbour; slow before six.'
tallshelf note list tide-tables
tallshelf note answer 3 'It warms up at six; 1.2.0 will not.'
tallshelf note remove 3"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    leave = acts.add_parser("leave", help="leave a note on a release (the current one)")
    leave.add_argument("reference", metavar="SERVER[@VERSION]")
    leave.add_argument("text", metavar="TEXT")
    options.add_format(leave)
    shown = acts.add_parser("list", help="list the notes on a release (the current one)")
    shown.add_argument("reference", metavar="SERVER[@VERSION]")
    options.add_format(shown)
    answer = acts.add_parser("answer", help="answer a note on a release of your team")
    answer.add_argument("number", type=int, metavar="NOTE")
    answer.add_argument("text", metavar="TEXT")
    options.add_format(answer)
    remove = acts.add_parser("remove", help="remove a note of yours")
    remove.add_argument("number", type=int, metavar="NOTE")
    options.add_format(remove)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "remove":
        shelf.remove_note(args.number)
        _say(args, io, {"number": args.number}, [f"Note {args.number} was removed."])
        return FINE
    if args.act == "answer":
        note = shelf.answer_note(args.number, args.text)
        _say(args, io, note, _lines(note))
        return FINE
    place = _release(args.reference)
    version = place.version or "current"
    notes = (
        shelf.leave_note(place.server, args.text, version)
        if args.act == "leave"
        else shelf.user_notes(place.server, version)
    )
    lines = [line for user_note in notes.results for line in _lines(user_note)]
    _say(args, io, notes, lines or ["Nobody left a note on it."])
    return FINE


def _release(text: str) -> Reference:
    place = parse_reference(text)
    if place.file or place.item:
        raise BadArgument("a note is on a release", remedy=f"Such as {place.server or 'tide-tables'}@1.0.0.")
    return place


def _say(args: argparse.Namespace, io: IO, value: Any, lines: list[str]) -> None:
    if args.format == "json":
        io.print_json(value)
    else:
        io.print("\n".join(lines))


def _lines(one: Any) -> list[str]:
    from tallshelf.core.reports import escape, wrap

    lines = [
        wrap(f"{one['number']}. {escape(one['by'])}, {day(one['at'])[:10]}: {escape(one['text'])}", "   ", "")
    ]
    if one["answer"]:
        lines.append(
            wrap(f"{escape(one['answered_by'] or '')} answers: {escape(one['answer'])}", "      ", "   ")
        )
    return lines
