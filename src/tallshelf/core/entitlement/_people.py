"""Rules of the judge on people: accounts, teams, desks, deputies and tokens."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement._common import Refusal, may, may_on_machine, scopes_of
from tallshelf.core.entitlement.records import RESERVED, Entry, Person
from tallshelf.core.entitlement.roles import ALL_SCOPES, CI_SCOPES
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.ledger.events import Event

Body = Mapping[str, Any]
Rule = Callable[[State, Entry, Body], Refusal | None]


def needs(permission: str) -> Rule:
    """Return the rule of an act that its actor's role alone decides; the machine may do it, too."""
    return lambda state, act, body: may_on_machine(state, act, permission)


def _person_added(state: State, act: Entry, body: Body) -> Refusal | None:
    username = body["username"]
    if username in RESERVED:
        return Refusal(f"{username!r} names no person", "conflict")
    if username in state.people:
        return Refusal(f"the ledger knows an account {username!r} already", "conflict")
    return may_on_machine(state, act, "administer")


def _person_changed(state: State, act: Entry, body: Body) -> Refusal | None:
    before = state.people.get(body["username"])
    if before is None:
        return Refusal(f"the ledger knows no account {body['username']!r}", "conflict")
    if act.by_machine:
        return None
    after = (body["role"], frozenset(body["teams"]), body["active"])
    if act.actor == before.username and after != (before.role, before.teams, before.active):
        return Refusal("nobody changes their own role or teams, or switches themselves off")
    if "ci" in (before.role, body["role"]) and before.role != body["role"]:
        return Refusal("an account of CI is no person's, nor the other way round", "conflict")
    stays = body["role"] == "steward" and body["active"]
    if before in state.stewards() and not stays and len(list(state.stewards())) == 1:
        return Refusal("this is the last steward", "conflict")
    return may(state, act, "administer")


def _own(permission: str) -> Rule:
    """Return the rule of an act on one's own account, which a steward may do for others."""

    def rule(state: State, act: Entry, body: Body) -> Refusal | None:
        if act.actor == body["username"]:
            return may(state, act, permission)
        return may_on_machine(state, act, "administer")

    return rule


def _own_only(state: State, act: Entry, body: Body) -> Refusal | None:
    """The rule of what an account does by signing in: only for itself, and by no token."""
    person = state.people.get(act.actor)
    if act.actor != body["username"] or person is None or not person.active:
        return Refusal("this is for the account itself only")
    scopes = scopes_of(state, act)
    if isinstance(scopes, Refusal):
        return scopes
    return None if "tokens" in scopes else Refusal("this token may not")


def _password(state: State, act: Entry, body: Body) -> Refusal | None:
    """A password is set with the account on the machine, by an invitation that was given, or by its owner."""
    kind, _, code = act.via.partition(":")
    if kind == "invitation" and state.invitations.get(code) != body["username"]:
        return Refusal("the ledger tells of no such invitation")
    return None if act.by_machine else _own_only(state, act, body)


def _seat(state: State, act: Entry, body: Body) -> Refusal | None:
    who = state.people.get(body["username"])
    if body["desk"] not in state.desks:
        return Refusal(f"the ledger knows no desk {body['desk']!r}", "conflict")
    if act.event == Event.DESK_JOINED and (who is None or who.role == "ci" or not who.active):
        return Refusal("this account never signs off, and so sits at no desk")
    if act.actor == body["username"]:
        return Refusal("nobody seats themselves, or leaves a desk by themselves")
    return may_on_machine(state, act, "administer")


def _deputy_named(state: State, act: Entry, body: Body) -> Refusal | None:
    who = state.people.get(body["deputy"])
    if act.actor != body["username"] or body["deputy"] == body["username"]:
        return Refusal("everybody names their own deputy, who is another")
    if who is None or who.role == "ci" or not who.active:
        return Refusal("this account never signs off")
    return may(state, act, "name-deputy")


def _deputy_ended(state: State, act: Entry, body: Body) -> Refusal | None:
    if act.actor == body["username"]:
        return may(state, act, "name-deputy")
    return may_on_machine(state, act, "administer")


def _token_made(state: State, act: Entry, body: Body) -> Refusal | None:
    owner = state.people.get(body["username"])
    if owner is None or not owner.active:
        return Refusal(f"the ledger knows no active account {body['username']!r}", "conflict")
    wanted = frozenset(body["scopes"])
    if owner.role == "ci" and not wanted <= CI_SCOPES:
        return Refusal("a CI account may read, check and submit, and nothing else")
    if act.by_machine:
        return None
    if body["parent"] != act.token:
        return Refusal("a token that is made by a token names it", "conflict")
    refusal = may(state, act, "own-tokens" if owner.username == act.actor else "administer")
    return refusal or _exceeds(state, act, owner, wanted, body)


def _exceeds(state: State, act: Entry, owner: Person, wanted: frozenset[str], body: Body) -> Refusal | None:
    if owner.username != act.actor and owner.role != "ci":
        return Refusal("a person's token is made by that person")
    scopes = scopes_of(state, act)
    if isinstance(scopes, Refusal) or not wanted <= (scopes & ALL_SCOPES):
        return Refusal("a token cannot have a scope that its maker lacks")
    parent = state.tokens.get(act.token or 0)
    if parent is not None and moment(body["expires_at"]) > parent.expires_at:
        return Refusal("a token does not outlive the one it is made by")
    return None


RULES: dict[Event, Rule] = {
    Event.TEAM_ADDED: needs("administer"),
    Event.PERSON_ADDED: _person_added,
    Event.PERSON_INVITED: needs("administer"),
    Event.PERSON_CHANGED: _person_changed,
    Event.ISSUER_KNOWN: _own_only,
    Event.PASSWORD_CHANGED: _password,
    Event.SESSION_ENDED: _own("own-tokens"),
    Event.DESK_ADDED: needs("curate"),
    Event.DESK_JOINED: _seat,
    Event.DESK_LEFT: _seat,
    Event.DESK_LED: needs("administer"),
    Event.DEPUTY_NAMED: _deputy_named,
    Event.DEPUTY_ENDED: _deputy_ended,
    Event.TOKEN_MADE: _token_made,
    Event.TOKEN_ENDED: _own("own-tokens"),
}
