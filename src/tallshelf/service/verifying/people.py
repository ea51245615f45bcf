"""People, teams, desks, seats, deputies and tokens, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State
from tallshelf.core.snapshot import digest
from tallshelf.service.people.models import Deputy, Desk, Person, Team, Token
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where accounts and what belongs to them are not as told."""
    yield from compare("team", {one.slug: {"title": one.title} for one in Team.objects.all()}, _teams(state))
    yield from compare("account", _people(), _told_people(state))
    yield from compare("desk", _desks(), _told_desks(state))
    yield from compare("seat", _seats(), _told_seats(state))
    yield from compare("deputy", _deputies(), _told_deputies(state))
    yield from compare("token", _tokens(), _told_tokens(state))


def _teams(state: State) -> dict[str, dict[str, object]]:
    return {slug: {"title": title} for slug, title in state.teams.items()}


def _people() -> dict[str, dict[str, object]]:
    return {
        one.username: {
            "role": one.role,
            "active": one.is_active,
            "teams": {team.slug for team in one.teams.all()},
            "password": digest(one.password),
            "subject": one.subject,
        }
        for one in Person.objects.prefetch_related("teams")
    }


def _told_people(state: State) -> dict[str, dict[str, object]]:
    told: dict[str, dict[str, object]] = {}
    for one in state.people.values():
        row: dict[str, object] = {"role": one.role, "active": one.active, "teams": set(one.teams)}
        if one.username in state.passwords:
            row["password"] = state.passwords[one.username]
        if one.username in state.subjects:
            row["subject"] = state.subjects[one.username]
        told[one.username] = row
    return told


def _desks() -> dict[str, dict[str, object]]:
    return {
        one.slug: {
            "owner_team_excluded": one.owner_team_excluded,
            "lead": one.lead.username if one.lead else "",
        }
        for one in Desk.objects.select_related("lead")
    }


def _told_desks(state: State) -> dict[str, dict[str, object]]:
    return {
        one.slug: {"owner_team_excluded": one.owner_team_excluded, "lead": one.lead}
        for one in state.desks.values()
    }


def _seats() -> dict[tuple[str, str], dict[str, object]]:
    rows = Desk.objects.prefetch_related("seats__person")
    return {
        (desk.slug, seat.person.username): {"since": seat.since} for desk in rows for seat in desk.seats.all()
    }


def _told_seats(state: State) -> dict[tuple[str, str], dict[str, object]]:
    return {
        (desk.slug, seat.username): {"since": seat.since} if seat.exact else {}
        for desk in state.desks.values()
        for seat in desk.seats
    }


def _deputies() -> dict[int, dict[str, object]]:
    return {
        one.pk: {
            "person": one.person.username,
            "deputy": one.deputy.username,
            "since": one.since,
            "until": one.until,
            "ended": one.ended_at is not None,
        }
        for one in Deputy.objects.select_related("person", "deputy")
    }


def _told_deputies(state: State) -> dict[int, dict[str, object]]:
    return {
        one.number: {
            "person": one.person,
            "deputy": one.deputy,
            "since": one.since,
            "until": one.until,
            "ended": one.ended,
        }
        for one in state.deputies.values()
        if one.number > 0
    }


def _tokens() -> dict[int, dict[str, object]]:
    return {
        one.pk: {
            "owner": one.person.username,
            "scopes": set(one.scopes),
            "parent": one.parent_id,
            "expires_at": one.expires_at,
            "hash": one.hash,
            "ended": one.ended_at is not None,
        }
        for one in Token.objects.select_related("person")
    }


def _told_tokens(state: State) -> dict[int, dict[str, object]]:
    return {
        one.number: {
            "owner": one.owner,
            "scopes": set(one.scopes),
            "parent": one.parent,
            "expires_at": one.expires_at,
            "hash": one.hash,
            "ended": one.ended,
        }
        for one in state.tokens.values()
    }
