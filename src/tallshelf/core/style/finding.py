"""Findings, and the waivers that set them aside."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from msgspec import Struct

Level = Literal["error", "warning", "note"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note")


class Finding(Struct, frozen=True):
    """One place where a snapshot goes against the house style.

    ``item`` is an identity or ``server``; ``pointer`` (RFC 6901) is relative to it; ``span``
    is a half-open range of characters of the text there, or None. ``suggestion`` is a JSON
    Patch (RFC 6902) relative to the item, or None. ``waived`` names the waiver that sets the
    finding aside; ``known`` says that it was accepted for the server. ``fingerprint`` is the digest of rule,
    item, pointer and what stands there: two findings of a rule at one place share it, other words of the rule
    do not move it, another text does.
    """

    rule: str
    family: str
    covers: tuple[str, ...]
    level: Level
    item: str
    pointer: str
    span: tuple[int, int] | None
    message: str
    suggestion: tuple[dict[str, Any], ...] | None
    fingerprint: str
    waived: str | None = None
    known: bool = False

    @property
    def counts(self) -> bool:
        """Whether the finding counts: neither waived nor known."""
        return self.waived is None and not self.known


class Waiver(Struct, frozen=True):
    """A recorded exception: for which rule and item (and place), why, by whom, until when.

    ``fingerprints`` are those of the findings it was granted on; None for one that is bound to no text.
    """

    id: str
    rule: str
    item: str
    reason: str
    by: str
    until: datetime | None = None
    pointer: str | None = None
    fingerprints: frozenset[str] | None = None

    def covers(self, finding: Finding, now: datetime | None) -> bool:
        """Whether this waiver sets a finding aside; without ``now`` none expires."""
        if self.until is not None and now is not None and now >= self.until:
            return False
        return (
            self.rule == finding.rule
            and self.item == finding.item
            and self.pointer in (None, finding.pointer)
            and (self.fingerprints is None or finding.fingerprint in self.fingerprints)
        )
