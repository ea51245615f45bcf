"""What people ruled of silent changes: that they do not move the meaning."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from tallshelf.core.changes.result import Change, SnapshotComparison, in_rank
from tallshelf.core.changes.table import TABLE
from tallshelf.core.pointer import value_at
from tallshelf.core.snapshot import Snapshot, digest

SAME_MEANING = "same-meaning"
"""The word of a ruling that a silent change does not move the meaning."""

RULED_ON = frozenset(kind for kind, row in TABLE.items() if row.silent) - {"argument-ignored"}
"""The kinds that may be ruled on. Whoever gives an ignored argument is answered otherwise, whatever one rules."""


def with_bases(changes: Iterable[Change], old: Snapshot, new: Snapshot) -> list[Change]:
    """Return changes, each that may be ruled on with its basis: its kind, and the digest of both texts."""
    found = list(changes)
    if not any(change.silent and change.kind in RULED_ON for change in found):
        return found
    sides = [{item.identity: item.body for item in side.items} for side in (old, new)]
    return [
        replace(change, basis=_basis(change, *sides)) if change.silent and change.kind in RULED_ON else change
        for change in found
    ]


def with_rulings(
    comparison: SnapshotComparison, rulings: Iterable[tuple[frozenset[str], str]]
) -> SnapshotComparison:
    """Return a comparison in which changes that were ruled on are no longer silent; they stay, and say so.

    Rulings are bases, as the parts of `Change.basis`, each with its reason. A ruling holds in both directions:
    what did not move the meaning one way does not move it back.
    """
    reasons = dict(rulings)
    if not reasons or not any(change.basis for change in comparison.changes):
        return comparison
    settled = (
        replace(
            change, silent=False, message=f"{change.message}; ruled to mean the same", ruled=reasons[parts]
        )
        if (parts := parts_of(change.basis)) in reasons
        else change
        for change in comparison.changes
    )
    return replace(comparison, changes=in_rank(settled))


def parts_of(basis: str) -> frozenset[str]:
    """Return the parts of a basis, by which rulings are found."""
    return frozenset(basis.split("|")) if basis else frozenset()


def _basis(change: Change, before: dict[str, Any], after: dict[str, Any]) -> str:
    texts = (
        digest(
            [change.item, pointer, value_at(side.get(change.item), pointer) if pointer is not None else None]
        )
        for side, pointer in ((before, change.old_pointer), (after, change.new_pointer))
    )
    return "|".join([change.kind, *texts])
