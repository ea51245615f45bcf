"""The handful of values that routing decides by."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from msgspec import Struct
from msgspec.structs import asdict

from tallshelf.core.routing.classes import DATA_CLASSES
from tallshelf.core.routing.kinds import REQUEST_KINDS


class Facts(Struct, frozen=True):
    """What is known about a request when it is routed. None means *not checked*.

    Counts of findings leave out waived and known ones; ``tokens`` is an estimate, ``token_growth``
    the percentage by which it grew over the base, negative where it shrank.
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
    kind: str = "publish"
    data_class_rises: bool = False
    open_world_tools: int = 0
    token_growth: int | None = None
    days_since_release: int | None = None
    loosened_consent: int = 0
    kits_hit: int | None = None
    teams_hit: int | None = None
    breaking_kits: int | None = None
    hit_teams: tuple[str, ...] = ()

    def document(self) -> dict[str, Any]:
        """Return the facts as a JSON object."""
        values = asdict(self)
        values["transports"] = list(self.transports)
        values["hit_teams"] = list(self.hit_teams)
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
    "kind": f"what is asked for: {', '.join(REQUEST_KINDS[:-1])} or {REQUEST_KINDS[-1]}",
    "data_class_rises": "the data class is, or would be, higher than at the base",
    "open_world_tools": "tools that do not say that they stay within a closed world",
    "token_growth": "percent by which the tokens grew over the base",
    "days_since_release": "whole days since the base was published",
    "loosened_consent": "changes by which hosts ask people less before a tool is called",
    "kits_hit": "kits that hold an item which changed, or a release that ends",
    "teams_hit": "owner teams of these kits",
    "breaking_kits": "kits that it breaks, or may: by what is breaking, undecided, ignored, silent or ends",
    "hit_teams": "owner teams of the kits that are hit, when the request was handed in",
}

DOMAINS: dict[str, tuple[Any, ...]] = {
    "worst_impact": ("breaking", "undecided", "caution", "compatible", None),
    "data_class": DATA_CLASSES,
    "transports": ("stdio", "streamable-http", "http+sse"),
    "kind": REQUEST_KINDS,
}
"""The values of facts that have few."""


def facts_from(document: Mapping[str, Any]) -> Facts:
    """Return the facts that `Facts.document` wrote, also before some facts were known."""
    known = {name: document[name] for name in FACTS if name in document}
    lists = {name: tuple(document.get(name, ())) for name in ("transports", "hit_teams")}
    return Facts(**{**known, **lists})


def type_of(fact: str) -> type:
    """Return what a fact is when it was checked: bool, int, str or tuple."""
    written = str(Facts.__annotations__[fact])
    return {"bool": bool, "int": int, "str": str}.get(written.partition(" ")[0], tuple)
