"""``tallshelf style``: the service's house style: show it, preview a change, apply it, answer a proposal."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options, versions
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

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
    versions.add_reading(acts, "the style", also="; 0 is the default style")
    preview = acts.add_parser("preview", help="say what a style would do to every current release")
    preview.add_argument("file", metavar="FILE", help="the style, as TOML")
    options.add_format(preview)
    versions.add_changing(acts, "the style", first="preview it, then ")


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "show":
        return versions.show(shelf.style(args.version), args, io)
    if args.act == "history":
        return versions.history(shelf.styles(), "style", args, io)
    if args.act == "answer":
        style = shelf.answer_style(args.version, args.answer, args.note)
        return versions.told(style, "style", "house style", args, io)
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
    style = shelf.apply_style(text, args.note, seen=args.seen)
    return versions.told(style, "style", "house style", args, io)


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
