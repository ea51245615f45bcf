"""What changed between two texts, word by word, and whether their meaning moved with it."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Literal

from tallshelf.core.words.classes import writes
from tallshelf.core.words.split import content_words, sentence_words, stem
from tallshelf.core.words.units import units_in

Meaning = Literal["same", "worded", "unit", "limit", "scope", "effect", "other"]
"""How far the meaning of a text moved.

``same``: only spelling, case or punctuation; ``worded``: other words for the same; ``unit``: another
unit, currency, time zone, date form or kind of identifier; ``limit``: another number in the same
sentence; ``scope``: what is left out or taken in, or the opposite of what it said; ``effect``: it
newly says that something is changed or sent; ``other``: anything else.
"""

_TYPOGRAPHY = re.compile(r"[\s\"'`’‘“”.,;:!()–—-]+")
_NUMBER = re.compile(r"\d+(?:[.,]\d+)*")
_SHORTEST_CONTEXT = 4

_SCOPE_TEXT = {
    "out": "not no never cannot without except excluding exclude excludes excluded omitted ignores ignored skips",
    "in": "includes including include included also even",
    "only": "only just solely",
}
_SCOPE = {word: name for name, words in _SCOPE_TEXT.items() for word in words.split()}
_OPPOSITES_TEXT = """
newest/oldest latest/earliest recent/old ascending/descending first/last before/after above/below
inclusive/exclusive upper/lower higher/lower minimum/maximum least/most fewer/more start/end
begin/end arrival/departure arriving/departing inbound/outbound incoming/outgoing import/export
increase/decrease open/closed free/occupied active/inactive enabled/disabled public/private
internal/external gross/net true/false past/future north/south east/west left/right always/never
"""
_OPPOSITES = frozenset(frozenset(map(stem, pair.split("/"))) for pair in _OPPOSITES_TEXT.split())
_AROUND_TEXT = "before after when while for without instead if once use call"
_AROUND_EFFECT = frozenset(_AROUND_TEXT.split())
# Words that a sentence may gain or lose without saying anything else.
_FILLER_TEXT = "given specific particular certain current please simply following tool retrieve via such so"
_FILLERS = frozenset(map(stem, _FILLER_TEXT.split()))


@dataclass(frozen=True)
class TextDifference:
    """``removed`` and ``added`` are the words that went and came, in order, gaps written as ``…``.

    ``notice`` is the share of its telling words, from 0 to 1, by which a chooser would notice.
    """

    removed: str
    added: str
    notice: float
    meaning: Meaning


def text_difference(old: str, new: str) -> TextDifference:
    """Compare two texts.

    The word-level difference is the longest matching blocks of Ratcliff and Obershelp, as in
    Python's difflib; the notice is one minus the Jaccard index of the stemmed content words.
    """
    removed, added = _changed_words(old, new)
    before, after = set(content_words(old)), set(content_words(new))
    whole = before | after
    notice = 1 - len(before & after) / len(whole) if whole else 0.0
    return TextDifference(removed, added, round(notice, 2), _meaning(old, new))


def moved_unit(old: str, new: str) -> tuple[str, str] | None:
    """Return the unit that one text names and the other replaces.

    It is another of the same measure, or of any where nothing else in the text changed (litres
    became tonnes).
    """
    removed, added = (words.strip(".,;:()") for words in _changed_words(old, new))
    if all(len(units_in(word)) == 1 and word.isalpha() for word in (removed, added)):
        return removed, added
    before, after = units_in(old), units_in(new)
    names_before, names_after = {unit.name for unit in before}, {unit.name for unit in after}
    for unit in before:
        if unit.name in names_after:
            continue
        for other in after:
            if other.measure == unit.measure and other.name not in names_before:
                return old[unit.start : unit.end], new[other.start : other.end]
    return None


def _meaning(old: str, new: str) -> Meaning:
    if _plain(old) == _plain(new):
        return "same"
    if moved_unit(old, new):
        return "unit"
    if _moved_limit(old, new):
        return "limit"
    if _effects(new) - _effects(old):
        return "effect"
    if _scope(old) != _scope(new) or _turned(old, new):
        return "scope"
    before, after = (Counter(set(content_words(text)) - _FILLERS) for text in (old, new))
    return "worded" if before == after else "other"


def _plain(text: str) -> str:
    return _TYPOGRAPHY.sub(" ", text).strip().lower()


def _moved_limit(old: str, new: str) -> bool:
    """Whether the numbers differ and the words around them do not."""
    if _NUMBER.findall(old) == _NUMBER.findall(new) or not (_NUMBER.search(old) and _NUMBER.search(new)):
        return False
    words = [set(content_words(_NUMBER.sub(" ", text))) for text in (old, new)]
    return len(words[0] | words[1]) < _SHORTEST_CONTEXT or _likeness(*words) >= 0.6


def _scope(text: str) -> Counter[str]:
    return Counter(_SCOPE[word] for word in sentence_words(text) if word in _SCOPE)


def _turned(old: str, new: str) -> bool:
    """Whether a word went and its opposite came."""
    before, after = ({stem(word) for word in sentence_words(text)} for text in (old, new))
    return any(frozenset({went, came}) in _OPPOSITES for went in before - after for came in after - before)


def _effects(text: str) -> frozenset[str]:
    """Return the stems of the verbs in a text that change or send something.

    What is done before or after, as in "use it before booking", is no effect of this one.
    """
    words = sentence_words(text)
    return frozenset(
        stem(word)
        for before, word in itertools.pairwise(("", *words))
        if (writes(word) or writes(stem(word))) and before not in _AROUND_EFFECT
    )


def _likeness(left: set[str], right: set[str]) -> float:
    return len(left & right) / len(left | right) if left | right else 1.0


def _changed_words(old: str, new: str) -> tuple[str, str]:
    before, after = old.split(), new.split()
    removed: list[str] = []
    added: list[str] = []
    for tag, start, end, other_start, other_end in SequenceMatcher(None, before, after, False).get_opcodes():
        if tag != "equal":
            removed.append(" ".join(before[start:end]))
            added.append(" ".join(after[other_start:other_end]))
    return _joined(removed), _joined(added)


def _joined(parts: Iterable[str]) -> str:
    return " … ".join(part for part in parts if part)
