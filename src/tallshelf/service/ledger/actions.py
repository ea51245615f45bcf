"""Writing to the ledger, inside the transaction of the act it tells of: if the ledger entitles its actor to it."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Any

from django.db import transaction

from tallshelf.core.entitlement import Entry as Act
from tallshelf.core.entitlement import Refused, entitled
from tallshelf.core.errors import Conflict, Denied, InputsMoved, ShelfError
from tallshelf.core.ledger import entry_hash, entry_mac
from tallshelf.core.ledger.events import Event, misfit
from tallshelf.core.snapshot import canonical
from tallshelf.service import clock
from tallshelf.service.ledger import keys, memory
from tallshelf.service.ledger.models import Entry, as_row
from tallshelf.service.people.actor import Actor

_ERRORS: dict[str, type[ShelfError]] = {"denied": Denied, "conflict": Conflict, "moved": InputsMoved}
_REMEDY = {
    "denied": "Ask someone who has no part in it.",
    "conflict": "Look again at what is there.",
    "moved": "Have it assessed again, then look at what is there now.",
}
Teller = Callable[[Mapping[str, Any], Mapping[str, Any]], None]
_tellers: list[Teller] = []
_ABOUT = ("server", "username", "desk", "team", "deputy")


def record(actor: Actor, event: str, payload: dict[str, Any]) -> Entry:
    """Append one entry, if what the ledger says entitles the actor to it.

    It must be called inside the transaction of the act, which it undoes by raising `Denied`, `Conflict` or
    `InputsMoved` with the reason; ValueError for an unknown event or a payload that is not of its type.
    """
    if not transaction.get_connection().in_atomic_block:
        raise ValueError("a ledger entry is written in the transaction of its act")
    known = Event(event)
    wrong = misfit(known, payload)
    if wrong:
        raise ValueError(wrong)
    at = clock.now().isoformat(timespec="milliseconds").replace("+00:00", "Z")
    body = canonical(payload).decode("utf-8")
    with memory.told() as state:
        number = state.number + 1
        # Judged by what will be read back from it, so that no value means one thing here and another later.
        act = Act(number, at, known.value, actor.username, actor.via, json.loads(body))
        verdict = entitled(state, act)
        if isinstance(verdict, Refused):
            raise _ERRORS[verdict.kind](verdict.reason, remedy=_REMEDY[verdict.kind])
        about = _subjects(payload)
        fields: dict[str, Any] = {
            "number": number,
            "at": at,
            "event": known.value,
            "actor": actor.username,
            "via": actor.via,
            "subject": _subject(payload),
            "body": body,
            "previous": state.head,
            "subjects": json.dumps(about),
        }
        hash_ = entry_hash({**fields, "subjects": about})
        made = Entry.objects.create(**fields, hash=hash_, mac=entry_mac(keys.mac_key(), hash_))
        memory.take_in(as_row({**fields, "hash": hash_}))
    for tell in _tellers:
        tell({**fields, "hash": hash_}, payload)
    return made


def register_teller(tell: Teller) -> None:
    """Let an app tell people of entries: called inside the transaction of each, with the entry and its payload."""
    if tell not in _tellers:
        _tellers.append(tell)


def _subject(payload: dict[str, Any]) -> str:
    if payload.get("kit"):
        return f"kit:{payload['kit']}"
    return next((str(payload[one]) for one in _ABOUT if payload.get(one)), "")


def _subjects(payload: dict[str, Any]) -> list[str]:
    """Return what an entry is about: server, account, desk, team; of a ruling the servers of its members."""
    named = [str(payload[one]) for one in _ABOUT if payload.get(one)]
    if payload.get("kit"):
        named.append(f"kit:{payload['kit']}")  # servers and kits may have the same name
    return sorted({*named, *(str(member).partition("#")[0] for member in payload.get("members", ()))})
