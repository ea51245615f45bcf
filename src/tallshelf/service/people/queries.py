"""Reads about people."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.conf import settings
from django.contrib.sessions.models import Session
from django.db.models import Count, Prefetch, Q, QuerySet

from tallshelf.core.errors import NotFound
from tallshelf.service import clock
from tallshelf.service.people.actor import ALL_SCOPES, Actor
from tallshelf.service.people.every_call import places_of
from tallshelf.service.people.models import ConsoleSession, Deputy, Desk, Person, Team, Token
from tallshelf.service.people.permissions import require


def actor_for(person: Person, *, via: str, scopes: frozenset[str] = ALL_SCOPES) -> Actor:
    """Build the one value that stands for a caller."""
    places = places_of(person.pk, clock.now())
    return Actor(
        id=person.pk,
        username=person.username,
        name=person.name,
        role=person.role,
        teams=places.teams,
        desks=places.desks,
        scopes=scopes,
        via=via,
    )


def team(slug: str) -> Team:
    """Return a team; raise `NotFound` with the teams there are."""
    found = Team.objects.filter(slug=slug).first()
    if found is None:
        known = ", ".join(Team.objects.order_by("slug").values_list("slug", flat=True)[:20])
        raise NotFound(f"there is no team {slug!r}", remedy=f"Teams are: {known or 'none yet'}.")
    return found


def person(username: str) -> Person:
    """Return an account; raise `NotFound`."""
    found = Person.objects.filter(username=username).first()
    if found is None:
        raise NotFound(f"there is no account {username!r}")
    return found


def people() -> list[dict[str, Any]]:
    """Return every account with its teams, desks, sign-ins and tokens, by user name."""
    now = clock.now()
    rows = Person.objects.prefetch_related("teams", "seats__desk", "tokens", "invites").prefetch_related(
        Prefetch("console_sessions", standing_sessions())
    )
    return [
        {
            "username": person.username,
            "name": person.name,
            "role": person.role,
            "active": person.is_active,
            "teams": sorted(team.slug for team in person.teams.all()),
            "desks": sorted(seat.desk.slug for seat in person.seats.all()),
            "sessions": len(person.console_sessions.all()),
            "tokens": [
                {"id": token.pk, "name": token.name, "scopes": token.scopes, "expires_at": token.expires_at}
                for token in person.tokens.all()
                if token.ended_at is None and token.expires_at > now
            ],
            "last_used_at": max(
                [
                    *(session.last_used_at for session in person.console_sessions.all()),
                    *(token.last_used_at for token in person.tokens.all() if token.last_used_at),
                ],
                default=None,
            ),
            "invited_until": max(
                (
                    each.expires_at
                    for each in person.invites.all()
                    if not each.used_at and each.expires_at > now
                ),
                default=None,
            ),
        }
        for person in rows.order_by("username")
    ]


def teams(actor: Actor) -> list[dict[str, Any]]:
    """Return all teams."""
    require(actor, "see")
    return [dict(row) for row in Team.objects.order_by("slug").values("slug", "title")]


def desk_titles() -> dict[str, str]:
    """Return the title of every desk by its slug."""
    return dict(Desk.objects.values_list("slug", "title"))


def deputies(actor: Actor) -> list[dict[str, Any]]:
    """Return who stands in for whom, now and later, of those that concern an actor (a curator: all)."""
    require(actor, "see")
    rows = Deputy.objects.filter(until__gt=clock.now(), ended_at=None).select_related("person", "deputy")
    if actor.role not in ("curator", "steward"):
        rows = rows.filter(Q(person_id=actor.id) | Q(deputy_id=actor.id))
    return [
        {
            "id": deputy.pk,
            "person": deputy.person.name,
            "deputy": deputy.deputy.name,
            "since": deputy.since,
            "until": deputy.until,
            "own": deputy.person_id == actor.id,
        }
        for deputy in rows.order_by("since", "pk")
    ]


def tokens_of(actor: Actor) -> list[dict[str, Any]]:
    """Return an actor's own tokens that were not ended, newest first."""
    require(actor, "see")
    rows = Token.objects.filter(person_id=actor.id, ended_at=None).order_by("-created_at")
    shown = rows.values("id", "name", "scopes", "created_at", "expires_at", "last_used_at")
    return [dict(row) for row in shown]


def idle_since() -> datetime:
    """Return the moment after which a session was used if it stands still."""
    return clock.now() - timedelta(minutes=settings.CONFIG.idle_minutes)


def standing_sessions() -> QuerySet[ConsoleSession, ConsoleSession]:
    """Return the sign-ins to the console that have neither run out nor lain idle for too long."""
    live = Session.objects.filter(expire_date__gt=clock.now()).values("session_key")
    return ConsoleSession.objects.filter(key__in=live, last_used_at__gt=idle_since())


def sessions_of(actor: Actor, own_key: str) -> list[dict[str, Any]]:
    """Return an actor's sign-ins to the console that stand, newest first."""
    require(actor, "see")
    rows = standing_sessions().filter(person_id=actor.id).order_by("-started_at")
    return [
        {
            "id": row.pk,
            "browser": row.browser,
            "started_at": row.started_at,
            "last_used_at": row.last_used_at,
            "own": row.key == own_key,
        }
        for row in rows
    ]


def desk_sizes() -> dict[str, int]:
    """Return how many active people sit at each desk, by its slug."""
    rows = Desk.objects.annotate(size=Count("seats", filter=Q(seats__person__is_active=True)))
    return dict(rows.values_list("slug", "size"))


def desks() -> list[dict[str, Any]]:
    """Return every desk with its title, lead and the people who sit there."""
    found = Desk.objects.select_related("lead").prefetch_related("seats__person").order_by("slug")
    return [
        {
            "desk": desk.slug,
            "title": desk.title,
            "lead": desk.lead.name if desk.lead else None,
            "owner_team_excluded": desk.owner_team_excluded,
            "members": [
                {"username": seat.person.username, "name": seat.person.name, "since": seat.since}
                for seat in sorted(desk.seats.all(), key=lambda seat: seat.person.username)
                if seat.person.is_active
            ],
        }
        for desk in found
    ]
