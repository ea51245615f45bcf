"""The life of one item through all releases: when it came, how it changed, when it went."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from msgspec import Struct

from tallshelf.core.changes._compare import compare_snapshots
from tallshelf.core.changes._ruled import with_rulings
from tallshelf.core.changes.result import Change, Impact
from tallshelf.core.changes.table import worst
from tallshelf.core.snapshot import LISTS, Snapshot
from tallshelf.core.words.terms import NO_TERMS, HouseTerms

Event = Literal["came", "changed", "stayed", "went", "came back", "not there"]


class LifeStep(Struct, frozen=True):
    """What one release did to an item; ``changes`` are those since the release before."""

    version: str
    event: Event
    impact: Impact | None
    changes: tuple[Change, ...]


def item_life(
    identity: str,
    releases: Iterable[tuple[str, Snapshot]],
    rulings: Sequence[tuple[frozenset[str], str]] = (),
    terms: HouseTerms = NO_TERMS,
) -> tuple[LifeStep, ...]:
    """Return the life of an item through releases, given oldest first, with what was ruled on its changes.

    Texts are read by the ``terms`` of a house.
    """
    steps: list[LifeStep] = []
    before: Snapshot | None = None
    there = seen = False
    for version, snapshot in releases:
        now = _only(snapshot, identity)
        is_there = any(now.lists.values())
        changes: tuple[Change, ...] = ()
        if before is not None and there and is_there:
            found = with_rulings(compare_snapshots(before, now, terms=terms), rulings).changes
            changes = tuple(change for change in found if change.item == identity and not change.folded)
        steps.append(LifeStep(version, _event(there, is_there, seen, changes), worst(changes), changes))
        before, there, seen = now, is_there, seen or is_there
    return tuple(steps)


def _event(there: bool, is_there: bool, seen: bool, changes: tuple[Change, ...]) -> Event:
    if there and is_there:
        return "changed" if changes else "stayed"
    if is_there:
        return "came back" if seen else "came"
    return "went" if there else "not there"


def _only(snapshot: Snapshot, identity: str) -> Snapshot:
    """Return a snapshot with one item alone, so that only its changes are computed."""
    lists = {
        name: tuple(item for item in snapshot.lists.get(name, ()) if item.identity == identity)
        for name in LISTS
    }
    return Snapshot(snapshot.server, snapshot.captured, lists)
