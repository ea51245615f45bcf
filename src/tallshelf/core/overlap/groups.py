"""Gathering overlaps by the two servers they are between, so that two look-alike servers are one decision."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from tallshelf.core.overlap.result import Overlap, OverlapClass, Side


class ServerPair(Struct, frozen=True):
    """The overlaps of one class between two servers, or within one (named twice), strongest first."""

    servers: tuple[str, str]
    cls: OverlapClass
    overlaps: tuple[Overlap, ...]

    @property
    def score(self) -> float:
        """The score of the strongest overlap."""
        return self.overlaps[0].score

    @property
    def is_within(self) -> bool:
        """Whether they are the overlaps of one server with itself."""
        return self.servers[0] == self.servers[1]

    def items_of(self, server: str) -> tuple[Side, ...]:
        """Return the items of one of the two that overlap with an item of the other, by identity."""
        found = {
            side.item: side for pair in self.overlaps for side in (pair.a, pair.b) if side.source == server
        }
        return tuple(found[item] for item in sorted(found))

    @property
    def members(self) -> tuple[Side, ...]:
        """The items of both, by server and identity."""
        return tuple(side for server in dict.fromkeys(self.servers) for side in self.items_of(server))


def server_pairs(overlaps: Iterable[Overlap]) -> tuple[ServerPair, ...]:
    """Return the pairs of servers that overlaps are between.

    Those of the same job come before those that are near, those with more overlaps before those with fewer. What is
    merely related makes no pair.
    """
    found: dict[tuple[str, str, OverlapClass], list[Overlap]] = {}
    for overlap in sorted(overlaps, key=lambda overlap: (-overlap.score, overlap.a.item, overlap.b.item)):
        if overlap.cls != "related":
            first, second = sorted((overlap.a.source, overlap.b.source))
            found.setdefault((first, second, overlap.cls), []).append(overlap)
    made = [ServerPair((first, second), cls, tuple(each)) for (first, second, cls), each in found.items()]
    return tuple(
        sorted(
            made, key=lambda pair: (pair.cls != "same-job", -len(pair.overlaps), -pair.score, pair.servers)
        )
    )
