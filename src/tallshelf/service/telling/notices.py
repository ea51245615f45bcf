"""Who is told of an act, in its transaction: whoever it hits, and was not the one who did it.

Owners of a server are told what became of it and of their requests; owners of a kit what hits it, and that it moved.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.errors import BadArgument
from tallshelf.core.kits import Hit, ended, hits
from tallshelf.core.ledger.events import Event
from tallshelf.core.reports import change_from
from tallshelf.core.telling import TOLD, page_of, words_of
from tallshelf.service import clock
from tallshelf.service.catalog.models import Server
from tallshelf.service.kits.models import StoredKit
from tallshelf.service.kits.queries import holders
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.permissions import require
from tallshelf.service.review.models import Request
from tallshelf.service.telling.models import Notice

_MOST_KITS = 3
Body = Mapping[str, Any]


def tell(entry: Mapping[str, Any], body: Body) -> None:
    """Store, inside the transaction of an act, whom its entry tells what."""
    told = _WHOM.get(entry["event"])
    if told is None:
        return
    by_team = told(body)
    teams = {team for team, why in by_team.items() if why}
    people = Person.objects.filter(teams__slug__in=teams, is_active=True).exclude(role="ci")
    rows: dict[int, Notice] = {}
    for person, team in people.exclude(username=entry["actor"]).values_list("pk", "teams__slug"):
        if team in teams:
            rows.setdefault(person, _notice(person, entry, body, by_team[team]))
    Notice.objects.bulk_create(rows.values(), batch_size=200, ignore_conflicts=True)


def _notice(person: int, entry: Mapping[str, Any], body: Body, why: str) -> Notice:
    return Notice(
        person_id=person,
        entry=entry["number"],
        type=TOLD[Event(entry["event"])].type,
        words=words_of(entry["event"], body)[:600],
        because=why[:300],
        page=page_of(body)[:300],
        at=entry["at"],
    )


def _owner(body: Body) -> dict[str, str]:
    """Tell the owner team of the server that it is about."""
    server = Server.objects.select_related("team").filter(slug=body["server"]).first()
    return {server.team.slug: f"your team owns {server.slug}"} if server else {}


def _ends(body: Body) -> dict[str, str]:
    """Tell who holds what ends, or is stopped, and the owner team."""
    return {**_owner(body), **_of_hits(ended(_holders(body), body.get("version", ""), body.get("item", "")))}


def _holding(body: Body) -> dict[str, str]:
    """Tell who holds something of what may be used again or is otherwise now, and the owner team."""
    item = body.get("item", "")
    by_team: dict[str, list[str]] = {}
    for one in _holders(body):
        if item in ("", *one.held):
            by_team.setdefault(one.team, []).append(one.kit)
    return {
        **_owner(body),
        **{team: f"held by {', '.join(kits[:_MOST_KITS])}" for team, kits in by_team.items()},
    }


def _published(body: Body) -> dict[str, str]:
    """Tell whom a release hits, and the owner team."""
    request = Request.objects.select_related("assessment").filter(pk=body["request"]).first()
    changes = (request.assessment.document["changes"] or ()) if request else ()
    holding = _holders(body) if changes else []
    hit = hits([change_from(one) for one in changes], holding) if holding else ()
    return {**_owner(body), **_of_hits(hit)}


def _holders(body: Body) -> list[Any]:
    server = Server.objects.filter(slug=body["server"]).first()
    return holders(server) if server else []


def _of_hits(found: Iterable[Hit]) -> dict[str, str]:
    by_team: dict[str, list[Hit]] = {}
    for one in found:
        by_team.setdefault(one.team, []).append(one)
    return {team: _hit_words(those) for team, those in by_team.items()}


def _hit_words(those: list[Hit]) -> str:
    named = ", ".join(f"{one.kit} ({one.word})" for one in those[:_MOST_KITS])
    more = f" and {len(those) - _MOST_KITS} more" if len(those) > _MOST_KITS else ""
    return f"it hits your kit{'' if len(those) == 1 else 's'} {named}{more}"


def _keepers(body: Body) -> dict[str, str]:
    """Tell the owner team of a kit."""
    kit = StoredKit.objects.select_related("team").filter(name=body["kit"]).first()
    return {kit.team.slug: f"your team keeps {kit.name}"} if kit else {}


_WHOM: dict[str, Callable[[Body], dict[str, str]]] = {
    Event.RELEASE_PUBLISHED: _published,
    Event.RELEASE_DEPRECATED: _ends,
    Event.RELEASE_WITHDRAWN: _ends,
    Event.SUSPENDED: _ends,
    Event.SUSPENSION_LIFTED: _holding,
    Event.ITEM_PURGED: _holding,
    Event.SIGNED_OFF: _owner,
    Event.REQUEST_DECLINED: _owner,
    Event.RELEASE_DECLINED: _owner,
    Event.DATA_CLASS_CHANGED: _holding,
    Event.KIT_PUT: _keepers,
    Event.KIT_MOVED: _keepers,
    Event.KIT_DROPPED: _keepers,
}
"""By event, whom it tells: owner teams, each with why."""


def notices(actor: Actor, *, unread: bool = False) -> QuerySet[Any, Any]:
    """Return what an actor was told, one lean row each."""
    require(actor, "see")
    rows: QuerySet[Any, Any] = Notice.objects.filter(person_id=actor.id)
    if unread:
        rows = rows.filter(read_at=None)
    return rows.values("entry", "type", "words", "because", "page", "at", "read_at")


def mark_read(actor: Actor, upto: int) -> int:
    """Note that an actor has read what they were told up to an entry; return how many were new to them."""
    require(actor, "see")
    if upto < 0:
        raise BadArgument("there is no entry below 0")
    rows = Notice.objects.filter(person_id=actor.id, entry__lte=upto, read_at=None)
    return rows.update(read_at=clock.now())
