"""An overlap index that finds candidates by sparse products (SciPy), for large catalogs.

It holds the raw weights of words; how rare a word is comes from exact counts and is applied when a
question is asked, so that an index grown step by step answers as one that was made anew. What came
in since the matrices were made waits in a small index beside them; what was taken out is passed over.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import numpy as np
from scipy import sparse

from tallshelf.core.overlap import Candidate, Entry, MemoryIndex, Profile
from tallshelf.core.overlap.index import in_order
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.score import LEAST, SLANT, WEIGHTS, length, raw, weighed

_MOST_BESIDE = 2_000
"""How many entries may wait beside the matrices before these are made anew."""


class SparseIndex:
    """Answers as `MemoryIndex` does. ``version`` is set by whoever fills it."""

    def __init__(self, entries: Iterable[Entry] = (), version: str = "") -> None:
        self.version = version
        self.rarity = Rarity()
        self._blocks: dict[str, _Block] = {}
        self._beside = MemoryIndex(rarity=self.rarity)
        self._by_source: dict[str, list[Entry]] = {}
        self.add_all(entries)

    def __len__(self) -> int:
        return sum(map(len, self._by_source.values()))

    @property
    def entries(self) -> Iterator[Entry]:
        """Every entry, by source."""
        return (one for source in sorted(self._by_source) for one in self._by_source[source])

    def add_all(self, entries: Iterable[Entry]) -> None:
        """Take in entries."""
        for one in entries:
            self._by_source.setdefault(one.source, []).append(one)
            self.rarity.add(one.profile)
            self._beside.add(one)
        if len(self._beside.entries) > _MOST_BESIDE:
            self._settle()

    def remove(self, source: str) -> None:
        """Take out all entries of a source."""
        for one in self._by_source.pop(source, ()):
            self.rarity.remove(one.profile)
        self._beside.remove(source)
        for block in self._blocks.values():
            block.remove(source)

    def candidates(self, one: Profile, kind: str) -> Iterable[Candidate]:
        """Return the entries of a kind whose score may reach the least spoken of, strongest first."""
        beside = list(self._beside.candidates(one, kind))
        block = self._blocks.get(kind)
        settled = block.candidates(one, self.rarity) if block else iter(())
        return _merged(settled, beside) if beside else settled

    def _settle(self) -> None:
        kinds: dict[str, list[Entry]] = {}
        for one in self.entries:
            kinds.setdefault(one.profile.kind, []).append(one)
        self._blocks = {kind: _Block(found) for kind, found in kinds.items()}
        self._beside = MemoryIndex(rarity=self.rarity)


def _merged(settled: Iterable[Candidate], beside: list[Candidate]) -> list[Candidate]:
    return in_order([*settled, *beside])


class _Block:
    """The entries of one kind as matrices: for each part, words by entries."""

    def __init__(self, entries: list[Entry]) -> None:
        self._entries = sorted(entries, key=lambda one: (one.source, one.identity))
        self._alive = np.ones(len(self._entries), dtype=bool)
        self._rows: dict[str, list[int]] = {}
        for number, one in enumerate(self._entries):
            self._rows.setdefault(one.source, []).append(number)
        self._words: dict[Part, dict[str, int]] = {}
        self._by_word: dict[Part, Any] = {}
        self._squares: dict[Part, Any] = {}
        for part in PARTS:
            self._fill(part)
        self._measured = -1
        self._lengths: Mapping[Part, Any] = {}

    def remove(self, source: str) -> None:
        self._alive[self._rows.pop(source, [])] = False

    def candidates(self, one: Profile, rarity: Rarity) -> Iterator[Candidate]:
        self._measure(rarity)
        most = np.zeros(len(self._entries))
        alike: dict[Part, Any] = {}
        for part in PARTS:
            alike[part] = self._alike(one, part, rarity)
            most += WEIGHTS[part] * alike[part]
        found = np.flatnonzero((most >= LEAST - 1e-9) & self._alive)
        # The rows are in order of source and identity, so that a stable sort breaks ties as elsewhere.
        for number in found[np.argsort(-most[found].round(9), kind="stable")]:
            each = {part: float(alike[part][number]) for part in PARTS}
            yield Candidate(self._entries[number], each, float(most[number]))

    def _fill(self, part: Part) -> None:
        words: dict[str, int] = {}
        places, weights, ends = [], [], [0]
        for one in self._entries:
            for word, weight in raw(one.profile, part).items():
                places.append(words.setdefault(word, len(words)))
                weights.append(weight)
            ends.append(len(places))
        matrix = sparse.csr_matrix(
            (np.array(weights, dtype=np.float64), np.array(places, dtype=np.int32), np.array(ends)),
            shape=(len(self._entries), len(words)),
        )
        self._words[part] = words
        self._by_word[part] = matrix.T.tocsr()
        self._squares[part] = matrix.multiply(matrix).tocsr()

    def _measure(self, rarity: Rarity) -> None:
        """Work out the lengths of all rows anew when the counts have moved."""
        if self._measured == rarity.moves:
            return
        self._lengths = {
            part: np.sqrt(self._squares[part] @ (self._rare(part, rarity) ** 2)) for part in PARTS
        }
        self._measured = rarity.moves

    def _rare(self, part: Part, rarity: Rarity) -> Any:
        return np.array([rarity.of(part, word) for word in self._words[part]], dtype=np.float64)

    def _alike(self, one: Profile, part: Part, rarity: Rarity) -> Any:
        weights = weighed(one, part, rarity)
        own, words = length(weights), self._words[part]
        shared = np.zeros(len(self._entries))
        known = [
            (words[word], weight * rarity.of(part, word)) for word, weight in weights.items() if word in words
        ]
        matrix = self._by_word[part]
        for place, weight in known:
            start, end = matrix.indptr[place], matrix.indptr[place + 1]
            shared[matrix.indices[start:end]] += weight * matrix.data[start:end]
        lengths = self._lengths[part]
        short, long = np.minimum(lengths, own), np.maximum(lengths, own)
        slant = SLANT[part]
        with np.errstate(divide="ignore", invalid="ignore"):
            found = shared / (short ** (2 - slant) * long**slant)
        found[(shared == 0) | (short == 0)] = 0.0
        return np.minimum(found, 1.0)
