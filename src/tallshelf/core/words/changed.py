"""Which words went and came between two texts, and which units among them."""

from __future__ import annotations

import re
from collections.abc import Iterable
from difflib import SequenceMatcher

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.units import units_in

MOST_WORDS = 600
"""Words of a text that are compared one by one."""
_MEASURED_IN = Pattern(r"(?:\b(?:in(?: (?:whole|full|decimal))?|as|is|are)|[(,:;])\s*$", re.IGNORECASE)
"""What stands before a unit that something is given in: opening hours are none."""


def changed_words(old: str, new: str) -> tuple[str, str]:
    """Return the words that went and those that came, in order, gaps written as ``…``.

    They are the longest matching blocks of Ratcliff and Obershelp, as in Python's difflib. Of texts of more than some
    hundred words what stands between their common beginning and end is compared; where that is as long, it is told as
    a whole.
    """
    before, after = old.split(), new.split()
    if max(len(before), len(after)) > MOST_WORDS:
        before, after = _between(before, after)
    if max(len(before), len(after)) > MOST_WORDS:
        return " ".join(before), " ".join(after)
    removed: list[str] = []
    added: list[str] = []
    for tag, start, end, other_start, other_end in SequenceMatcher(None, before, after, False).get_opcodes():
        if tag != "equal":
            removed.append(" ".join(before[start:end]))
            added.append(" ".join(after[other_start:other_end]))
    return _joined(removed), _joined(added)


def _between(old: list[str], new: list[str]) -> tuple[list[str], list[str]]:
    """Return what stands between the common beginning and the common end of two lists of words."""
    shortest = min(len(old), len(new))
    start = next((at for at in range(shortest) if old[at] != new[at]), shortest)
    left = shortest - start
    end = next((at for at in range(left) if old[-1 - at] != new[-1 - at]), left)
    return old[start : len(old) - end], new[start : len(new) - end]


def _joined(parts: Iterable[str]) -> str:
    return " … ".join(part for part in parts if part)


def moved_unit(old: str, new: str) -> tuple[str, str] | None:
    """Return the unit that one text names and the other replaces.

    It is another of the same measure, or of any where nothing else in the text changed (litres
    became tonnes).
    """
    removed, added = (words.strip(".,;:()") for words in changed_words(old, new))
    if all(len(units_in(word)) == 1 and word.isalpha() for word in (removed, added)):
        if units_in(removed)[0].name == units_in(added)[0].name:
            return None
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


def lost_unit(old: str, new: str) -> str | None:
    """Return the unit in which one text says that something is, where the other names none of its measure."""
    measures = {unit.measure for unit in units_in(new)}
    gone = (unit for unit in units_in(old) if unit.measure not in measures)
    measuring = (unit for unit in gone if _MEASURED_IN.search(old, 0, unit.start))
    return next((old[unit.start : unit.end] for unit in measuring), None)
