"""Overlaps, and the rulings that settle them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

OverlapClass = Literal["same-job", "near", "related"]


@dataclass(frozen=True)
class Side:
    """One of the two items: where it comes from (a server's slug or a file) and its identity."""

    source: str
    item: str
    digest: str


@dataclass(frozen=True)
class Overlap:
    """Two items that seem to do the same job.

    ``score`` is between 0 and 1; ``reasons`` and ``differences`` are sentences a person can
    check; ``stands_in`` says whether b could take a's place for a's callers and receivers,
    None where that was not asked.
    """

    a: Side
    b: Side
    cls: OverlapClass
    score: float
    reasons: tuple[str, ...]
    differences: tuple[str, ...]
    stands_in: bool | None = None
    ruled: bool = False


@dataclass(frozen=True)
class Ruling:
    """A curator's word on a pair of items; it holds while both stay as they were."""

    digests: frozenset[str]
    word: str
    reason: str


def is_ruled(a: Side, b: Side, rulings: tuple[Ruling, ...]) -> bool:
    """Whether a ruling holds for a pair."""
    pair = frozenset({a.digest, b.digest})
    return any(ruling.digests == pair for ruling in rulings)
