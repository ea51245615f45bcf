"""Acts on a text that the service keeps in versions: the house style, and the routing rules."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day


def add_reading(acts: Any, what: str, *, also: str = "") -> None:
    """Add ``show`` and ``history`` of a text, called ``what``."""
    show = acts.add_parser("show", help=f"print {what} in force, as TOML")
    show.add_argument("--version", type=int, metavar="NUMBER", help=f"another version{also}")
    options.add_format(show)
    options.add_format(acts.add_parser("history", help="list every version, and the proposed ones"))


def add_changing(acts: Any, what: str, *, first: str = "") -> None:
    """Add ``apply`` and ``answer`` of a text, called ``what``; ``first`` says what goes before."""
    apply = acts.add_parser("apply", help=f"{first}put a version in force, or propose it")
    apply.add_argument("file", metavar="FILE", help=f"{what}, as TOML")
    apply.add_argument("--note", required=True, metavar="TEXT", help="what is changed, and why")
    apply.add_argument(
        "--seen", type=int, metavar="NUMBER", help="refuse when another version is in force than this"
    )
    options.add_format(apply)
    answer = acts.add_parser("answer", help="agree to a proposed version, or decline it")
    answer.add_argument("version", type=int)
    answer.add_argument("answer", choices=("agree", "decline"))
    answer.add_argument("--note", default="", metavar="TEXT", help="why; needed to decline")
    options.add_format(answer)


def show(document: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    """Print the text of a version."""
    if args.format == "json":
        io.print_json(document)
    else:
        io.print(document["text"].rstrip("\n"))
        io.note(f"version {document['version']}, {document['state']}")
    return FINE


def history(rows: Sequence[dict[str, Any]], command: str, args: argparse.Namespace, io: IO) -> int:
    """Print every version, newest first, and how to answer one that waits."""
    from tallshelf.core.reports import escape, table

    if args.format == "json":
        io.print_json(rows)
        return FINE
    if not rows:
        io.print("What ships with the service; none of the house's own was applied yet.")
        return FINE
    cells = [
        (
            str(row["version"]),
            row["state"],
            day(row["at"]),
            escape(row["by"]),
            escape(row["agreed_by"] or "-"),
            escape(row["note"]),
        )
        for row in rows
    ]
    io.print(table(cells, ("no.", "state", "at", "by", "agreed by", "note"), io.paint))
    if any(row["may_answer"] for row in rows):
        io.note(
            f"next: tallshelf {command} show --version NUMBER, then tallshelf {command} answer NUMBER agree"
        )
    return FINE


def told(document: dict[str, Any], command: str, what: str, args: argparse.Namespace, io: IO) -> int:
    """Print what became of a version that was applied or answered."""
    if args.format == "json":
        io.print_json(document)
        return FINE
    io.print(f"Version {document['version']} of the {what} is {document['state']}.")
    if document["state"] == "proposed":
        io.note(f"next: a second curator runs tallshelf {command} answer {document['version']} agree")
    return FINE
