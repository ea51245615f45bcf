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


class Rarity:
    """Counts in how many items each word occurs, in names, texts and parameters apart; ``moves`` counts changes."""

    def __init__(self, counted: Iterable[Profile] = ()) -> None:
        self.total = 0
        self.moves = 0
        self.counts: Mapping[Part, Counter[str]] = {part: Counter() for part in PARTS}
        for one in counted:
            self.add(one)

    def add(self, one: Profile) -> None:
        """Count an item."""
        self.total += 1
        self.moves += 1
        for part in PARTS:
            self.counts[part].update(getattr(one, part).keys())

    def remove(self, one: Profile) -> None:
        """Count an item no more."""
        self.total -= 1
        self.moves += 1
        for part in PARTS:
            counts = self.counts[part]
            for word in getattr(one, part):
                counts[word] -= 1
                if counts[word] <= 0:
                    del counts[word]

    def of(self, part: Part, word: str) -> float:
        """Return how rare a word is, from near 0 (everywhere) to 1 (nowhere else)."""
        whole = self.total + _PRIOR
        return math.log(whole / (1 + self.counts[part].get(word, 0))) / math.log(whole)


EVERYTHING_RARE = Rarity()
"""For comparing without a catalog: every word weighs the same."""
