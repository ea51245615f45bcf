"""Gathering overlapping items, so that three look-alikes are one decision and not three."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tallshelf.core.overlap.result import Overlap, OverlapClass, Side


@dataclass(frozen=True)
class Group:
    """Items that hang together by overlaps of one class, with those overlaps, strongest first."""

    cls: OverlapClass
    members: tuple[Side, ...]
    overlaps: tuple[Overlap, ...]

    @property
    def score(self) -> float:
        """The score of the strongest overlap in it."""
        return self.overlaps[0].score


def groups(overlaps: Iterable[Overlap]) -> tuple[Group, ...]:
    """Return the groups that overlaps make, strongest first.

    Items that do the same job hang together through others; near ones are gathered only with
    those they are near to, since nearness does not carry.
    """
    strongest = sorted(overlaps, key=lambda one: -one.score)
    same = [one for one in strongest if one.cls == "same-job"]
    made = [
        Group("same-job", members, tuple(one for one in same if one.a in members))
        for members in _hanging_together(same)
    ]
    inside = [set(group.members) for group in made]
    for one in strongest:
        if one.cls == "near" and not any({one.a, one.b} <= members for members in inside):
            made.append(Group("near", (one.a, one.b), (one,)))
    return tuple(sorted(made, key=lambda group: (group.cls != "same-job", -group.score)))


def _hanging_together(overlaps: Sequence[Overlap]) -> list[tuple[Side, ...]]:
    """Return the connected components (union-find, with path halving)."""
    parent: dict[Side, Side] = {}

    def root(side: Side) -> Side:
        parent.setdefault(side, side)
        while parent[side] != side:
            parent[side] = parent[parent[side]]
            side = parent[side]
        return side

    for one in overlaps:
        parent[root(one.b)] = root(one.a)
    found: dict[Side, list[Side]] = {}
    for side in list(parent):
        found.setdefault(root(side), []).append(side)
    return [tuple(sorted(members, key=lambda one: (one.source, one.item))) for members in found.values()]
