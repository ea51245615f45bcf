"""The ledger as it is told: to programs as a stream of events, to readers of feeds as what is new."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from django.db.models import Max, QuerySet

from tallshelf.core.errors import Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.core.telling import TOLD, words_of
from tallshelf.service.catalog.models import Server
from tallshelf.service.kits.models import HeldItem, StoredKit
from tallshelf.service.kits.queries import kit as kit_named
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import reads_at, refusal, require
from tallshelf.service.people.queries import team as team_named
from tallshelf.service.review.models import Request

MOST = 200
FEED = 50
_UNPUBLISHED = frozenset(event.value for event, told in TOLD.items() if told.unpublished)
_COLUMNS = ("number", "at", "event", "hash", "body")


def head() -> int:
    """Return the number of the last entry there is."""
    found: int | None = Entry.objects.aggregate(last=Max("number"))["last"]
    return found or 0


def told_after(
    actor: Actor, after: int, limit: int, types: frozenset[str] = frozenset()
) -> tuple[list[dict[str, Any]], int, bool]:
    """Return events that an actor may see behind a number, the oldest first; where to go on; whether more wait.

    ``types`` narrows them. Raises `Conflict` for a number that the ledger has not come to: it is another one's, or
    of before a backup was restored.
    """
    require(actor, "see")
    last = head()
    if after > last:
        raise Conflict(
            f"there is no event {after} yet; the last is {last}",
            remedy="A backup was restored, or the number is of another service: begin again behind 0.",
        )
    rows = list(
        _told(types)
        .filter(number__gt=after, number__lte=last)
        .order_by("number")
        .values(*_COLUMNS)[: limit + 1]
    )
    page = rows[:limit]
    more = len(rows) > limit
    return list(_visible(actor, page)), page[-1]["number"] if more else last, more


def words_of_entries(numbers: Iterable[int]) -> dict[int, str]:
    """Return entries that are told, by number, each in words."""
    rows = _told(frozenset()).filter(number__in=set(numbers)).values_list("number", "event", "body")
    return {number: words_of(event, json.loads(body)) for number, event, body in rows}


def newest(actor: Actor, *, server: str = "", team: str = "", kit: str = "") -> list[dict[str, Any]]:
    """Return the newest events that an actor may see: of a server, a team, what a kit holds, or of everything."""
    require(actor, "see")
    rows = _told(frozenset())
    if server or team or kit:
        rows = rows.filter(subject__in=_subjects(server, team, kit))
    found = rows.order_by("-number").values(*_COLUMNS)[: 4 * FEED]
    return list(_visible(actor, found))[:FEED]


def _subjects(server: str, team: str, kit: str) -> list[str]:
    if server:
        return [server]
    if kit:
        found = kit_named(kit)
        held = HeldItem.objects.filter(kit=found).values_list("server__slug", flat=True).distinct()
        return [f"kit:{kit}", *held]
    owner = team_named(team)
    kits = StoredKit.objects.filter(team=owner).values_list("name", flat=True)
    servers = Server.objects.filter(team=owner).values_list("slug", flat=True)
    return [*servers, *(f"kit:{name}" for name in kits)]


def _told(types: frozenset[str]) -> QuerySet[Entry, Entry]:
    wanted: list[Event] = [event for event, told in TOLD.items() if not types or told.type in types]
    return Entry.objects.filter(event__in=[one.value for one in wanted])


def _visible(actor: Actor, rows: Iterable[dict[str, Any]]) -> Iterable[dict[str, Any]]:
    """Yield the entries that an actor may see, their bodies read: of what is not published by team, role or desk."""
    read = [{**row, "body": json.loads(row["body"])} for row in rows]
    unpublished = [one for one in read if one["event"] in _UNPUBLISHED]
    numbers = {one["body"].get("request", 0) for one in unpublished}  # older entries name none
    asked = {
        number: (team, desks)
        for number, team, desks in Request.objects.filter(pk__in=numbers).values_list(
            "pk", "server__team__slug", "desks"
        )
    }
    alone = {one["body"].get("server", "") for one in unpublished if not one["body"].get("request")}
    owners = dict(Server.objects.filter(slug__in=alone).values_list("slug", "team__slug"))
    for one in read:
        if one["event"] in _UNPUBLISHED:
            owner = owners.get(one["body"].get("server", ""), "")
            team, desks = asked.get(one["body"].get("request", 0), (owner, []))
            if refusal(actor, "see-unpublished", team) is not None and not reads_at(actor, desks):
                continue
        yield one
