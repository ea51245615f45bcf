"""Overlaps, and the rulings that settle them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

OverlapClass = Literal["same-job", "near", "related"]
RulingWord = Literal["distinct", "keep-both", "prefer", "merge", "same-meaning"]


class Side(Struct, frozen=True):
    """One of the two items: where it comes from (a server's slug or a file) and its identity.

    ``basis`` is the digest of what was compared of it; other parts of the item do not move it. ``since`` is the moment,
    in ISO 8601, since which a published release of its server has it so; empty where none has.
    """

    source: str
    item: str
    digest: str
    basis: str
    since: str = ""


class Signal(Struct, frozen=True):
    """How like two items are in one respect, from 0 to 1."""

    name: str
    value: float


class Overlap(Struct, frozen=True):
    """Two items that seem to do the same job.

    ``score`` is between 0 and 1, ``signals`` what it is made of; ``reasons`` and ``differences``
    are sentences a person can check; ``stands_in`` says whether b could take a's place for a's
    callers and receivers, None where that was not asked or could not be told. ``ruled`` is the
    word of the ruling that settles it, if any, and ``preferred`` the one it says is to be used.
    """

    a: Side
    b: Side
    cls: OverlapClass
    score: float
    signals: tuple[Signal, ...]
    reasons: tuple[str, ...]
    differences: tuple[str, ...]
    stands_in: bool | None = None
    ruled: RulingWord | None = None
    preferred: str | None = None

    @property
    def newcomer(self) -> Literal["a", "b"] | None:
        """The side that came later, which is to be ruled on; None for two that one server has had for long.

        What no release has yet is the newcomer; of two published at one moment it is the one whose server comes later
        by name.
        """
        if not self.a.since:
            return "a"
        if not self.b.since:
            return "b"
        if self.a.source == self.b.source:
            return None
        return "a" if (self.a.since, self.a.source) > (self.b.since, self.b.source) else "b"

    @property
    def is_gated(self) -> bool:
        """Whether a release of a's server waits for a ruling on it: a same job, not ruled on, that a brought."""
        return self.cls == "same-job" and not self.ruled and self.newcomer == "a"


class Ruling(Struct, frozen=True):
    """A curator's word on a pair of items; it holds while what was compared of both stays as it was.

    ``same-meaning`` is a word on a silent change instead; its bases are the parts of `Change.basis`.
    """

    bases: frozenset[str]
    word: RulingWord
    reason: str
    preferred: str = ""


def ruling_on(a: Side, b: Side, rulings: Iterable[Ruling]) -> Ruling | None:
    """Return the ruling that holds for a pair, or None."""
    pair = frozenset({a.basis, b.basis})
    return next((ruling for ruling in rulings if ruling.bases == pair), None)
