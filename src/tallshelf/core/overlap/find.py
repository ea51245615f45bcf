"""Finding the overlaps of a server's items with a catalog and with each other."""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Sequence

from tallshelf.core.compat import stand_in
from tallshelf.core.overlap.index import Candidate, Entry, MemoryIndex, OverlapIndex
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.rarity import PARTS
from tallshelf.core.overlap.reasons import reasons_for
from tallshelf.core.overlap.result import Overlap, Ruling, Side, Signal, ruling_on
from tallshelf.core.overlap.score import Score, likeness_of, offers, score
from tallshelf.core.snapshot import Item

MOST_EACH = 12
"""How many overlaps are told of one item, the strongest."""
_ASKED_TO_STAND_IN = 3


def find_overlaps(
    own: Sequence[Entry], index: OverlapIndex, rulings: tuple[Ruling, ...] = ()
) -> tuple[Overlap, ...]:
    """Return the overlaps of one server's items with an index, and with each other, strongest first.

    Entries of the index that come from the same source are older releases of the server, and are
    left out. Of each item at most `MOST_EACH` are told.
    """
    found: list[tuple[Entry, Candidate, Score]] = []
    for number, one in enumerate(own):
        others = _others(one, index, one.profile.kind)
        found += [(one, *hit) for hit in _strongest(one.profile, others)]
        found += [(one, *hit) for hit in _offered(one, index)]
        found += [(one, *hit) for hit in _within(one, own[number + 1 :], index)]
    found.sort(key=lambda hit: (-hit[2].value, hit[0].identity, hit[1].entry.source, hit[1].entry.identity))
    asked: dict[str, int] = {}
    return tuple(_overlap(*hit, rulings, asked) for hit in found)


def overlaps_among(
    sources: Sequence[Sequence[Entry]], rulings: tuple[Ruling, ...] = ()
) -> tuple[Overlap, ...]:
    """Return the overlaps among some servers' items, each pair once, strongest first."""
    index = MemoryIndex()
    found: list[Overlap] = []
    for own in sources:
        found += find_overlaps(own, index, rulings)
        index.add_all(own)
    return tuple(sorted(found, key=lambda one: (-one.score, one.a.item, one.b.source, one.b.item)))


def _others(one: Entry, index: OverlapIndex, kind: str) -> Iterator[Candidate]:
    return (each for each in index.candidates(one.profile, kind) if each.entry.source != one.source)


def _offered(one: Entry, index: OverlapIndex) -> Iterator[tuple[Candidate, Score]]:
    """Yield the resource that a tool only reads, if one is much like it."""
    if one.profile.kind != "tool" or one.profile.verb not in ("read", "list") or one.profile.writes:
        return
    needs = any(needed for _, needed in one.profile.parameters.values())
    best = next(iter(_others(one, index, "template" if needs else "resource")), None)
    scored = offers(best.likeness) if best else None
    if best and scored:
        yield best, scored


def _strongest(own: Profile, candidates: Iterator[Candidate]) -> list[tuple[Candidate, Score]]:
    """Return the strongest overlaps of an item; candidates come by what they can reach at most."""
    best: list[tuple[float, int, Candidate, Score]] = []
    for number, one in enumerate(candidates):
        if len(best) == MOST_EACH and one.most <= best[0][0]:
            break
        scored = score(own, one.entry.profile, one.likeness)
        if scored.cls is None:
            continue
        hit = (scored.value, -number, one, scored)
        if len(best) < MOST_EACH:
            heapq.heappush(best, hit)
        else:
            heapq.heappushpop(best, hit)
    return [(one, scored) for _, _, one, scored in best]


def _within(one: Entry, later: Sequence[Entry], index: OverlapIndex) -> Iterator[tuple[Candidate, Score]]:
    """Yield what an item has in common with others of its own server."""
    for other in later:
        if other.profile.kind != one.profile.kind or other.identity == one.identity:
            continue
        likeness = likeness_of(one.profile, other.profile, index.rarity)
        scored = score(one.profile, other.profile, likeness)
        if scored.cls is not None:
            yield Candidate(other, likeness, scored.value), scored


def _overlap(
    a: Entry, candidate: Candidate, scored: Score, rulings: tuple[Ruling, ...], asked: dict[str, int]
) -> Overlap:
    b = candidate.entry
    sides = side_of(a), side_of(b)
    reasons, differences = reasons_for(a.profile, b.profile, scored)
    stands = None
    if scored.cls == "same-job" and asked.get(a.identity, 0) < _ASKED_TO_STAND_IN:
        asked[a.identity] = asked.get(a.identity, 0) + 1
        stands = _stands_in(a.item(), b.item())
    assert scored.cls is not None
    return Overlap(
        *sides,
        cls=scored.cls,
        score=scored.value,
        signals=tuple(Signal(part, round(scored.likeness[part], 3)) for part in PARTS),
        reasons=reasons,
        differences=differences,
        stands_in=stands,
        ruled=ruling_on(*sides, rulings),
    )


def side_of(one: Entry) -> Side:
    """Return an entry as a side of an overlap."""
    return Side(one.source, one.identity, one.digest, one.profile.basis)


def _stands_in(a: Item, b: Item) -> bool | None:
    """Whether b takes every call that a takes, and returns nothing that a would not."""
    return stand_in(a.body, b.body).stands_in if a.kind == "tool" else None
