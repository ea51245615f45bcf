"""Descriptions that were written anew: which say something else, which the same in other words."""

from __future__ import annotations

from pathlib import Path

import pytest

from tallshelf.core.words import text_difference

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
