"""An overlap index that finds candidates by sparse products (SciPy), for large catalogs.

It holds the raw weights of words; how rare a word is comes from exact counts and is applied when a
question is asked, so that an index grown step by step answers as one that was made anew. What came
in since the matrices were made waits in a small index beside them; what was taken out is passed over.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from tallshelf.core.overlap import Candidate, Entry, MemoryIndex, Profile
from tallshelf.core.overlap.index import in_order
from tallshelf.core.overlap.rarity import Rarity
from tallshelf.service.catalog.overlap.packed import Packed, PutBy, ReadItem, packed
from tallshelf.service.catalog.overlap.stored import item_of

if TYPE_CHECKING:
    from tallshelf.service.catalog.overlap.block import Block

_FEW, _MANY = 256, 2_000
"""How many entries may wait beside the matrices before these are made anew: an eighth of all, between these."""

_WASTE = 2
"""How many times what it holds an index may have put by before it begins anew: what was taken out stays there."""


class SparseIndex:
    """Answers as `MemoryIndex` does. ``version`` is set by whoever fills it."""

    def __init__(
        self,
        entries: Iterable[Entry] = (),
        version: str = "",
        read_item: ReadItem = item_of,
        directory: Path | None = None,
    ) -> None:
        """``read_item`` returns what reads an item by its digest, the catalog's own unless told; ``directory`` is where
        entries are put by, the system's for such files unless told.
        """
        self.version = version
        self._read_item = read_item
        self._directory = directory
        self._put_by = PutBy(directory)
        self.rarity = Rarity()
        self._blocks: dict[str, Block] = {}
        self._beside = MemoryIndex(rarity=self.rarity)
        self._by_source: dict[str, list[Packed]] = {}
        self.add_all(entries)

    def __len__(self) -> int:
        return sum(map(len, self._by_source.values()))

    @property
    def sources(self) -> list[str]:
        """The sources that it holds entries of, in order."""
        return sorted(self._by_source)

    def entries_of(self, source: str) -> list[Entry]:
        """Return the entries of a source."""
        return [one.entry() for one in self._by_source.get(source, ())]

    def add_all(self, entries: Iterable[Entry]) -> None:
        """Take in entries."""
        waiting = len(self._beside.entries)
        for entry in entries:
            self._by_source.setdefault(entry.source, []).append(packed(entry, self._put_by, self._read_item))
            self.rarity.add(entry.profile)
            waiting += 1
            if waiting <= _MANY:
                self._beside.add(entry)
        if waiting > min(max(_FEW, len(self) // 8), _MANY):
            self._settle()

    def remove(self, source: str) -> None:
        """Take out all entries of a source."""
        for entry in self.entries_of(source):
            self.rarity.remove(entry.profile)
        self._by_source.pop(source, None)
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

        if self._put_by.size > _WASTE * sum(one.size for each in self._by_source.values() for one in each):
            self._put_by = PutBy(self._directory)
            for source, entries in self._by_source.items():
                self._by_source[source] = [one.moved(self._put_by) for one in entries]
        kinds: dict[str, list[Packed]] = {}
        for source in self.sources:
            for one in sorted(self._by_source[source], key=lambda one: one.entry().identity):
                kinds.setdefault(one.entry().profile.kind, []).append(one)
        self._blocks = {kind: Block(entries) for kind, entries in kinds.items()}
        self._beside = MemoryIndex(rarity=self.rarity)
