"""Searching a text for a pattern that a linear-time engine does not read: look-around above all.

Each part of the pattern is asked once for each spot of the text where it may end, and the answers
are kept, so that the work is bounded by the sizes of both: nothing is tried twice (no backtracking).
"""

from __future__ import annotations

import functools

from tallshelf.core.compat._pattern import (
    WORD,
    Chain,
    Char,
    Choice,
    Edge,
    Look,
    Repeat,
    Tree,
    Unreadable,
    WordEdge,
    holds,
    parse,
)

_MOST_STEPS = 50_000
_LONGEST = 2_000


@functools.lru_cache(maxsize=256)
def _tree(pattern: str) -> Tree | None:
    try:
        return parse(pattern)
    except Unreadable:
        return None


def searched(pattern: str, text: str) -> bool | None:
    """Whether a pattern is found in a text; None where it is not read, or the bound on steps was met."""
    tree = _tree(pattern)
    if tree is None or len(text) > _LONGEST:
        return None
    search = _Search(text)
    try:
        return any(search.ends(tree, start) for start in range(len(text) + 1))
    except (_TooLong, RecursionError):
        return None


class _TooLong(Exception):
    """The search used up its steps."""


class _Search:
    def __init__(self, text: str) -> None:
        self._text = text
        self._known: dict[tuple[int, int], frozenset[int]] = {}
        self._left = _MOST_STEPS

    def ends(self, tree: Tree, start: int) -> frozenset[int]:
        """Return the spots at which a part that begins at a spot may end."""
        key = id(tree), start
        if key not in self._known:
            self._left -= 1
            if self._left < 0:
                raise _TooLong
            self._known[key] = self._found(tree, start)
        return self._known[key]

    def _found(self, tree: Tree, start: int) -> frozenset[int]:
        text = self._text
        if isinstance(tree, Char):
            fits = start < len(text) and holds(tree.ranges, text[start])
            return frozenset({start + 1}) if fits else frozenset()
        if isinstance(tree, Edge):
            return self._if(start == (0 if tree.start else len(text)), start)
        if isinstance(tree, WordEdge):
            sides = [0 <= spot < len(text) and holds(WORD, text[spot]) for spot in (start - 1, start)]
            return self._if((sides[0] != sides[1]) == tree.wanted, start)
        if isinstance(tree, Look):
            return self._if(self._looked(tree, start) == tree.wanted, start)
        if isinstance(tree, Choice):
            return frozenset().union(*(self.ends(choice, start) for choice in tree.choices))
        if isinstance(tree, Chain):
            spots = frozenset({start})
            for part in tree.parts:
                spots = self._after(part, spots)
            return spots
        return self._repeated(tree, start)

    def _if(self, holds_here: bool, start: int) -> frozenset[int]:
        return frozenset({start}) if holds_here else frozenset()

    def _looked(self, look: Look, start: int) -> bool:
        if look.ahead:
            return bool(self.ends(look.part, start))
        return any(start in self.ends(look.part, before) for before in range(start + 1))

    def _after(self, part: Tree, spots: frozenset[int]) -> frozenset[int]:
        return frozenset().union(*(self.ends(part, spot) for spot in spots))

    def _repeated(self, tree: Repeat, start: int) -> frozenset[int]:
        spots = frozenset({start})
        for _ in range(min(tree.fewest, len(self._text) + 1)):
            spots = self._after(tree.part, spots)
        found, new, rounds = spots, spots, 0
        while new and (tree.most is None or rounds < tree.most - tree.fewest):
            new = self._after(tree.part, new) - found
            found |= new
            rounds += 1
        return found
