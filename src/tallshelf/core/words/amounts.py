"""Amounts as people write them: "half an hour", "two and a half metres", "a dozen", "25"."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.units import KnownUnit, known_unit

_UP_TO_TWENTY = """
zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen
eighteen nineteen twenty
"""
NUMBERS = {word: float(at) for at, word in enumerate(_UP_TO_TWENTY.split())}
NUMBERS |= {"thirty": 30.0, "forty": 40.0, "fifty": 50.0, "sixty": 60.0, "hundred": 100.0, "thousand": 1000.0}
FRACTIONS = {"half": 0.5, "third": 1 / 3, "quarter": 0.25, "tenth": 0.1}
_ALSO = {**NUMBERS, "dozen": 12.0, "score": 20.0, "once": 1.0, "twice": 2.0}
"""Numbers in words, and those that are other words as well where no amount is looked for."""
_SPOKEN = Pattern(r"-?\d+(?:\.\d+)?|[a-zA-Zµ°%²³]+")


class Amount(Struct, frozen=True):
    """A number, and the unit that stands behind it, if any."""

    value: float
    unit: KnownUnit | None

    def in_unit(self, unit: KnownUnit) -> float | None:
        """Return the number in another unit of the same measure; None where there is no way."""
        if self.unit is None or self.unit.measure != unit.measure or not self.unit.factor or not unit.factor:
            return None
        return self.value * self.unit.factor / unit.factor


def amounts(text: str) -> list[Amount]:
    """Return the amounts of a short text, in order."""
    words = _SPOKEN.findall(text)
    found: list[Amount] = []
    at = 0
    while at < len(words):
        value, behind = _number(words, at)
        if value is None:
            at += 1
            continue
        unit = known_unit(words[behind]) if behind < len(words) else None
        found.append(Amount(value, unit))
        at = behind
    return found


def _number(words: Sequence[str], at: int) -> tuple[float | None, int]:
    """Return the number that begins at a word, and the place of the first word behind it."""
    lower = [word.lower() for word in words[at : at + 5]]
    if lower[0] in ("a", "an", "one"):
        if lower[1:2] and lower[1] in FRACTIONS:
            return FRACTIONS[lower[1]], _behind(lower, 2) + at
        if lower[1:2] and lower[1] in ("dozen", "score", "hundred", "thousand"):
            return _ALSO[lower[1]], at + 2
        if lower[0] != "one" and (len(lower) < 2 or known_unit(words[at + 1]) is None):
            return None, at
    if lower[0] in ("a", "an"):
        return 1.0, at + 1
    if lower[0] in FRACTIONS:
        return FRACTIONS[lower[0]], _behind(lower, 1) + at
    if lower[0] in _ALSO:
        value = _ALSO[lower[0]]
        if lower[1:4] == ["and", "a", "half"]:
            return value + 0.5, at + 4
        if lower[1:2] in (["hundred"], ["thousand"], ["dozen"]):
            return value * _ALSO[lower[1]], at + 2
        return value, at + 1
    if lower[0][0].isdecimal() or lower[0][0] == "-":
        return float(lower[0]), at + 1
    return None, at


def _behind(lower: Sequence[str], at: int) -> int:
    """Return the place behind the small words of "half an hour" and "a quarter of an hour"."""
    while at < len(lower) and lower[at] in ("of", "a", "an", "the"):
        at += 1
    return at
