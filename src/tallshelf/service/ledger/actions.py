"""Writing to the ledger, inside the transaction of the act it tells of."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from tallshelf.core.ledger import GENESIS, entry_hash
from tallshelf.core.snapshot import canonical
from tallshelf.service import clock
from tallshelf.service.ledger.events import Event, misfit
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actor import Actor


def record(actor: Actor, event: str, payload: dict[str, Any]) -> Entry:
    """Append one entry. It must be called inside the transaction of the act.

    Raises ValueError for an unknown event or a payload that is not of its type.
    """
    if not transaction.get_connection().in_atomic_block:
        raise ValueError("a ledger entry is written in the transaction of its act")
    known = Event(event)
    wrong = misfit(known, payload)
    if wrong:
        raise ValueError(wrong)
    last = Entry.objects.order_by("-number").first()
    fields: dict[str, Any] = {
        "number": last.number + 1 if last else 1,
        "at": clock.now().isoformat(timespec="milliseconds").replace("+00:00", "Z"),
        "event": known.value,
        "actor": actor.username,
        "via": actor.via,
        "subject": str(payload.get("server") or payload.get("username") or payload.get("desk") or ""),
        "body": canonical(payload).decode("utf-8"),
        "previous": last.hash if last else GENESIS,
    }
    return Entry.objects.create(**fields, hash=entry_hash(fields))
