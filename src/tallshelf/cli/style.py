"""``tallshelf style``: the service's house style: show it, preview a change, apply it, answer a proposal."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day

if TYPE_CHECKING:
    from tallshelf.client import Shelf

DESCRIPTION = """\
Show the service's house style, see what another would do to the whole catalog, and apply it. One that
loosens is proposed, and is in force when a second curator agrees."""
EXAMPLES = """\
tallshelf style show > house.toml
tallshelf style preview house.toml
tallshelf style apply house.toml --note 'Long texts cost every caller.'
tallshelf style history
tallshelf style answer 4 agree"""

_BAR = 30


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    show = acts.add_parser("show", help="print the style in force, as TOML")
    show.add_argument("--version", type=int, metavar="NUMBER", help="another version; 0 is the default style")
    options.add_format(show)
    options.add_format(acts.add_parser("history", help="list every version, and the proposed ones"))
    preview = acts.add_parser("preview", help="say what a style would do to every current release")
    preview.add_argument("file", metavar="FILE", help="the style, as TOML")
    options.add_format(preview)
    apply = acts.add_parser("apply", help="preview a style, then put it in force or propose it")
    apply.add_argument("file", metavar="FILE", help="the style, as TOML")
    apply.add_argument("--note", required=True, metavar="TEXT", help="what is changed, and why")
    apply.add_argument(
        "--seen", type=int, metavar="NUMBER", help="refuse when another version is in force than this"
    )
    options.add_format(apply)
    answer = acts.add_parser("answer", help="agree to a proposed style, or decline it")
    answer.add_argument("version", type=int)
    answer.add_argument("answer", choices=("agree", "decline"))
    answer.add_argument("--note", default="", metavar="TEXT")
    options.add_format(answer)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "show":
        return _show(args, shelf, io)
    if args.act == "history":
        return _history(args, shelf, io)
    if args.act == "answer":
        return _told(shelf.answer_style(args.version, args.answer, args.note), args, io)
    text = options.text_of(args.file, io)
    effect = _effect(shelf, text, io)
    if args.act == "preview":
        _print_effect(effect, args, io)
        io.note(
            "next: tallshelf style apply, which proposes it"
            if effect["loosened"]
            else "next: tallshelf style apply"
        )
        return FINE
    if args.format == "text":
        _print_effect(effect, args, io)
        io.print()
    return _told(shelf.apply_style(text, args.note, seen=args.seen), args, io)


def _show(args: argparse.Namespace, shelf: Shelf, io: IO) -> int:
    found = shelf.style(args.version)
    if args.format == "json":
        io.print_json(found)
    else:
        io.print(found["text"].rstrip("\n"))
        io.note(f"version {found['version']}, {found['state']}")
    return FINE


def _history(args: argparse.Namespace, shelf: Shelf, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    rows = shelf.styles()
    if args.format == "json":
        io.print_json(rows)
    elif not rows:
        io.print("The default style; none of the house's own was applied yet.")
    else:
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
            io.note("next: tallshelf style show --version NUMBER, then tallshelf style answer NUMBER agree")
    return FINE


def _effect(shelf: Shelf, text: str, io: IO) -> dict[str, Any]:
    """Ask for the effect, with a bar that grows on a terminal."""
    shown = io.err.isatty()
    found: dict[str, Any] = {}
    for found in shelf.preview_style(text):
        if shown and "of" in found:
            filled = _BAR * found["done"] // found["of"]
            io.err.write(
                f"\r[{'=' * filled}{' ' * (_BAR - filled)}] {found['done']} of {found['of']} servers"
            )
            io.err.flush()
    if shown:
        io.err.write("\r\x1b[2K")
    return found


def _print_effect(effect: dict[str, Any], args: argparse.Namespace, io: IO) -> None:
    from tallshelf.core.reports import table, wrap

    if args.format == "json":
        io.print_json(effect)
        return
    moved = [row for row in effect["rules"] if row["before"] != row["after"]]
    same = len(effect["rules"]) - len(moved)
    if moved:
        cells = [(row["rule"], _levels(row["before"]), "->", _levels(row["after"])) for row in moved]
        io.print(table(cells, ("rule", "now", "", "with this style"), io.paint))
    io.print(f"{same} more rules find what they find now." if moved else "No finding would change.")
    for row in effect["newly_failing"]:
        io.print(io.paint.red(f"{row['server']} would newly fail: {', '.join(row['rules'])}"))
    if effect["no_longer_failing"]:
        io.print(wrap(f"would fail no more: {', '.join(effect['no_longer_failing'])}"))
    if effect["loosened"]:
        io.print("It loosens, and so takes a second curator:")
        for words in effect["loosened"]:
            io.print(wrap(words, "    ", "  - "))


def _levels(counts: dict[str, int]) -> str:
    return (
        ", ".join(f"{number} {level}{'' if number == 1 else 's'}" for level, number in counts.items())
        or "none"
    )


def _told(found: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    if args.format == "json":
        io.print_json(found)
        return FINE
    io.print(f"Version {found['version']} of the house style is {found['state']}.")
    if found["state"] == "proposed":
        io.note(f"next: a second curator runs tallshelf style answer {found['version']} agree")
    return FINE
