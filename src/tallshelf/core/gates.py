"""The gates of a check: what makes a release that is to be published fail."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any

from msgspec import Struct

if TYPE_CHECKING:
    from tallshelf.core.changes import NextVersion, SnapshotComparison
    from tallshelf.core.overlap import Overlap
    from tallshelf.core.snapshot import LaunchRecord
    from tallshelf.core.style import Finding


class Gate(Struct, frozen=True):
    """What makes a check of a release that is to be published fail."""

    errors: bool = True
    version: bool = True
    overlaps: bool = True
    undecided: bool = True
    launch: bool = True
    safety: bool = True


SAFETY, ERRORS, VERSION = "safety-findings", "error-findings", "version-too-low"
OVERLAPS, UNDECIDED, NO_LAUNCH = "unruled-overlap", "undecided", "no-launch-record"
GATES: dict[str, str] = {
    SAFETY: "findings of the safety family that are not waived; nobody agrees to them",
    ERRORS: "findings of level error that are neither waived nor accepted",
    VERSION: "a version lower than the honest one, or a calendar version that breaks undeclared",
    OVERLAPS: "an overlap of class same-job without a ruling, whose newer item is of this release",
    UNDECIDED: "a comparison that is undecided in places",
    NO_LAUNCH: "no launch record, so that nobody could connect to it",
}
"""The gates of a check, by the names under which a sign-off may say why despite one it agrees."""


class FailedGate(Struct, frozen=True):
    """A gate that fails: its name, the items at fault (identities, sorted), and what is wrong, in words."""

    gate: str
    items: tuple[str, ...]
    message: str

    def document(self) -> dict[str, Any]:
        return {"gate": self.gate, "items": list(self.items), "message": self.message}


def failed_gates(
    gate: Gate,
    findings: Iterable[Finding],
    honest: NextVersion,
    comparison: SnapshotComparison | None,
    overlaps: Iterable[Overlap] | None,
    launches: Iterable[LaunchRecord] | None,
) -> Iterator[FailedGate]:
    """Yield the gates that fail, worst first; None was not checked, and fails nothing."""
    counting = [finding for finding in findings if finding.counts]
    unsafe = [finding for finding in counting if finding.family == "safety"]
    if gate.safety and unsafe:
        yield FailedGate(SAFETY, _items(unsafe), _found(unsafe, "safety finding"))
    errors = [finding for finding in counting if finding.level == "error" and finding.family != "safety"]
    if gate.errors and errors:
        yield FailedGate(ERRORS, _items(errors), _found(errors, "error finding"))
    if gate.version and not honest.is_honest:
        yield FailedGate(VERSION, (), honest.fault)
    same_job = [overlap for overlap in overlaps or () if overlap.is_gated]
    if gate.overlaps and same_job:
        items = tuple(sorted({overlap.a.item for overlap in same_job}))
        yield FailedGate(OVERLAPS, items, f"{_count(len(same_job), 'same-job overlap')} without a ruling")
    if gate.undecided and comparison is not None and comparison.count("undecided"):
        items = tuple(sorted({change.item for change in comparison.changes if change.impact == "undecided"}))
        yield FailedGate(UNDECIDED, items, "the comparison is undecided in places")
    if gate.launch and launches is not None and not tuple(launches):
        yield FailedGate(NO_LAUNCH, (), "there is no launch record, so that nobody could connect to it")


def _items(findings: Iterable[Finding]) -> tuple[str, ...]:
    return tuple(sorted({finding.item for finding in findings}))


def _found(findings: list[Finding], what: str) -> str:
    more = f", and {len(findings) - 1} more" if len(findings) > 1 else ""
    return f"{_count(len(findings), what)}: {findings[0].rule} at {findings[0].item}{more}"


def _count(number: int, what: str) -> str:
    return f"{number} {what}{'s' if number != 1 else ''}"
