"""Numbers and strings of a branch."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator
from fractions import Fraction

from tallshelf.core.compat._form import Bound, Facets, plain
from tallshelf.core.compat._regular import find_string, matches
from tallshelf.core.compat._sizes import MORE, MOST_CHARACTERS

_MOST_TRIES = 64
_FORMATS = {
    "date-time": "2026-06-01T06:00:00Z",
    "date": "2026-06-01",
    "time": "06:00:00Z",
    "duration": "PT1H",
    "email": "someone@pellam.example",
    "hostname": "host.example",
    "uri": "https://host.example/",
    "uuid": "00000000-0000-4000-8000-000000000000",
}


def number_instances(branch: Facets) -> tuple[Iterator[float], bool]:
    """Return numbers to try for a branch, and whether there are no others."""
    steps = [step for step in branch.multiples if step]
    if not steps:
        return _dense(branch)
    step = _common_multiple(steps)
    if any((step / other).denominator == 1 for other in branch.extra.not_multiples):
        return iter(()), True
    first, last = _ends(branch.low, branch.high, step)
    enough = _MOST_TRIES + len(branch.extra.excluded)
    if first is not None:
        stop = first + enough if last is None else min(last + 1, first + enough)
        counts: Iterable[int] = range(first, stop)
    elif last is not None:
        counts = range(last, last - enough, -1)
    else:
        counts = (1, 0, *range(2, enough))
    tries = (step * count for count in counts)
    return _fitting(branch, tries), first is not None and last is not None and last - first < enough


def _dense(branch: Facets) -> tuple[Iterator[float], bool]:
    """Return tries where there is a number between any two."""
    low, high = branch.low, branch.high
    if low and high and low.value == high.value:
        return _fitting(branch, [low.value]), True
    return _fitting(branch, _spread(branch)), False


def _spread(branch: Facets) -> Iterator[Fraction]:
    low, high = branch.low, branch.high
    start = low.value if low else high.value - 2 if high else Fraction(0)
    width = high.value - start if high else Fraction(2)
    yield Fraction(1)  # reads better than nothing at all, where it fits
    yield start
    yield from (start + Fraction(1, 2), start + Fraction(1, 4))
    yield from (Fraction(math.floor(start) + shift) for shift in range(_MOST_TRIES // 2))
    for power in range(1, 7):
        yield from (start + width * Fraction(count, 2**power) for count in (1, 2**power - 1))
    yield start + width


def _fitting(branch: Facets, tries: Iterable[Fraction]) -> Iterator[float]:
    return (plain(fraction) for fraction in tries if _fits(branch, fraction))


def _fits(branch: Facets, number: Fraction) -> bool:
    low, high = branch.low, branch.high
    if low and (number < low.value or (low.exclusive and number == low.value)):
        return False
    if high and (number > high.value or (high.exclusive and number == high.value)):
        return False
    return not any((number / step).denominator == 1 for step in branch.extra.not_multiples)


def _common_multiple(steps: list[Fraction]) -> Fraction:
    bottom = math.lcm(*(step.denominator for step in steps))
    return Fraction(math.lcm(*(int(step * bottom) for step in steps)), bottom)


def _ends(low: Bound | None, high: Bound | None, step: Fraction) -> tuple[int | None, int | None]:
    """Return the first and the last count of steps inside an interval."""
    first = last = None
    if low:
        first = math.ceil(low.value / step)
        first += int(low.exclusive and first * step == low.value)
    if high:
        last = math.floor(high.value / step)
        last -= int(high.exclusive and last * step == high.value)
    return first, last


def string_instance(branch: Facets) -> str | None:
    """Return a string of a branch, or None where none fits.

    Raises `Unsure` where it was not found out.
    """
    extra = branch.extra
    excluded = frozenset(one for one in extra.excluded if isinstance(one, str))
    words = itertools.chain([_FORMATS.get(branch.format, "text")], ("text2", "other", "0", ""))
    for word in words:
        text = word + "x" * (min(branch.shortest, MOST_CHARACTERS + MORE) - len(word))
        text = text if branch.longest is None else text[: branch.longest]
        if (
            len(text) >= branch.shortest
            and text not in excluded
            and all(matches(pattern, text) for pattern in branch.patterns)
            and not any(matches(not_pattern, text) for not_pattern in extra.not_patterns)
        ):
            return text
    return find_string(branch.patterns, extra.not_patterns, excluded, branch.shortest, branch.longest)
