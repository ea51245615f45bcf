"""What the rules of the judge share."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from tallshelf.core.entitlement.records import Entry
from tallshelf.core.entitlement.roles import ALL_SCOPES, refusal_of
from tallshelf.core.entitlement.state import State, moment


class Refusal(Struct, frozen=True):
    """Why an act is refused."""

    reason: str
    kind: Literal["denied", "conflict", "moved"] = "denied"


def denied(reason: str | None) -> Refusal | None:
    return None if reason is None else Refusal(reason)


def may(state: State, act: Entry, permission: str, team: str | None = None) -> Refusal | None:
    """Return why the actor, by the role, teams and token that the ledger tells, may not do an act."""
    person = state.people.get(act.actor)
    if act.by_machine or act.by_clock:
        return Refusal(f"{act.actor} is nobody, and may not do this")
    if person is None or not person.active:
        return Refusal(f"the ledger knows no active account {act.actor!r}")
    scopes = scopes_of(state, act)
    if isinstance(scopes, Refusal):
        return scopes
    return denied(refusal_of(person.role, scopes, person.teams, permission, team))


def may_on_machine(state: State, act: Entry, permission: str, team: str | None = None) -> Refusal | None:
    """The same, and a command on the service's own machine may as well."""
    return None if act.by_machine else may(state, act, permission, team)


def scopes_of(state: State, act: Entry) -> frozenset[str] | Refusal:
    """Return the scopes an act was done with: all in a session, else those of a token that stands."""
    if not act.via.startswith("token:"):
        return ALL_SCOPES
    number, scopes, seen = act.token, ALL_SCOPES, set()
    now = moment(act.at)
    while number is not None and number not in seen:
        seen.add(number)
        token = state.tokens.get(number)
        if token is None:
            return Refusal("the ledger does not tell of the token that this was done by")
        if token.ended or token.expires_at <= now or (number == act.token and token.owner != act.actor):
            return Refusal("the token that this was done by has ended")
        scopes &= token.scopes
        number = token.parent
    return scopes if seen else Refusal("the token that this was done by is not named")
