"""People, teams, desks, seats, deputies and tokens, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State
from tallshelf.core.snapshot import digest
from tallshelf.service.people.models import Deputy, Desk, Person, Team, Token
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where accounts and what belongs to them are not as told."""
    yield from compare(
        "team", {team.slug: {"title": team.title} for team in Team.objects.all()}, _teams(state)
    )
    yield from compare("account", _people(), _told_people(state))
    yield from compare("desk", _desks(), _told_desks(state))
    yield from compare("seat", _seats(), _told_seats(state))
    yield from compare("deputy", _deputies(), _told_deputies(state))
    yield from compare("token", _tokens(), _told_tokens(state))


def _teams(state: State) -> dict[str, dict[str, object]]:
    return {slug: {"title": title} for slug, title in state.teams.items()}


def _people() -> dict[str, dict[str, object]]:
    return {
        person.username: {
            "role": person.role,
            "active": person.is_active,
            "teams": {team.slug for team in person.teams.all()},
            "password": digest(person.password),
            "subject": person.subject,
        }
        for person in Person.objects.prefetch_related("teams")
    }


def _told_people(state: State) -> dict[str, dict[str, object]]:
    told: dict[str, dict[str, object]] = {}
    for person in state.people.values():
        row: dict[str, object] = {"role": person.role, "active": person.active, "teams": set(person.teams)}
        if person.username in state.passwords:
            row["password"] = state.passwords[person.username]
        if person.username in state.subjects:
            row["subject"] = state.subjects[person.username]
        told[person.username] = row
    return told


def _desks() -> dict[str, dict[str, object]]:
    return {
        desk.slug: {
            "owner_team_excluded": desk.owner_team_excluded,
            "lead": desk.lead.username if desk.lead else "",
        }
        for desk in Desk.objects.select_related("lead")
    }


def _told_desks(state: State) -> dict[str, dict[str, object]]:
    return {
        desk.slug: {"owner_team_excluded": desk.owner_team_excluded, "lead": desk.lead}
        for desk in state.desks.values()
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
        deputy.pk: {
            "person": deputy.person.username,
            "deputy": deputy.deputy.username,
            "since": deputy.since,
            "until": deputy.until,
            "ended": deputy.ended_at is not None,
        }
        for deputy in Deputy.objects.select_related("person", "deputy")
    }


def _told_deputies(state: State) -> dict[int, dict[str, object]]:
    return {
        deputy.number: {
            "person": deputy.person,
            "deputy": deputy.deputy,
            "since": deputy.since,
            "until": deputy.until,
            "ended": deputy.ended,
        }
        for deputy in state.deputies.values()
        if deputy.number > 0
    }


def _tokens() -> dict[int, dict[str, object]]:
    return {
        token.pk: {
            "owner": token.person.username,
            "scopes": set(token.scopes),
            "parent": token.parent_id,
            "expires_at": token.expires_at,
            "hash": token.hash,
            "ended": token.ended_at is not None,
        }
        for token in Token.objects.select_related("person")
    }


def _told_tokens(state: State) -> dict[int, dict[str, object]]:
    return {
        token.number: {
            "owner": token.owner,
            "scopes": set(token.scopes),
            "parent": token.parent,
            "expires_at": token.expires_at,
            "hash": token.hash,
            "ended": token.ended,
        }
        for token in state.tokens.values()
    }
