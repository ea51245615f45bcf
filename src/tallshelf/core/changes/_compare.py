"""Comparing two snapshots item by item; unchanged items cost only their canonical bytes."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tallshelf.core.changes._items import item_changes
from tallshelf.core.changes._launch import compare_launches
from tallshelf.core.changes._make import make
from tallshelf.core.changes._renames import renames
from tallshelf.core.changes._ruled import with_bases
from tallshelf.core.changes._server import server_changes
from tallshelf.core.changes.result import Change, SnapshotComparison, in_rank
from tallshelf.core.snapshot import LISTS, Item, LaunchRecord, Snapshot, json_equal
from tallshelf.core.words.terms import NO_TERMS, HouseTerms

Launches = Iterable[LaunchRecord] | None


def compare_snapshots(
    old: Snapshot,
    new: Snapshot,
    old_launches: Launches = None,
    new_launches: Launches = None,
    *,
    terms: HouseTerms = NO_TERMS,
) -> SnapshotComparison:
    """Return every change from one snapshot to another, worst first.

    Launch records are compared where both sides give them. A text that says another of the ``terms``
    of a house for the same thing says the same.

    A list that is absent on either side was not asked for there: it is named in
    ``not_checked`` and never compared as removed.
    """
    not_checked = tuple(name for name in LISTS if (name in old.lists) != (name in new.lists))
    changes: list[Change] = list(server_changes(old, new, terms))
    if old_launches is not None and new_launches is not None:
        versions = [(old.declared_version or "", new.declared_version or "")]
        changes += compare_launches(old_launches, new_launches, versions)
    untouched = 0
    for name in LISTS:
        if name not in old.lists or name not in new.lists:
            continue
        before = {item.identity: item for item in old.lists[name]}
        after = {item.identity: item for item in new.lists[name]}
        twice = old.twice | new.twice
        renamed = renames(
            [item for identity, item in before.items() if identity not in after],
            [item for identity, item in after.items() if identity not in before],
        )
        named_anew = {now: (was, why) for was, (now, why) in renamed.items()}
        for identity in sorted({*before, *after}):
            if identity in twice:
                changes.extend(_declared_twice(identity, old, new))
            elif identity not in after:
                message = (
                    f"{_called(identity)} is gone{_seems(renamed.get(identity), 'it seems to be {} now')}"
                )
                changes.append(make("item-removed", identity, message))
            elif identity not in before:
                message = f"{_called(identity)} is new{_seems(named_anew.get(identity), 'it seems to have been {}')}"
                changes.append(make("item-added", identity, message))
            elif before[identity].canonical == after[identity].canonical:
                untouched += 1
            else:
                found = list(item_changes(before[identity], after[identity], terms))
                changes.extend(found or [_unnamed(before[identity], after[identity])])
    ranked = in_rank(with_bases(changes, old, new))
    return SnapshotComparison(old.digest, new.digest, ranked, not_checked, untouched)


def _called(identity: str) -> str:
    kind, _, name = identity.partition(":")
    return f"the {kind} {name}"


def _seems(rename: tuple[str, str] | None, words: str) -> str:
    """Say which item another seems to be or to have been, with the evidence."""
    if rename is None:
        return ""
    return f"; {words.format(f'`{rename[0]}`')}: {rename[1]}"


def _unnamed(old: Item, new: Item) -> Change:
    """What is told when an item's bytes changed in a way that no kind names."""
    rewritten = any(
        not json_equal(old.body.get(field), new.body.get(field)) for field in ("inputSchema", "outputSchema")
    )
    said = "changed in a place of no meaning known here"
    if rewritten:
        said = "is written otherwise, and takes and returns the same"
    return make("metadata-changed", old.identity, f"{_called(old.identity)} {said}")


def _declared_twice(identity: str, old: Snapshot, new: Snapshot) -> Iterator[Change]:
    before = [item.digest for item in old.items if item.identity == identity]
    after = [item.digest for item in new.items if item.identity == identity]
    if before != after:
        yield make("declared-twice", identity, f"{_called(identity)} is declared more than once")
