"""Who is hit: which kits hold an item that changed, and what of it reaches them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from tallshelf.core.changes import Change, SnapshotComparison

if TYPE_CHECKING:
    from tallshelf.core.kits.lock import Lock

Word = Literal["ended", "breaking", "undecided", "ignored", "silent", "caution"]
WORDS: tuple[Word, ...] = ("ended", "breaking", "undecided", "ignored", "silent", "caution")
"""By what a kit may be hit, worst first; ``ended``: what it holds is not to be used any more. What is compatible hits
nobody."""
STOPS: frozenset[Word] = frozenset({"ended", "breaking", "undecided", "ignored", "silent"})
"""Across what no lock moves by itself."""
_SERVER = "server"


class Holder(Struct, frozen=True):
    """A kit, and the version at which it holds each item of the server in question, by identity."""

    kit: str
    title: str
    team: str
    environment: str
    held: Mapping[str, str]


class HitItem(Struct, frozen=True):
    """What reaches a kit of one item: the worst of it, how often each, and the changes themselves."""

    item: str
    version: str
    word: Word
    counts: Mapping[str, int]
    changes: tuple[Change, ...] = ()

    @property
    def message(self) -> str:
        """The worst of it, in words."""
        return self.changes[0].message if self.changes else "this is not to be used any more"


class Hit(Struct, frozen=True):
    """A kit that is hit, by its worst item."""

    kit: str
    title: str
    team: str
    environment: str
    word: Word
    items: tuple[HitItem, ...]


def word_for(change: Change) -> Word | None:
    """Return by which word a change hits those who hold its item, or None where it hits nobody."""
    if change.folded:
        return None
    if change.kind == "argument-ignored":
        return "ignored"
    if change.impact in ("breaking", "undecided"):
        return change.impact
    if change.silent:
        return "silent"
    return "caution" if change.impact == "caution" else None


def hits(changes: Iterable[Change], holders: Iterable[Holder]) -> tuple[Hit, ...]:
    """Return the kits that hold an item which changed so that they would notice, worst first, then by name.

    What changes on the server as a whole (its instructions, how it is run) reaches every kit that holds any of
    its items.
    """
    by_item = told_by_item(changes)
    whole = by_item.pop(_SERVER, None)
    found: list[Hit] = []
    worked_out: dict[tuple[tuple[str, str], ...], tuple[HitItem, ...]] = {}
    for holder in holders:
        held = tuple(holder.held.items())  # of hundreds of kits many hold the same
        items = worked_out.get(held)
        if items is None:
            reached = [HitItem(item, version, *by_item[item]) for item, version in held if item in by_item]
            if whole is not None and held:
                reached.append(HitItem(_SERVER, max(holder.held.values()), *whole))
            reached.sort(key=lambda hit: (WORDS.index(hit.word), hit.item))
            items = worked_out[held] = tuple(reached)
        if items:
            found.append(Hit(holder.kit, holder.title, holder.team, holder.environment, items[0].word, items))
    return tuple(sorted(found, key=lambda hit: (WORDS.index(hit.word), hit.kit)))


def ended(holders: Iterable[Holder], version: str = "", item: str = "") -> tuple[Hit, ...]:
    """Return the kits that hold a release that ends, or an item of whatever release, by kit."""
    hits = []
    for holder in holders:
        gone = [name for name, held in holder.held.items() if version in ("", held) and item in ("", name)]
        if gone:
            items = tuple(HitItem(name, holder.held[name], "ended", {"ended": 1}) for name in sorted(gone))
            hits.append(Hit(holder.kit, holder.title, holder.team, holder.environment, "ended", items))
    return tuple(sorted(hits, key=lambda hit: hit.kit))


def told_by_item(changes: Iterable[Change]) -> dict[str, tuple[Word, dict[str, int], tuple[Change, ...]]]:
    """Return what hits holders of each item: the worst word, how often each, and the changes, worst first."""
    grouped: dict[str, list[tuple[Word, Change]]] = {}
    for change in changes:
        word = word_for(change)
        if word is not None:
            grouped.setdefault(change.item, []).append((word, change))
    return {item: _told(those) for item, those in grouped.items()}


def _told(those: Sequence[tuple[Word, Change]]) -> tuple[Word, dict[str, int], tuple[Change, ...]]:
    ranked = sorted(those, key=lambda one: WORDS.index(one[0]))
    counts = {word: sum(one[0] == word for one in ranked) for word in WORDS}
    return (
        ranked[0][0],
        {word: number for word, number in counts.items() if number},
        tuple(change for _, change in ranked),
    )


def restricted(comparison: SnapshotComparison, items: Iterable[str]) -> SnapshotComparison:
    """Return a comparison with what happens to some items, and to the server as a whole, alone."""
    wanted = {*items, _SERVER}
    kept = tuple(change for change in comparison.changes if change.item in wanted)
    return SnapshotComparison(
        comparison.old_digest, comparison.new_digest, kept, comparison.not_checked, comparison.untouched
    )


def why_not_move(comparison: SnapshotComparison, held: Lock, server: str) -> str:
    """Return why a lock does not move across a comparison by itself, or nothing where it fits the kit."""
    told = told_by_item(restricted(comparison, (locked.item for locked in held.of(server))).changes)
    stops = sorted((WORDS.index(word), item) for item, (word, _, _) in told.items() if word in STOPS)
    if stops:
        rank, item = stops[0]
        return f"{item}: {told[item][2][0].message} ({WORDS[rank]})"
    return "some lists were not asked for" if comparison.not_checked else ""
