"""The handful of values that routing decides by."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Facts:
    """What is known about a request when it is routed. None means *not checked*.

    Counts of findings leave out waived and known ones; ``tokens`` is an estimate.
    """

    first_release: bool
    worst_impact: str | None
    undecided: bool
    silent_changes: int
    version_honest: bool
    errors: int
    warnings: int
    safety_findings: int
    same_job_overlaps: int | None
    writing_tools: int
    newly_writing_tools: int
    data_class: str
    transports: tuple[str, ...]
    origin: str
    pinned: bool
    tokens: int
    team: str

    def document(self) -> dict[str, Any]:
        """Return the facts as a JSON object."""
        values = dataclasses.asdict(self)
        values["transports"] = list(self.transports)
        return values


FACTS: dict[str, str] = {
    "first_release": "no release of this server is published yet",
    "worst_impact": "breaking, undecided, caution or compatible against the base",
    "undecided": "something could not be decided",
    "silent_changes": "changes that no schema check notices",
    "version_honest": "the version is at least the honest one",
    "errors": "error findings that count",
    "warnings": "warnings that count",
    "safety_findings": "findings of the safety family that count",
    "same_job_overlaps": "overlaps of class same-job without a ruling",
    "writing_tools": "tools that do not say they only read",
    "newly_writing_tools": "such tools that are new since the base",
    "data_class": "the server's data class",
    "transports": "transports of the launch records",
    "origin": "captured by the service, by CI, or handed in",
    "pinned": "every package of a launch record has an integrity hash",
    "tokens": "estimated tokens of the whole snapshot",
    "team": "the owner team",
}
