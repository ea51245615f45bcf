"""Where candidates come from: the items that could reach a score, strongest first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Protocol

from msgspec import Struct

from tallshelf.core.overlap.profile import Profile, profiles
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.score import LEAST, lengths_of, likeness, most_of, raw, weighed
from tallshelf.core.snapshot import Item, digest
from tallshelf.core.words.terms import NO_TERMS, HouseTerms


class Entry(Struct, frozen=True, eq=False):
    """One item as an index holds it: where it is from, its digest, its profile, its item on demand, and since when."""

    source: str
    identity: str
    digest: str
    profile: Profile
    item: Callable[[], Item]
    since: str = ""


class Candidate(Struct, frozen=True, eq=False):
    """An entry, how like each part of it is, and the weighted mean of those: no score is higher."""

    entry: Entry
    likeness: Mapping[Part, float]
    most: float


class OverlapIndex(Protocol):
    """Answers which items are worth scoring, and how rare a word is. ``version`` names what it holds."""

    @property
    def version(self) -> str: ...
    @property
    def rarity(self) -> Rarity: ...
    def candidates(self, asked: Sequence[Profile], kind: str) -> Sequence[Iterable[Candidate]]:
        """Return, for each profile, the entries of a kind whose score may reach `LEAST`, strongest first."""


def entries_of(
    source: str,
    items: Sequence[Item],
    server_name: str = "",
    since: Mapping[str, str] | None = None,
    terms: HouseTerms = NO_TERMS,
) -> list[Entry]:
    """Return the entries of one server's items, read by the terms of a house.

    ``since`` holds by basis since when a published release has it.
    """
    known = since or {}
    return [
        Entry(source, item.identity, item.digest, profile, _held(item), known.get(profile.basis, ""))
        for item, profile in zip(items, profiles(items, server_name, terms), strict=True)
    ]


def _held(item: Item) -> Callable[[], Item]:
    return lambda: item


class MemoryIndex:
    """An inverted index in memory, in pure Python: each word leads to the entries that have it."""

    def __init__(self, entries: Iterable[Entry] = (), rarity: Rarity | None = None) -> None:
        """``rarity`` is given where someone else counts, of whose entries these are some."""
        self.rarity = rarity or Rarity()
        self._counts = rarity is None
        self.entries: dict[int, Entry] = {}
        self._postings: dict[tuple[str, Part, str], dict[int, float]] = defaultdict(dict)
        self._next = 0
        self._lengths: dict[int, tuple[float, ...]] = {}
        self._measured_at = -1
        self.add_all(entries)

    @property
    def version(self) -> str:
        """The digest of what it holds."""
        return digest(sorted([entry.source, entry.digest] for entry in self.entries.values()))

    def add(self, entry: Entry) -> None:
        """Take in one entry."""
        number, self._next = self._next, self._next + 1
        self.entries[number] = entry
        if self._counts:
            self.rarity.add(entry.profile)
        for part in PARTS:
            for word, weight in raw(entry.profile, part).items():
                self._postings[entry.profile.kind, part, word][number] = weight

    def add_all(self, entries: Iterable[Entry]) -> None:
        """Take in several entries."""
        for entry in entries:
            self.add(entry)

    def remove(self, source: str) -> None:
        """Take out all entries of a source."""
        for number in [at for at, entry in self.entries.items() if entry.source == source]:
            entry = self.entries.pop(number)
            if self._counts:
                self.rarity.remove(entry.profile)
            for part in PARTS:
                for word in raw(entry.profile, part):
                    del self._postings[entry.profile.kind, part, word][number]

    def candidates(self, asked: Sequence[Profile], kind: str) -> list[list[Candidate]]:
        """Return, for each profile, the entries whose score may reach the least spoken of, strongest first."""
        return [self._candidates(profile, kind) for profile in asked]

    def _candidates(self, profile: Profile, kind: str) -> list[Candidate]:
        shared: dict[int, list[float]] = {}
        own = lengths_of(profile, self.rarity)
        for at, part in enumerate(PARTS):
            for word, weight in weighed(profile, part, self.rarity).items():
                weight *= self.rarity.of(part, word)
                for number, other in self._postings.get((kind, part, word), {}).items():
                    if number not in shared:
                        shared[number] = [0.0] * len(PARTS)
                    shared[number][at] += weight * other
        found = []
        for number, sums in shared.items():
            measures = zip(PARTS, sums, own, self._lengths_of(number), strict=True)
            alike = {part: likeness(summed, one, other, part) for part, summed, one, other in measures}
            most = most_of(alike)
            if most >= LEAST:
                found.append(Candidate(self.entries[number], alike, most))
        return in_order(found)

    def _lengths_of(self, number: int) -> tuple[float, ...]:
        """Return how long an entry's parts are; they stand until any word's rarity moves."""
        if self._measured_at != self.rarity.moves:
            self._measured_at = self.rarity.moves
            self._lengths.clear()
        found = self._lengths.get(number)
        if found is None:
            found = self._lengths[number] = lengths_of(self.entries[number].profile, self.rarity)
        return found


def in_order(candidates: Iterable[Candidate]) -> list[Candidate]:
    """Return candidates strongest first, ties by where they are from."""
    return sorted(
        candidates,
        key=lambda candidate: (-round(candidate.most, 9), candidate.entry.source, candidate.entry.identity),
    )
