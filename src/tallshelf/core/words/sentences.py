"""Cutting a text into sentences, none of them long, so that what is looked for in each takes bounded time."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.words.pattern import Pattern

_STOP = r"(?<=[.!?])[\"'”)]?\s+(?=\S)|(?<=[。！？])|;\s"
_END = Pattern(rf"{_STOP}|\n(?![ \t]*[a-z])|(?<=[:;])\s*\n|\n\s*\n")
"""A line that begins in small letters goes on with a sentence: texts from source files are wrapped."""
_LINE_END = Pattern(rf"{_STOP}|\n+")
_WRAPPED = Pattern(r"[^.!?:;\s]\s*\n[ \t]*[a-z]")
LONGEST, _OVERLAP = 600, 150
"""Characters of a sentence, and of what two pieces of a longer one share: what is looked for is shorter than that."""


def is_wrapped(text: str) -> bool:
    """Whether a text has a line that goes on with the sentence before."""
    return "\n" in text and _WRAPPED.search(text) is not None


def sentences(text: str, *, by_lines: bool = False) -> Iterator[tuple[str, int]]:
    """Yield the sentences of a text, on a line each, and where they start; long ones in pieces that overlap.

    ``by_lines`` takes no line for the rest of a sentence.
    """
    at = 0
    for match in (_LINE_END if by_lines else _END).finditer(text):
        yield from _pieces(text, at, match.start())
        at = match.end()
    yield from _pieces(text, at, len(text))


def _pieces(text: str, start: int, end: int) -> Iterator[tuple[str, int]]:
    while end - start > LONGEST:
        yield text[start : start + LONGEST].replace("\n", " "), start
        start += LONGEST - _OVERLAP
    if end > start:
        yield text[start:end].replace("\n", " "), start
