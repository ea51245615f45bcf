"""Cutting a text into sentences, none of them long, so that what is looked for in each takes bounded time."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.words.pattern import Pattern

_END = Pattern(r"(?<=[.!?])[\"'”)]?\s+(?=\S)|(?<=[。！？])|\n(?![ \t]*[a-z])|(?<=[:;])\s*\n|\n\s*\n|;\s")
"""A line that begins in small letters goes on with a sentence: texts from source files are wrapped."""
LONGEST, _OVERLAP = 600, 150
"""Characters of a sentence, and of what two pieces of a longer one share: what is looked for is shorter than that."""


def sentences(text: str) -> Iterator[tuple[str, int]]:
    """Yield the sentences of a text, on a line each, and where they start; long ones in pieces that overlap."""
    at = 0
    for match in _END.finditer(text):
        yield from _pieces(text, at, match.start())
        at = match.end()
    yield from _pieces(text, at, len(text))


def _pieces(text: str, start: int, end: int) -> Iterator[tuple[str, int]]:
    while end - start > LONGEST:
        yield text[start : start + LONGEST].replace("\n", " "), start
        start += LONGEST - _OVERLAP
    if end > start:
        yield text[start:end].replace("\n", " "), start
