"""The matrices of an overlap index (SciPy): for each part of a profile, words by entries."""

from __future__ import annotations

from array import array
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy import sparse

from tallshelf.core.overlap import Candidate, Profile
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.score import LEAST, SLANT, WEIGHTS, length, raw, weighed
from tallshelf.service.catalog.overlap.packed import Packed

_FIRST: tuple[Part, ...] = ("name", "text")
_HAIR = 1e-9


@dataclass(frozen=True)
class _Shared:
    """A row for each item that is asked about, and the length of the item's part."""

    matrix: Any
    lengths: list[float]

    def of(self, number: int) -> tuple[Any, Any, float]:
        """Return the columns and values of one row, and its length."""
        there = slice(self.matrix.indptr[number], self.matrix.indptr[number + 1])
        return self.matrix.indices[there], self.matrix.data[there], self.lengths[number]


class _Scratch:
    """Room for numbers by row, cleared after each use: to make it anew would cost more than what is written there."""

    def __init__(self, rows: int) -> None:
        self.alike = {part: np.zeros(rows) for part in _FIRST}
        self.most = np.zeros(rows)
        self.marks = np.zeros(rows, dtype=bool)


class Block:
    """The entries of one kind as matrices: for each part, words by entries."""

    def __init__(self, entries: list[Packed]) -> None:
        """``entries`` are in order of source and identity."""
        self._entries = entries
        self._alive = np.ones(len(self._entries), dtype=bool)
        self._rows: dict[str, list[int]] = {}
        for number, entry in enumerate(self._entries):
            self._rows.setdefault(entry.source, []).append(number)
        self._matrix: dict[Part, Any] = {}
        self._fill()
        self._measured = -1
        self._lengths: dict[Part, Any] = {}

    def remove(self, source: str) -> None:
        self._alive[self._rows.pop(source, [])] = False

    def candidates(self, asked: Sequence[Profile], rarity: Rarity) -> list[Iterable[Candidate]]:
        self._measure(rarity)
        shared = {part: self._shared(asked, part, rarity) for part in _FIRST}
        last = self._queries(asked, "parameters", rarity)
        scratch = _Scratch(len(self._entries))
        return [self._of_one(number, shared, last, scratch) for number in range(len(asked))]

    def _of_one(
        self, number: int, shared: Mapping[Part, _Shared], last: _Shared, scratch: _Scratch
    ) -> Iterator[Candidate]:
        rows, most, alike = self._likely(number, shared, scratch)
        places, weights, own = last.of(number)
        query = np.zeros(self._matrix["parameters"].shape[1])
        query[places] = weights
        shared_there = self._matrix["parameters"][rows] @ query
        taken = self._alike("parameters", shared_there, rows, own) if own else np.zeros(len(rows))
        whole = most + WEIGHTS["parameters"] * taken
        found = np.flatnonzero(whole >= LEAST - _HAIR)
        # The rows are in order of source and identity, so that a stable sort breaks ties as elsewhere.
        for at in found[np.argsort(-whole[found].round(9), kind="stable")]:
            each: dict[Part, float] = {part: float(alike[part][at]) for part in _FIRST}
            each["parameters"] = float(taken[at])
            yield Candidate(self._entries[rows[at]].entry(), each, float(whole[at]))

    def _likely(
        self, number: int, shared: Mapping[Part, _Shared], scratch: _Scratch
    ) -> tuple[Any, Any, dict[Part, Any]]:
        """Return the rows whose names and texts say enough, what they reach by these, and how like each part is.

        What parameters add is bounded, so that they are only looked at there.
        """
        most, marks = scratch.most, scratch.marks
        for part in _FIRST:
            touched, values, own = shared[part].of(number)
            if own:
                scratch.alike[part][touched] = likely = self._alike(part, values, touched, own)
                most[touched] += WEIGHTS[part] * likely
            marks[touched[most[touched] >= LEAST - WEIGHTS["parameters"] - _HAIR]] = True
        rows = np.flatnonzero(marks & self._alive)
        found = rows, most[rows], {part: scratch.alike[part][rows] for part in _FIRST}
        for part in _FIRST:
            touched = shared[part].of(number)[0]
            most[touched] = scratch.alike[part][touched] = 0.0
            marks[touched] = False
        return found

    def _fill(self) -> None:
        # Arrays, since lists of millions of numbers would take ten times their room.
        places: dict[Part, array[int]] = {part: array("i") for part in PARTS}
        weights: dict[Part, array[float]] = {part: array("d") for part in PARTS}
        ends: dict[Part, array[int]] = {part: array("i", [0]) for part in PARTS}
        self._words: dict[Part, dict[str, int]] = {part: {} for part in PARTS}
        for one in self._entries:
            profile = one.entry().profile
            for part in PARTS:
                words = self._words[part]
                for word, weight in raw(profile, part).items():
                    places[part].append(words.setdefault(word, len(words)))
                    weights[part].append(weight)
                ends[part].append(len(places[part]))
        for part in PARTS:
            matrix = sparse.csr_matrix(
                (np.array(weights[part]), np.array(places[part]), np.array(ends[part])),
                shape=(len(self._entries), len(self._words[part])),
            )
            # Parameters are looked at row by row, of the few entries whose names and texts say enough.
            self._matrix[part] = matrix.T.tocsr() if part in _FIRST else matrix

    def _measure(self, rarity: Rarity) -> None:
        """Work out the lengths of all rows anew when the counts have moved."""
        if self._measured == rarity.moves:
            return
        for part in PARTS:
            rare = np.array([rarity.of(part, word) for word in self._words[part]], dtype=np.float64)
            matrix = self._matrix[part]
            squares = sparse.csr_matrix((matrix.data**2, matrix.indices, matrix.indptr), shape=matrix.shape)
            lengths = np.sqrt((squares.T if part in _FIRST else squares) @ (rare**2))
            slant = SLANT[part]
            self._lengths[part] = lengths ** (2 - slant), lengths**slant
        self._measured = rarity.moves

    def _queries(self, asked: Sequence[Profile], part: Part, rarity: Rarity) -> _Shared:
        """Return what each word of the items' parts weighs against rows, a row an item, and their lengths."""
        words, places, values, ends, lengths = self._words[part], [], [], [0], []
        for profile in asked:
            weights = weighed(profile, part, rarity)
            lengths.append(length(weights))
            for word, weight in weights.items():
                place = words.get(word)
                if place is not None:
                    places.append(place)
                    values.append(weight * rarity.of(part, word))
            ends.append(len(places))
        matrix = sparse.csr_matrix(
            (np.array(values, dtype=np.float64), np.array(places, dtype=np.int32), np.array(ends)),
            shape=(len(asked), len(words)),
        )
        return _Shared(matrix, lengths)

    def _shared(self, asked: Sequence[Profile], part: Part, rarity: Rarity) -> _Shared:
        """Return the dot products of the items' parts with all rows that share a word, and their lengths."""
        queries = self._queries(asked, part, rarity)
        return _Shared(queries.matrix @ self._matrix[part], queries.lengths)

    def _alike(self, part: Part, shared: Any, rows: Any, own: float) -> Any:
        """The same as `likeness`, for many rows at once."""
        as_short, as_long = self._lengths[part]
        slant = SLANT[part]
        # Of the two scales the one that takes the shorter for the shorter is the lesser.
        scale = np.minimum(as_short[rows] * own**slant, as_long[rows] * own ** (2 - slant))
        return np.minimum(np.divide(shared, scale, out=np.zeros(len(rows)), where=shared > 0), 1.0)
