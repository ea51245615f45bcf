"""Changes, and the comparison of two snapshots."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

from msgspec import Struct
from msgspec.structs import replace

from tallshelf.core.compat import Witness
from tallshelf.core.snapshot import Scheme, parse_version

Impact = Literal["breaking", "undecided", "caution", "compatible"]
Reach = Literal["callers", "receivers", "choosers", "operators"]

IMPACTS: tuple[Impact, ...] = ("breaking", "undecided", "caution", "compatible")
"""From worst to mildest; *undecided* is treated as breaking wherever something is decided by it."""


class Change(Struct, frozen=True):
    """One difference between two snapshots.

    ``item`` is an item's identity, or ``server``; pointers (RFC 6901) are relative to the item, None
    where that side has no such place. ``proof`` is ``witness``, ``counted`` (the smallest counterexample
    is too large to be written down), ``protocol-table``, ``shown`` (by proof) or empty. ``notice`` is how
    much of a text's telling words went or came, from 0 to 1, by which a chooser would notice; None where
    no text changed. ``basis`` names a silent change that people may rule on (``KIND|DIGEST|DIGEST``, of both
    texts), ``ruled`` is why they ruled that it does not move the meaning: it is then not silent any more.
    """

    item: str
    kind: str
    impact: Impact
    reach: tuple[Reach, ...]
    message: str
    silent: bool = False
    old_pointer: str | None = None
    new_pointer: str | None = None
    witness: Witness | None = None
    proof: str = ""
    folded: bool = False
    notice: float | None = None
    basis: str = ""
    ruled: str = ""


class NextVersion(Struct, frozen=True):
    """The version that was declared, the least honest one, and why.

    In a calendar ``scheme`` no number can be honest (``honest`` is None): there ``breaking`` is what the submitter
    declared, and ``breaks`` whether what changed would ask SemVer for a major version.
    """

    declared: str | None
    honest: str | None
    because: tuple[str, ...]
    scheme: Scheme = "semver"
    breaking: bool = False
    breaks: bool = False

    @property
    def is_honest(self) -> bool:
        """Whether the declared version, or what it is a pre-release of, is at least the honest one.

        In a calendar scheme, whether what breaks is declared to. True when there is no base.
        """
        if self.scheme == "calendar":
            return self.breaking or not self.breaks
        if self.honest is None:
            return True
        if self.declared is None:
            return False
        declared = parse_version(self.declared)
        return max(declared, declared.finalize_version()) >= parse_version(self.honest)

    @property
    def fault(self) -> str:
        """In words, why it is not honest; empty where it is."""
        if self.is_honest:
            return ""
        if self.scheme == "calendar":
            return "it breaks, or may, and is not declared to (--breaking)"
        return f"the version {self.declared or '(none)'} is lower than the honest one, {self.honest}"


class SnapshotComparison(Struct, frozen=True):
    """All changes between two snapshots, worst first, and what could not be compared."""

    old_digest: str
    new_digest: str
    changes: tuple[Change, ...]
    not_checked: tuple[str, ...]
    untouched: int

    def count(self, impact: Impact) -> int:
        """How many changes, folded ones apart, have an impact."""
        return sum(change.impact == impact and not change.folded for change in self.changes)

    def narrowed(self, *, impact: str = "", reach: str = "", only: str = "") -> SnapshotComparison:
        """Return the comparison with the changes of one impact (or ``silent``), reach or item alone."""
        kept = tuple(
            change
            for change in self.changes
            if (not impact or (change.silent if impact == "silent" else change.impact == impact))
            and (not reach or reach in change.reach)
            and (not only or change.item == only)
        )
        return replace(self, changes=kept)

    @property
    def silent(self) -> tuple[Change, ...]:
        return tuple(change for change in self.changes if change.silent)


def in_rank(changes: Iterable[Change]) -> tuple[Change, ...]:
    """Return changes worst first, the silent ones before others of their impact, folded ones last."""
    return tuple(sorted(changes, key=_rank))


def _rank(change: Change) -> tuple[Any, ...]:
    return (
        change.folded,
        IMPACTS.index(change.impact),
        not change.silent,
        change.item,
        change.new_pointer or change.old_pointer or "",
        change.kind,
        change.message,
    )
