"""Conditions that reviewers agreed under: read with the sign-off, and closed when they are met."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db import transaction

from tallshelf.core.errors import BadArgument, Denied, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.review import queries

MOST = 10


@dataclass(frozen=True)
class Condition:
    """What is to be done, by whom, and by which day."""

    text: str
    owner: Person
    due: date

    def document(self) -> dict[str, str]:
        return {"text": self.text, "owner": self.owner.username, "due": self.due.isoformat()}


def read_conditions(given: Iterable[Mapping[str, Any]]) -> tuple[Condition, ...]:
    """Read the conditions of a sign-off: ``text``, ``owner`` (a user name) and ``due`` (a day ahead)."""
    conditions = []
    for one in given:
        owner = Person.objects.filter(username=one["owner"], is_active=True).exclude(role="ci").first()
        if owner is None:
            raise BadArgument(f"there is no one called {one['owner']!r} to own a follow-up")
        if one["due"] < clock.now().date():
            raise BadArgument("a follow-up is due on a day ahead")
        if not one["text"].strip():
            raise BadArgument("a follow-up says what is to be done")
        conditions.append(Condition(one["text"].strip(), owner, one["due"]))
    if len(conditions) > MOST:
        raise BadArgument(f"a sign-off has at most {MOST} conditions", remedy="Send it back instead.")
    return tuple(conditions)


@transaction.atomic
def close_follow_up(actor: Actor, number: int, note: str) -> None:
    """Close a follow-up, saying what was done: its owner, who asked for it, or a curator."""
    require(actor, "comment")
    follow_up = queries.follow_up(actor, number)
    if follow_up.sign_off.voided_at is not None:
        raise NotFound(f"there is no follow-up {number}", remedy="The sign-off that asked for it is void.")
    if follow_up.closed_at is not None:
        return
    if (
        actor.id not in (follow_up.owner_id, follow_up.sign_off.person_id)
        and refusal(actor, "curate") is not None
    ):
        raise Denied(
            f"follow-up {number} is {follow_up.owner.name}'s", remedy="They close it, or a curator does."
        )
    follow_up.closed_at, follow_up.closed_by_id, follow_up.closing_note = (
        clock.now(),
        actor.id,
        need_reason(note),
    )
    follow_up.save(update_fields=["closed_at", "closed_by", "closing_note"])
    request = follow_up.sign_off.request
    about = {"server": request.server.slug, "request": request.pk, "follow_up": number}
    record(actor, Event.FOLLOW_UP_CLOSED, {**about, "note": follow_up.closing_note})
