"""Taking in what entries say of people, teams, desks, deputies and tokens."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from tallshelf.core.entitlement.records import Deputy, Desk, Entry, Membership, Person, Seat, Token
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.ledger.events import Event

Body = Mapping[str, Any]


def _team_added(state: State, entry: Entry, body: Body) -> None:
    state.put(state.teams, body["team"], body["title"])


def _person_added(state: State, entry: Entry, body: Body) -> None:
    teams = tuple(Membership(team, entry.number) for team in body["teams"])
    state.put(state.people, body["username"], Person(body["username"], body["role"], True, teams))


def _person_changed(state: State, entry: Entry, body: Body) -> None:
    before = state.people.get(body["username"], Person(body["username"], body["role"], True))
    now = set(body["teams"])
    kept = tuple(
        replace(membership, until=entry.number)
        if membership.until is None and membership.team not in now
        else membership
        for membership in before.memberships
    )
    fresh = tuple(Membership(team, entry.number) for team in sorted(now - before.teams))
    after = Person(body["username"], body["role"], body["active"], kept + fresh)
    state.put(state.people, after.username, after)
    if not after.active:
        for number, token in list(state.tokens.items()):
            if token.owner == after.username and not token.ended:
                state.put(state.tokens, number, replace(token, ended=True))

    if not after.active:
        state.put(state.subjects, after.username, "")


def _person_invited(state: State, entry: Entry, body: Body) -> None:
    if "code" in body:
        for code in [one for one, who in state.invitations.items() if who == body["username"]]:
            state.drop(state.invitations, code)
        state.put(state.invitations, body["code"], body["username"])


def _password_changed(state: State, entry: Entry, body: Body) -> None:
    if "password" in body:
        state.put(state.passwords, body["username"], body["password"])
    for code in [one for one, who in state.invitations.items() if who == body["username"]]:
        state.drop(state.invitations, code)


def _issuer_known(state: State, entry: Entry, body: Body) -> None:
    state.put(state.subjects, body["username"], body["subject"])


def _desk_added(state: State, entry: Entry, body: Body) -> None:
    if "owner_team_excluded" not in body:
        state.lacks("whether a desk bars the owner team")
    state.put(state.desks, body["desk"], Desk(body["desk"], body.get("owner_team_excluded", True)))


def _desk_joined(state: State, entry: Entry, body: Body) -> None:
    desk = desk_of(state, body["desk"])
    since = moment(body.get("since", entry.at))
    seat = Seat(body["username"], since, entry.number, "since" in body)
    # Older ledgers say no more of leads than that the first one leads.
    lead = desk.lead if desk.seats else seat.username
    state.put(state.desks, desk.slug, replace(desk, seats=(*desk.seats, seat), lead=lead))


def _desk_left(state: State, entry: Entry, body: Body) -> None:
    desk = desk_of(state, body["desk"])
    seats = tuple(seat for seat in desk.seats if seat.username != body["username"])
    state.put(state.desks, desk.slug, replace(desk, seats=seats))


def _desk_led(state: State, entry: Entry, body: Body) -> None:
    desk = desk_of(state, body["desk"])
    state.put(state.desks, desk.slug, replace(desk, lead=body["username"]))


def desk_of(state: State, slug: str) -> Desk:
    return state.desks.get(slug, Desk(slug, True))


def _deputy_named(state: State, entry: Entry, body: Body) -> None:
    number = body.get("number", -entry.number)
    made = Deputy(number, body["username"], body["deputy"], moment(body["since"]), moment(body["until"]))
    add_deputy(state, made)


def add_deputy(state: State, made: Deputy) -> None:
    state.put(state.deputies, made.number, made)
    state.put(state.deputies_of, made.person, (*state.deputies_of.get(made.person, ()), made.number))


def _deputy_ended(state: State, entry: Entry, body: Body) -> None:
    if "number" in body:
        numbers: tuple[int, ...] = (body["number"],)
    else:  # older entries name the two people only
        numbers = tuple(
            number
            for number in state.deputies_of.get(body["username"], ())
            if state.deputies[number].deputy == body["deputy"]
        )
    for number in numbers:
        if number in state.deputies:
            state.put(state.deputies, number, replace(state.deputies[number], ended=True))


def _token_made(state: State, entry: Entry, body: Body) -> None:
    if "token" not in body:
        state.lacks("which token was made, and until when")
        return
    made = Token(
        number=body["token"],
        owner=body["username"],
        maker=entry.actor,
        scopes=frozenset(body["scopes"]),
        parent=body["parent"],
        expires_at=moment(body["expires_at"]),
        hash=body["hash"],
    )
    state.put(state.tokens, made.number, made)


def _token_ended(state: State, entry: Entry, body: Body) -> None:
    token = state.tokens.get(body.get("token", 0))
    if token is not None:
        state.put(state.tokens, token.number, replace(token, ended=True))


TELLS: dict[Event, Callable[[State, Entry, Body], None]] = {
    Event.TEAM_ADDED: _team_added,
    Event.PERSON_ADDED: _person_added,
    Event.PERSON_CHANGED: _person_changed,
    Event.PERSON_INVITED: _person_invited,
    Event.PASSWORD_CHANGED: _password_changed,
    Event.ISSUER_KNOWN: _issuer_known,
    Event.DESK_ADDED: _desk_added,
    Event.DESK_JOINED: _desk_joined,
    Event.DESK_LEFT: _desk_left,
    Event.DESK_LED: _desk_led,
    Event.DEPUTY_NAMED: _deputy_named,
    Event.DEPUTY_ENDED: _deputy_ended,
    Event.TOKEN_MADE: _token_made,
    Event.TOKEN_ENDED: _token_ended,
}
