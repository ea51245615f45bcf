"""Whether a text breaks off in the middle of saying something."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

# A text that ends with one of these was about to go on; in a longer text also with the loose ones, which
# can end a few words, as in "what it is for".
_OPEN_WORDS = word_set("and or the a an including because although but your their its than")
_LOOSE_WORDS = word_set("of to with for by in from that which is are on at when if")
_OPEN_SIGNS = frozenset(",;:([–-")
_LOOSE, _LABEL = 60, 24
"""Characters of a text that no loose word may end, and of one that is more than a label."""
_DOTS = Pattern(r"[^\s,.…/]\s?(?:\.\.\.|…)\s*$")
_ROUND_LENGTHS = frozenset({128, 200, 250, 255, 256, 300, 400, 500, 512, 1000, 1023, 1024, 2000, 2048, 4096})
_LEFT_BEHIND = Pattern(
    r"\b(?:to|which|that|who|whom|what|you|it) (?:\w+ ){1,4}(?:for|from|to|in|on|at|by|with|of)$",
    re.IGNORECASE,
)
_COPULAS = word_set("is are was were has have")
_MAY_STAND_ALONE = word_set(
    "where when it that this they there what who as so how he she we you one these those which"
)


def breaks_off(text: str, words: Sequence[str], *, names_a_thing: bool) -> bool:
    """Whether a text, split into words, ends in the middle.

    Where it ``names_a_thing``, what a clause is about may stand before it: "the berth to look up tides for".
    """
    whole = text[-1] in ".!?)\"'`”’]}>*"
    return (
        _opens(text, words, names_a_thing=names_a_thing)
        or _leaves_open(text)
        or (len(text) in _ROUND_LENGTHS and not whole)
    )


def _leaves_open(text: str) -> bool:
    """Whether the last sentence opens a bracket and does not close it."""
    opened = text.rfind("(")
    return text.count("(") > text.count(")") and not re.search(r"[.!?]\s", text[opened:])


def _opens(text: str, words: Sequence[str], *, names_a_thing: bool) -> bool:
    if text[-1] in _OPEN_SIGNS:
        return True
    if text[-1] in ".…":
        return _DOTS.search(text, max(0, len(text) - 8)) is not None or text.endswith("e.g.")
    last = words[-1] if words and text[-1].isalpha() else ""
    left_behind = names_a_thing and last in _LOOSE_WORDS and _LEFT_BEHIND.search(text)
    return (
        last in _OPEN_WORDS
        or (last in _LOOSE_WORDS and len(text) > _LOOSE and not left_behind)
        or (last == "as" and text.endswith("such as"))
        or (last in _COPULAS and len(text) > _LABEL and _MAY_STAND_ALONE.isdisjoint(words[-6:-1]))
    )
