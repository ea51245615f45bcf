"""An overlap index that finds candidates by sparse products (SciPy), for large catalogs.

It holds the raw weights of words; how rare a word is comes from exact counts and is applied when a
question is asked, so that an index grown step by step answers as one that was made anew. What came
in since the matrices were made waits in a small index beside them; what was taken out is passed over.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import TYPE_CHECKING

from tallshelf.core.overlap import Candidate, Entry, MemoryIndex, Profile
from tallshelf.core.overlap.index import in_order
from tallshelf.core.overlap.rarity import Rarity

if TYPE_CHECKING:
    from tallshelf.service.catalog.overlap.block import Block

_MOST_BESIDE = 2_000
"""How many entries may wait beside the matrices before these are made anew."""


class SparseIndex:
    """Answers as `MemoryIndex` does. ``version`` is set by whoever fills it."""

    def __init__(self, entries: Iterable[Entry] = (), version: str = "") -> None:
        self.version = version
        self.rarity = Rarity()
        self._blocks: dict[str, Block] = {}
        self._beside = MemoryIndex(rarity=self.rarity)
        self._by_source: dict[str, list[Entry]] = {}
        self.add_all(entries)

    def __len__(self) -> int:
        return sum(map(len, self._by_source.values()))

    @property
    def entries(self) -> Iterator[Entry]:
        """Every entry, by source."""
        return (entry for source in sorted(self._by_source) for entry in self._by_source[source])

    def add_all(self, entries: Iterable[Entry]) -> None:
        """Take in entries."""
        for entry in entries:
            self._by_source.setdefault(entry.source, []).append(entry)
            self.rarity.add(entry.profile)
            self._beside.add(entry)
        if len(self._beside.entries) > _MOST_BESIDE:
            self._settle()

    def remove(self, source: str) -> None:
        """Take out all entries of a source."""
        for entry in self._by_source.pop(source, ()):
            self.rarity.remove(entry.profile)
        self._beside.remove(source)
        for block in self._blocks.values():
            block.remove(source)

    def candidates(self, asked: Sequence[Profile], kind: str) -> Sequence[Iterable[Candidate]]:
        """Return, for each profile, the entries whose score may reach the least spoken of, strongest first."""
        beside: Sequence[list[Candidate]] = self._beside.candidates(asked, kind)
        block = self._blocks.get(kind)
        if block is None:
            return beside
        settled = block.candidates(asked, self.rarity)
        return [
            in_order([*found, *more]) if more else found for found, more in zip(settled, beside, strict=True)
        ]

    def _settle(self) -> None:
        from tallshelf.service.catalog.overlap.block import Block  # SciPy takes long to load, and memory

        kinds: dict[str, list[Entry]] = {}
        for entry in self.entries:
            kinds.setdefault(entry.profile.kind, []).append(entry)
        self._blocks = {kind: Block(entries) for kind, entries in kinds.items()}
        self._beside = MemoryIndex(rarity=self.rarity)
