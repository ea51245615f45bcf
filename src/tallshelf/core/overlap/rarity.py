"""How rare a word is in a catalog, from exact counts that are applied when a question is asked."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Literal

from tallshelf.core.overlap.profile import Profile

Part = Literal["name", "text", "parameters"]
PARTS: tuple[Part, ...] = ("name", "text", "parameters")
_PRIOR = 400
"""How many items every catalog counts as having beside its own, so that a small one weighs words alike."""

_COMMON = 0.2
"""Below this a word counts nothing: of 100,000 items, in one of ten."""


class Rarity:
    """Counts in how many items each word occurs, in names, texts and parameters apart; ``moves`` counts changes."""

    def __init__(self, counted: Iterable[Profile] = ()) -> None:
        self.total = 0
        self.moves = 0
        self._known: dict[Part, dict[str, float]] = {part: {} for part in PARTS}
        self.counts: Mapping[Part, Counter[str]] = {part: Counter() for part in PARTS}
        for profile in counted:
            self.add(profile)

    def add(self, profile: Profile) -> None:
        """Count an item."""
        self.total += 1
        self._move()
        for part in PARTS:
            self.counts[part].update(getattr(profile, part).keys())

    def remove(self, profile: Profile) -> None:
        """Count an item no more."""
        self.total -= 1
        self._move()
        for part in PARTS:
            counts = self.counts[part]
            for word in getattr(profile, part):
                counts[word] -= 1
                if counts[word] <= 0:
                    del counts[word]

    def of(self, part: Part, word: str) -> float:
        """Return how rare a word is, up to 1 (nowhere else); 0 where it is so common that it says nothing."""
        known = self._known[part]
        found = known.get(word)
        if found is None:
            whole = self.total + _PRIOR
            found = math.log(whole / (1 + self.counts[part].get(word, 0))) / math.log(whole)
            found = found if found >= _COMMON else 0.0
            known[word] = found
        return found

    def _move(self) -> None:
        self.moves += 1
        for known in self._known.values():
            known.clear()
