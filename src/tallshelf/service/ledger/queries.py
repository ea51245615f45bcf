"""Reading and verifying the ledger."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.ledger import MEMBERS, Checkpoint, Verification, verify_chain
from tallshelf.core.ledger.events import Event
from tallshelf.service.ledger import keys
from tallshelf.service.ledger.models import COLUMNS, Entry, as_row
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_OF_A_RELEASE = (
    Event.RELEASE_ADOPTED,
    Event.RELEASE_SUBMITTED,
    Event.SNAPSHOT_REPLACED,
    Event.REASSESSED,
    Event.SIGNED_OFF,
    Event.RELEASE_PUBLISHED,
    Event.RELEASE_DEPRECATED,
    Event.RELEASE_WITHDRAWN,
)


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
    return rows.values(*(name for name in MEMBERS if name != "subjects"))


def all_entries(upto: int | None = None) -> Iterator[dict[str, Any]]:
    """Yield every entry with its hash and MAC, the oldest first; perhaps only up to a number."""
    rows = Entry.objects.order_by("number")
    if upto is not None:
        rows = rows.filter(number__lte=upto)
    yield from map(as_row, rows.values(*COLUMNS).iterator())


def verify_ledger(checkpoint: Checkpoint | None = None) -> Verification:
    """Recompute every hash and MAC of the chain, perhaps against a checkpoint that was kept elsewhere."""
    return verify_chain(all_entries(), checkpoint, key=keys.mac_key())


def about_release(slug: str, version: str, request: int | None) -> list[dict[str, Any]]:
    """Return the entries about one release and the request by which it was published, the oldest first."""
    rows = []
    entries = Entry.objects.filter(subject=slug, event__in=_OF_A_RELEASE)
    for row in map(as_row, entries.order_by("number").values(*MEMBERS)):
        body = json.loads(row["body"])
        if body.get("version") == version or (request is not None and body.get("request") == request):
            rows.append({**row, "body": body})
    return rows
