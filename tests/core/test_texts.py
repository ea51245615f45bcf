"""Descriptions that were written anew: which say something else, which the same in other words."""

from __future__ import annotations

import re
import textwrap
from pathlib import Path

import pytest

from tallshelf.core.words.difference import text_difference

SILENT = {"unit", "limit", "scope", "effect"}
SAME = {"same", "worded"}
TEXTS = Path(__file__).with_name("data") / "texts.md"


def pairs(heading: str) -> list[tuple[str, str]]:
    part = TEXTS.read_text("utf-8").split(f"\n## {heading}\n")[1].split("\n## ")[0]
    return [(old, new) for old, new in (block.split("\n") for block in part.strip().split("\n\n"))]


@pytest.mark.parametrize(("old", "new"), pairs("moved"))
def test_what_says_something_else_is_silent_either_way(old, new):
    assert text_difference(old, new).meaning in SILENT
    assert text_difference(new, old).meaning not in SAME


@pytest.mark.parametrize(("old", "new"), pairs("reworded"))
def test_what_says_the_same_is_the_same_either_way(old, new):
    assert text_difference(old, new).meaning in SAME
    assert text_difference(new, old).meaning in SAME


@pytest.mark.parametrize(("old", "new"), pairs("not silent"))
def test_what_is_not_understood_is_no_silent_change(old, new):
    assert text_difference(old, new).meaning == "other"
    assert text_difference(new, old).meaning not in SILENT


@pytest.mark.parametrize(("old", "new"), [
    ("Enables the sensor.", "The sensor."),
    ("Only admins may approve it.", "Admins must approve it."),
    ("Enables the sensor.", "Disables the sensor."),
    ("Allows users to see it.", "Allows guests to see it."),
    ("Reads the row.", "Reads and writes the row."),
    ("Returns the number of open tickets.", "Returns the open tickets."),
    ("Returns how many rows there are.", "Returns the rows."),
    ("Deletes the file of a record.", "Deletes a record."),
    ("Fails when ready.", "Fails until ready."),
    ("Returns false when there is none.", "Returns nothing when there is none."),
    ("Returns the first match.", "Returns the oldest match."),
])  # fmt: skip
def test_nothing_is_read_away_that_says_something(old, new):
    assert text_difference(old, new).meaning not in SAME
    assert text_difference(new, old).meaning not in SAME


def wrapped(text: str) -> str:
    """The same text, cut into lines of some thirty signs as a source file would have it."""
    return textwrap.fill(text, 30, subsequent_indent="    ", break_long_words=False, break_on_hyphens=False)


@pytest.mark.parametrize("text", sorted({old for old, _ in (*pairs("reworded"), *pairs("moved"))}))
def test_where_a_line_is_wrapped_says_nothing(text):
    if not re.search(
        r"\n *[^a-z\s]", wrapped(text)
    ):  # a line that begins otherwise may be a sentence of its own
        assert text_difference(text, wrapped(text)).meaning in SAME
