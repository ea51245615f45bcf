"""Where candidates come from: the items that share a rare word with the one in question."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

from tallshelf.core.snapshot import Item, digest
from tallshelf.core.words import content_words, split_identifier, stem


@dataclass(frozen=True)
class CatalogItem:
    """One item of the catalog: which server offers it, and the item itself."""

    source: str
    item: Item


class OverlapIndex(Protocol):
    """Answers which items are worth scoring, and how common a word is."""

    version: str

    def candidates(self, item: Item, source: str) -> Iterable[CatalogItem]:
        """Return the items of the same kind that share words with an item, other than itself."""

    def rarity(self, word: str) -> float:
        """Return how rare a word is, from 0 (in every item) to 1 (in one item at most)."""


def words_of(item: Item) -> frozenset[str]:
    """Return the stemmed words of an item's name and description."""
    name = (stem(word) for word in split_identifier(item.name))
    return frozenset(name) | frozenset(content_words(item.description))


class MemoryIndex:
    """An index over items held in memory."""

    def __init__(self, items: Iterable[CatalogItem]) -> None:
        self.items = tuple(items)
        self._by_word: dict[tuple[str, str], list[int]] = defaultdict(list)
        for number, one in enumerate(self.items):
            for word in words_of(one.item):
                self._by_word[one.item.kind, word].append(number)
        self._counts = {word: len(numbers) for (_, word), numbers in self._by_word.items()}
        self.version = digest(sorted([one.source, one.item.digest] for one in self.items))

    def candidates(self, item: Item, source: str) -> Iterable[CatalogItem]:
        """Return the items that share at least two words, or one rare word, with an item."""
        shared: dict[int, float] = defaultdict(float)
        for word in words_of(item):
            for number in self._by_word.get((item.kind, word), ()):
                shared[number] += self.rarity(word)
        numbers = sorted(number for number, weight in shared.items() if weight >= 0.3)
        return [
            self.items[number]
            for number in numbers
            if self.items[number].source != source or self.items[number].item.identity != item.identity
        ]

    def rarity(self, word: str) -> float:
        total = len(self.items)
        return 1.0 - (self._counts.get(word, 0) - 1) / total if total > 1 else 1.0
