"""Reading and verifying the ledger."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.snapshot import digest
from tallshelf.service.ledger.models import GENESIS, Entry
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_HASHED = ("number", "at", "event", "actor", "via", "subject", "body", "previous")


@dataclass(frozen=True)
class Verification:
    """Whether the chain holds; ``fault`` names the first entry that does not, and why."""

    entries: int
    head: str
    fault: str = ""


def entries(actor: Actor, *, subject: str = "", event: str = "", by: str = "") -> QuerySet[Any, Any]:
    """Return the ledger for those who may read it all, filtered."""
    require(actor, "see-ledger")
    rows: QuerySet[Any, Any] = Entry.objects.all()
    if subject:
        rows = rows.filter(subject=subject)
    if event:
        rows = rows.filter(event=event)
    if by:
        rows = rows.filter(actor=by)
    return rows.values(*_HASHED, "hash")


def verify_chain() -> Verification:
    """Recompute every hash; any edit, gap or reorder inside the chain is found."""
    previous, expected = GENESIS, 1
    for row in Entry.objects.order_by("number").values(*_HASHED, "hash").iterator():
        fields = {name: row[name] for name in _HASHED}
        if row["number"] != expected:
            return Verification(expected - 1, previous, f"entry {expected} is missing")
        if row["previous"] != previous:
            return Verification(expected - 1, previous, f"entry {expected} does not follow the one before it")
        if digest(fields) != row["hash"]:
            return Verification(expected - 1, previous, f"entry {expected} was edited")
        previous, expected = row["hash"], expected + 1
    return Verification(expected - 1, previous)
