"""Ranking what may fit a question by what speaks for each, and saying how well the best of it fits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tallshelf.service.catalog.search.entries import Asked, Entry
from tallshelf.service.catalog.search.traits import Traits, spoken

Fit = Literal["good", "weak", "none"]

_WEIGHTS = Traits(
    best=1.61,
    share=3.64,
    hinted=3.44,
    agreement=5.88,
    is_tool=1.81,
    length=-0.68,
    lead=2.41,
    named=1.76,
    place=-0.44,
    siblings=2.69,
    server=4.15,
    exact=1.97,
    around=3.00,
)
"""What each trait counts: a multinomial logit, fitted to some five hundred questions over a hundred servers.

Its ridge is the one with which six of seven sets of them put the right item first most often in the seventh.
"""
_GOOD, _WEAK, _LEAST_OF_THINGS = 0.6, 0.38, 0.2
_NEAR_THE_BEST = 0.45
"""How near to the largest share one's own has to be."""


@dataclass(frozen=True)
class Ranked:
    """An entry with its score, and how much of what is asked for it says, from 0 to 1.

    ``share`` is of all words, ``things`` of those that say to what something is to be done; 1 where there are none.
    """

    id: int
    score: float
    share: float
    things: float


def ranked(asked: Sequence[Asked], entries: Sequence[Entry], act: str = "") -> list[Ranked]:
    """Return entries by how well they fit, best first; those that say far less than the best are left out.

    ``entries`` stand in the order of the full-text index; ``act`` is what is wanted done (`act_asked`).
    """
    rankeds = [
        Ranked(one.entry.id, _score(one.traits), one.traits.share, one.things)
        for one in spoken(asked, entries, act)
        if one.traits.share
    ]
    least = max((one.share for one in rankeds), default=0.0) * _NEAR_THE_BEST
    return sorted((one for one in rankeds if one.share >= least), key=lambda one: (-one.score, one.id))


def _score(traits: Traits) -> float:
    return sum(weight * trait for weight, trait in zip(_WEIGHTS, traits, strict=True))


def fit(rankeds: Sequence[Ranked]) -> Fit:
    """Return how well the best of what was found fits."""
    if not rankeds or rankeds[0].share < _WEAK or rankeds[0].things < _LEAST_OF_THINGS:
        return "none"
    return "good" if rankeds[0].share >= _GOOD else "weak"
