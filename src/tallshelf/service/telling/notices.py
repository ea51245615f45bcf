"""Telling people and programs of an act, in its transaction: notices, and what is to leave the service.

How each person is told is their own choice: of the thing it is about, else of all that concerns their teams and desks.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from django.db.models import Q, QuerySet

from tallshelf.core.entitlement import ALL_SCOPES, refusal_of
from tallshelf.core.errors import BadArgument
from tallshelf.core.ledger.events import Event
from tallshelf.core.telling import TOLD, page_of, words_of
from tallshelf.service import clock
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person, Role
from tallshelf.service.people.permissions import require
from tallshelf.service.telling import outbox
from tallshelf.service.telling.models import WAYS, Following, MailAddress, Notice, Webhook
from tallshelf.service.telling.whom import Whom, whom

Body = Mapping[str, Any]
_SPECIFIC = ("server", "kit", "team", "catalog")


def tell(entry: Mapping[str, Any], body: Body) -> None:
    """Store, inside the transaction of an act, whom its entry tells what, and what is to be sent."""
    event = Event(entry["event"])
    if event not in TOLD:
        return
    found = whom(event, body)
    _tell_people(event, entry, body, found)
    _tell_webhooks(event, entry["number"], found)


def _tell_people(event: Event, entry: Mapping[str, Any], body: Body, whom: Whom) -> None:
    chosen = _chosen(whom.things)
    why = {one.pk: reason for one, reason in _people(event, whom, chosen) if one.username != entry["actor"]}
    default = dict(
        MailAddress.objects.filter(person__in=why).exclude(confirmed_at=None).values_list("person_id", "how")
    )
    confirmed = set(default)
    ways = {}
    for person in why:
        how = chosen.get(person) or default.get(person, "inbox")
        ways[person] = how if person in confirmed or how == "nothing" else "inbox"
    by_name = dict(Person.objects.filter(username__in=whom.tasks).values_list("pk", "username"))
    rows = [
        Notice(
            person_id=person,
            entry=entry["number"],
            type=TOLD[event].type,
            words=words_of(entry["event"], body)[:600],
            because=reason[:300],
            page=page_of(body)[:300],
            at=entry["at"],
            # What one has to do stands in the inbox by itself.
            read_at=clock.now() if person in by_name else None,
        )
        for person, reason in why.items()
        if ways[person] != "nothing"
    ]
    outbox.add_mails(Notice.objects.bulk_create(rows, batch_size=200), ways)


def _chosen(things: Iterable[str]) -> dict[int, str]:
    """Return how people chose to be told of any of some things: what is chosen for the narrowest counts."""
    best: dict[int, tuple[int, int, str]] = {}
    rows = Following.objects.filter(about__in=things).values_list("person_id", "about", "how")
    for person, about, how in rows:
        kind = about.partition(":")[0]
        rank = (max(_SPECIFIC.index(kind), 1), -_LOUDER.index(how), how)
        best[person] = min(best.get(person, rank), rank)
    return {person: how for person, (_, _, how) in best.items()}


_LOUDER = ("nothing", "inbox", "digest", "mail")
assert set(_LOUDER) == set(WAYS)


def _people(event: Event, whom: Whom, chosen: Mapping[int, str]) -> Iterator[tuple[Person, str]]:
    """Yield everybody who is told, each once, with why: what concerns them before what they follow."""
    named = {**whom.tasks, **whom.people}
    concerned = Q(username__in=named) | Q(teams__slug__in=whom.teams) | Q(pk__in=chosen)
    people = Person.objects.filter(concerned, is_active=True).exclude(role=Role.CI).distinct()
    for person in people.prefetch_related("teams"):
        teams = [team.slug for team in person.teams.all()]
        own = next((whom.teams[team] for team in teams if team in whom.teams), "")
        why = named.get(person.username) or own
        if not why and TOLD[event].unpublished:
            hidden = refusal_of(person.role, ALL_SCOPES, teams, "see-unpublished", whom.owner)
            if hidden is not None:
                continue
        yield person, why or "you follow it"


def _tell_webhooks(event: Event, number: int, whom: Whom) -> None:
    wanted = {}
    for webhook in Webhook.objects.filter(ended_at=None).select_related("team"):
        team = webhook.team.slug
        concerned = team == whom.owner or team in whom.teams
        published = webhook.about == "catalog" and not TOLD[event].unpublished
        if (concerned or published) and (not webhook.types or TOLD[event].type in webhook.types):
            wanted[webhook.pk] = whom.teams.get(team, "")
    if wanted:
        outbox.add_events(wanted, number)


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
