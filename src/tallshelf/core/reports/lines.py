"""What all reports for people share: escaping, tables, wrapping, colours."""

from __future__ import annotations

import re
import textwrap
import unicodedata
from collections.abc import Callable, Iterable, Sequence
from itertools import groupby
from typing import Any

from tallshelf.core.reports.paint import PLAIN, Paint

WIDTH = 100
_VISIBLE = frozenset([*map(chr, range(0x20, 0x7F)), *"“”‘’–—…°·×→≤≥"])
"""What nobody hides anything with: printable ASCII, and the signs of our own sentences."""
_TOKEN = re.compile(
    r"\b(tls_|gh[pousr]_|github_pat_|glpat-|xox[abprs]-|[sr]k_(?:live|test)_|AKIA|AIza)[A-Za-z0-9_-]{12,}"
)


def escape(text: str) -> str:
    """Show hidden characters as visible escapes, line breaks as spaces, and of what is surely a token its kind.

    A snapshot's JSON keeps it, since its digest covers it; what people read and paste does not.
    """
    text = _TOKEN.sub(lambda match: f"{match.group(1)}…", text)
    if _VISIBLE.issuperset(text):
        return text
    from tallshelf.core.words.hidden import hidden_spots  # most texts need no more than the line above

    hidden = set(hidden_spots(text))
    return "".join(_shown(one, at in hidden) for at, one in enumerate(text))


def _shown(one: str, hidden: bool) -> str:
    if one in "\n\r\t":
        return " "
    if hidden or unicodedata.category(one) in ("Cs", "Zl", "Zp"):
        return f"\\u{{{ord(one):04x}}}"
    return one


def table(rows: Iterable[Sequence[str]], head: Sequence[str] = (), paint: Paint = PLAIN) -> str:
    """Align rows of already escaped cells in columns; the last column is left as long as it is."""
    body = [list(row) for row in rows]
    everything = [list(head), *body] if head else body
    widths = (
        [max(len(row[at]) for row in everything) for at in range(len(everything[0]))] if everything else []
    )
    lines = []
    for number, row in enumerate(everything):
        cells = [cell.ljust(width) for cell, width in zip(row[:-1], widths, strict=False)] + row[-1:]
        line = "  ".join(cells).rstrip()
        lines.append(paint.dim(line) if head and number == 0 else line)
    return "\n".join(lines)


def wrap(text: str, indent: str = "", first: str | None = None) -> str:
    """Wrap escaped text to the width."""
    return textwrap.fill(
        escape(text),
        WIDTH,
        initial_indent=indent if first is None else first,
        subsequent_indent=indent,
        break_on_hyphens=False,
    )


def by_item(things: Sequence[Any], item: Callable[[Any], str]) -> list[tuple[str, list[Any]]]:
    """Group things by item, items in the order of their first and so worst thing."""
    order = {name: number for number, name in reversed(list(enumerate(map(item, things))))}
    return [
        (name, list(group))
        for name, group in groupby(sorted(things, key=lambda thing: order[item(thing)]), key=item)
    ]


def colour_of(word: str, paint: Paint) -> Callable[[str], str]:
    """Return the colour of an impact or a level."""
    colours = {
        "breaking": paint.red,
        "error": paint.red,
        "caution": paint.amber,
        "warning": paint.amber,
        "compatible": paint.green,
    }
    return colours.get(word, paint.blue)


def clip(text: str, most: int) -> str:
    """Cut a text that is too long, visibly."""
    return text if len(text) <= most else text[: most - 1] + "…"


def count(number: int, what: str) -> str:
    """Write a number and a noun: ``1 item``, ``2 items``."""
    return f"{number:,} {what}{'' if number == 1 else 's'}"
