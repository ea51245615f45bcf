"""Finding the overlaps of a server's items with a catalog and with each other."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from tallshelf.core.compat import stand_in
from tallshelf.core.overlap.index import Candidate, Entry, MemoryIndex, OverlapIndex
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.rarity import PARTS
from tallshelf.core.overlap.reasons import reasons_for
from tallshelf.core.overlap.result import Overlap, Ruling, Side, Signal, ruling_on
from tallshelf.core.overlap.score import (
    LEAST,
    Measured,
    Score,
    likeness_of,
    measured,
    most_of,
    offers,
    raised,
    score,
    score_beyond,
)
from tallshelf.core.snapshot import Item

MOST_EACH = 12
"""How many overlaps are told of one item, the strongest."""
_ASKED_TO_STAND_IN = 1
_HAIR = 1e-9


def find_overlaps(
    own: Sequence[Entry], index: OverlapIndex, rulings: tuple[Ruling, ...] = ()
) -> tuple[Overlap, ...]:
    """Return the overlaps of one server's items with an index, and with each other, strongest first.

    Entries of the index that come from the same source are older releases of the server, and are
    left out. Of each item at most `MOST_EACH` are told.
    """
    found: list[tuple[Entry, Candidate, Score]] = []
    measures = [measured(entry.profile, index.rarity) for entry in own]
    for entry, candidates in _asked(own, index, lambda entry: entry.profile.kind):
        found += [(entry, *hit) for hit in _strongest(entry.profile, candidates)]
    for entry, candidates in _asked(own, index, _offered_as):
        found += [(entry, *hit) for hit in _offered(candidates)]
    for entry, candidates in _asked(own, index, _may_offer):
        readers = (each for each in candidates if _offered_as(each.entry) == entry.profile.kind)
        found += [(entry, *hit) for hit in _offered(readers)]
    for number, entry in enumerate(own):
        found += [(entry, *hit) for hit in _within(own, measures, number)]
    found.sort(key=lambda hit: (-hit[2].value, hit[0].identity, hit[1].entry.source, hit[1].entry.identity))
    asked: dict[str, int] = {}
    return tuple(_overlap(*hit, rulings, asked) for hit in found)


def overlaps_among(
    sources: Sequence[Sequence[Entry]], rulings: tuple[Ruling, ...] = ()
) -> tuple[Overlap, ...]:
    """Return the overlaps among some servers' items, each pair once, strongest first."""
    index = MemoryIndex()
    overlaps: list[Overlap] = []
    for own in sources:
        overlaps += find_overlaps(own, index, rulings)
        index.add_all(own)
    return tuple(
        sorted(
            overlaps, key=lambda overlap: (-overlap.score, overlap.a.item, overlap.b.source, overlap.b.item)
        )
    )


def _asked(
    own: Sequence[Entry], index: OverlapIndex, kind_of: Callable[[Entry], str | None]
) -> Iterator[tuple[Entry, Iterator[Candidate]]]:
    """Yield entries with their candidates in other sources, of the kind that is looked for."""
    kinds: dict[str, list[Entry]] = {}
    for entry in own:
        kind = kind_of(entry)
        if kind is not None:
            kinds.setdefault(kind, []).append(entry)
    for kind, entries in kinds.items():
        answers = index.candidates([entry.profile for entry in entries], kind)
        for entry, candidates in zip(entries, answers, strict=True):
            yield entry, (each for each in candidates if each.entry.source != entry.source)


def _offered_as(entry: Entry) -> str | None:
    """Return as which kind of resource a tool that only reads could be offered."""
    profile = entry.profile
    if profile.kind != "tool" or profile.verb not in ("read", "list") or profile.writes:
        return None
    return "template" if any(needed for _, needed in profile.parameters.values()) else "resource"


def _may_offer(entry: Entry) -> str | None:
    """A resource or template may offer what a tool reads."""
    return "tool" if entry.profile.kind in ("resource", "template") else None


def _offered(candidates: Iterator[Candidate]) -> Iterator[tuple[Candidate, Score]]:
    """Yield the resource that offers what a tool reads, or the tool that reads it, if the one most like it does."""
    best = next(candidates, None)
    scored = offers(best.likeness) if best else None
    if best and scored:
        yield best, scored


def _strongest(own: Profile, candidates: Iterator[Candidate]) -> list[tuple[Candidate, Score]]:
    """Return the strongest overlaps of an item; candidates come by what they can reach at most."""
    best: list[tuple[float, int, Candidate, Score]] = []
    for number, candidate in enumerate(candidates):
        if len(best) == MOST_EACH and raised(candidate.most) <= best[0][0]:
            break
        least = best[0][0] if len(best) == MOST_EACH else LEAST - _HAIR
        scored = score_beyond(own, candidate.entry.profile, candidate.likeness, least)
        if scored is None or scored.cls is None:
            continue
        hit = (scored.value, -number, candidate, scored)
        if len(best) < MOST_EACH:
            heapq.heappush(best, hit)
        else:
            heapq.heappushpop(best, hit)
    return [(candidate, scored) for _, _, candidate, scored in best]


def _within(
    own: Sequence[Entry], measures: Sequence[Measured], number: int
) -> Iterator[tuple[Candidate, Score]]:
    """Yield what an item has in common with later ones of its own server."""
    entry = own[number]
    for other, measure in zip(own[number + 1 :], measures[number + 1 :], strict=True):
        if other.profile.kind != entry.profile.kind or other.identity == entry.identity:
            continue
        alike = likeness_of(measures[number], measure)
        most = most_of(alike)
        if most < LEAST:
            continue
        scored = score(entry.profile, other.profile, alike, siblings=True)
        if scored.cls is not None:
            yield Candidate(other, alike, most), scored


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
    ruling = ruling_on(*sides, rulings)
    assert scored.cls is not None
    return Overlap(
        *sides,
        cls=scored.cls,
        score=scored.value,
        signals=tuple(Signal(part, round(scored.likeness[part], 3)) for part in PARTS),
        reasons=reasons,
        differences=differences,
        stands_in=stands,
        ruled=ruling.word if ruling else None,
        preferred=(ruling.preferred or None) if ruling else None,
    )


def side_of(entry: Entry) -> Side:
    """Return an entry as a side of an overlap."""
    return Side(entry.source, entry.identity, entry.digest, entry.profile.basis, entry.since)


def _stands_in(a: Item, b: Item) -> bool | None:
    """Whether b takes every call that a takes, and returns nothing that a would not."""
    if _needs_more(a.body.get("inputSchema"), b.body.get("inputSchema")):
        return False
    return stand_in(a.body, b.body).stands_in if a.kind == "tool" else None


def _needs_more(a: Any, b: Any) -> bool:
    """Whether b requires a parameter that a does not know: no call of a has it."""
    known = a.get("properties", {}) if isinstance(a, dict) else None
    required = b.get("required") if isinstance(b, dict) else None
    return (
        isinstance(known, dict) and isinstance(required, list) and any(one not in known for one in required)
    )
