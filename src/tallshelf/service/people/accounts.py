"""Acts of a steward on accounts: inviting, changing, ending what an account still has."""

from __future__ import annotations

import secrets
from collections.abc import Iterable
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied
from tallshelf.service import clock
from tallshelf.service.people import queries
from tallshelf.service.people.actions import add_person, hash_of
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.desks import keep_led
from tallshelf.service.people.entries import tell_password, write_entry
from tallshelf.service.people.models import ConsoleSession, Invite, Person, Role, Token
from tallshelf.service.people.passwords import choose, need_passwords
from tallshelf.service.people.permissions import require
from tallshelf.service.people.sessions import end_all

INVITE_LASTS = timedelta(days=7)


@transaction.atomic
def add_account(
    actor: Actor, username: str, name: str, role: str, teams: Iterable[str] = ()
) -> tuple[Person, str]:
    """Add an account; return it with the code of its invitation, which is shown this once.

    Where there is no password there is no invitation (an empty code): a CI account works by tokens, and
    people may sign in at the issuer only.
    """
    person = add_person(actor, username, name, role, None, teams)
    invited = role != Role.CI and settings.CONFIG.passwords
    return person, _invite(actor, person) if invited else ""


@transaction.atomic
def invite(actor: Actor, username: str) -> str:
    """Invite somebody to choose a (new) password; return the code, and end invitations of before."""
    require(actor, "administer")
    need_passwords()
    person = queries.person(username)
    if person.role == Role.CI:
        raise Denied("a CI account has no password", remedy="Make it a token.")
    if not person.is_active:
        raise Conflict(f"{username} is switched off", remedy="Switch it on first.")
    return _invite(actor, person)


def _invite(actor: Actor, person: Person) -> str:
    code, now = secrets.token_urlsafe(32), clock.now()
    person.invites.filter(used_at=None, expires_at__gt=now).update(expires_at=now)
    Invite.objects.create(person=person, hash=hash_of(code), made_at=now, expires_at=now + INVITE_LASTS)
    write_entry(actor, "person-invited", {"username": person.username, "code": hash_of(code)})
    return code


@transaction.atomic
def accept_invite(code: str, password: str) -> None:
    """Set a password by an invitation's code, once; every session of before is ended."""
    need_passwords()
    now = clock.now()
    invite = Invite.objects.select_related("person").filter(hash=hash_of(code), used_at=None).first()
    if invite is None or invite.expires_at <= now or not invite.person.is_active:
        raise Denied("this invitation is used, too old or unknown", remedy="Ask a steward for another.")
    person = invite.person
    choose(person, password)
    if not Invite.objects.filter(pk=invite.pk, used_at=None).update(used_at=now):
        raise Denied("this invitation has just been used", remedy="Ask a steward for another.")
    person.save(update_fields=["password"])
    end_all(person)
    own = queries.actor_for(person, via=f"invitation:{invite.hash}")
    tell_password(own, person)


@transaction.atomic
def change_account(actor: Actor, username: str, changes: dict[str, Any]) -> Person:
    """Change an account's ``name``, ``role``, ``teams`` or whether it is ``active``.

    Switching it off ends its sessions and tokens at once, forgets as whom the issuer knows it, and finds its
    desks other leads. Nobody changes their own role or teams: another steward does, or, where there is none, a
    command on the service's machine. The last active steward stays one.
    """
    require(actor, "administer")
    person = queries.person(username)
    role, active = changes.get("role", person.role), changes.get("active", person.is_active)
    if role not in Role.values:
        raise BadArgument(f"there is no role {role!r}", remedy=f"Roles are {', '.join(Role.values)}.")
    teams = [queries.team(slug) for slug in changes["teams"]] if "teams" in changes else None
    moves = teams is not None and {team.pk for team in teams} != {team.pk for team in person.teams.all()}
    if person.pk == actor.id and (role != person.role or not active or moves):
        raise Denied(
            "nobody changes their own role or teams, or switches themselves off",
            remedy="Ask another steward; where there is none: tallshelf admin change-user.",
        )
    if (role == Role.CI) != (person.role == Role.CI):
        raise BadArgument("an account of CI is no person's, nor the other way round", remedy="Add another.")
    steward = person.role == Role.STEWARD and person.is_active
    others = Person.objects.filter(role=Role.STEWARD, is_active=True).exclude(pk=person.pk)
    if steward and (role != Role.STEWARD or not active) and not others.exists():
        raise Conflict("this is the last steward", remedy="Make another one first.")
    before = _state(person)
    person.name, person.role, person.is_active = changes.get("name", person.name), role, active
    person.save(update_fields=["name", "role", "is_active"])
    if teams is not None:
        person.teams.set(teams)
    after = _state(person)
    if after == before:
        return person
    if not active:
        end_all(person)
        Token.objects.filter(person=person, ended_at=None).update(ended_at=clock.now())
        Person.objects.filter(pk=person.pk).update(subject="")
    if active != before["active"]:
        keep_led(actor, person)
    write_entry(actor, "person-changed", {"username": username, **after})
    return person


def _state(person: Person) -> dict[str, Any]:
    teams = sorted(person.teams.values_list("slug", flat=True))
    return {"name": person.name, "role": person.role, "teams": teams, "active": person.is_active}


@transaction.atomic
def end_sessions(actor: Actor, username: str) -> int:
    """Sign an account out everywhere, at once; return of how many sessions."""
    require(actor, "administer")
    person = queries.person(username)
    number = ConsoleSession.objects.filter(person=person).count()
    end_all(person)
    if number:
        write_entry(actor, "session-ended", {"username": username})
    return number
