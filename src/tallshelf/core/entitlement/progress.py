"""Where a request stands by the ledger alone: which desks are asked, who agreed, and who still may."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime, timedelta
from functools import cached_property

from msgspec import Struct

from tallshelf.core.entitlement.part import handed_in, why_part
from tallshelf.core.entitlement.records import Desk, HandedIn, Request, Seat, SignOff
from tallshelf.core.entitlement.state import State
from tallshelf.core.routing import Seat as AskedSeat
from tallshelf.core.routing import team_of

_NO_MOMENT = datetime.min.replace(tzinfo=UTC)


class _Asking(Struct, frozen=True):
    """What it is asked about: a request, as the ledger tells it at a moment, and who handed it in."""

    state: State
    found: Request
    now: datetime
    acts: Sequence[HandedIn]

    def why_part(self, desk: Desk, username: str) -> str | None:
        barred = desk.owner_team_excluded
        return why_part(self.state, self.found, username, team_barred=barred, acts=self.acts)

    def why_not(self, desk: Desk, username: str) -> str | None:
        """Return why somebody may not sign at a desk, wherever they sit, or None when they may."""
        person = self.state.people.get(username)
        if person is None or person.role == "ci" or not person.active:
            return "this account cannot sign off"
        return self.why_part(desk, username)

    def why_not_at(self, desk: Desk, username: str) -> str | None:
        """Return why somebody who sits at a desk may not sign there, or None when they may."""
        seat = desk.seat(username)
        if seat is None:
            return f"{username} does not sit at the desk {desk.slug}"
        barred = self.why_not(desk, username)
        if barred is None and seat.entry > self.found.opened:
            return f"{username} joined the desk after the request was opened"
        return barred


class AskedDesk(Struct, frozen=True, eq=False, dict=True):
    """One desk of a route: the sign-offs that count there, and the places from which more may come."""

    step: int
    seat: AskedSeat
    signed: tuple[SignOff, ...]
    desk: Desk
    asking: _Asking

    @cached_property
    def parts(self) -> Mapping[str, str]:
        """Of answers that were given and count no more, why: the signer, or who they sign for, has part by now."""
        found = {}
        for sign_off in self.signed:
            for username in filter(None, (sign_off.who, sign_off.holder)):
                why = self.asking.why_part(self.desk, username)
                if why is not None:
                    found[sign_off.who] = why
        return found

    @cached_property
    def places(self) -> Mapping[str, str]:
        """Who may sign, and in whose place: their own (empty), or that of another."""
        return dict(_places(self))

    @property
    def agreed(self) -> tuple[SignOff, ...]:
        """The agreements that count: by people who have no part in it today either."""
        return tuple(
            sign_off
            for sign_off in self.signed
            if sign_off.answer == "agree" and sign_off.who not in self.parts
        )

    @property
    def done(self) -> bool:
        return len(self.agreed) >= self.seat.sign_offs

    @property
    def missing(self) -> int:
        """How many sign-offs more are needed than there are places from which they may come."""
        free = {place or name for name, place in self.places.items()}
        return max(0, self.seat.sign_offs - len(self.agreed) - len(free))


def stands(state: State, request: Request, now: datetime) -> tuple[tuple[AskedDesk, ...], ...]:
    """Return the desks of a request's route, step by step; empty where no desk is asked."""
    if request.route is None:
        return ()
    asking = _Asking(state, request, now, handed_in(state, request))
    return tuple(
        tuple(
            AskedDesk(
                step.number,
                seat,
                tuple(sign_off for sign_off in request.counting if sign_off.desk == seat.desk),
                desk_of(state, seat.desk, state.servers[request.server].team),
                asking,
            )
            for seat in step.seats
        )
        for step in request.route.steps
    )


def objecting_until(request: Request) -> datetime | None:
    """Return until when the teams that are told of a request may object, or None where nobody is told."""
    hours = request.route.tell_hours if request.route is not None else 0
    return (request.asked_at or request.opened_at) + timedelta(hours=hours) if hours else None


def asked_now(steps: tuple[tuple[AskedDesk, ...], ...]) -> list[AskedDesk]:
    """Return the desks that are asked at this moment: the open ones of the first step that is not done."""
    step = next((desks for desks in steps if not all(desk.done for desk in desks)), ())
    return [desk for desk in step if not desk.done]


def desk_of(state: State, slug: str, server: str = "") -> Desk:
    """Return a desk; one that the ledger does not tell of has no seats.

    At a team's desk its members sit, each since they joined. That of a server's owner team is asked whether others may
    use it: there the owner team is not barred.
    """
    team = team_of(slug)
    if not team:
        return state.desks.get(slug, Desk(slug, True))
    seats = tuple(
        Seat(person.username, _NO_MOMENT, membership.since)
        for person in sorted(state.people.values(), key=lambda person: person.username)
        for membership in person.memberships
        if membership.team == team and membership.until is None and person.role != "ci" and person.active
    )
    return Desk(slug, team != server, seats)


def _places(asked: AskedDesk) -> Iterator[tuple[str, str]]:
    """Yield who may sign at a desk, each once: members in their own place, then deputies in another's."""
    asking, request, desk = asked.asking, asked.asking.found, asked.desk
    spent = {sign_off.who for sign_off in request.counting}
    used = {sign_off.holder or sign_off.who for sign_off in asked.signed}
    deputies, seen = [], set()
    for seat in desk.seats:
        if seat.username in used or asking.why_not_at(desk, seat.username) is not None:
            continue
        if seat.username not in spent:
            seen.add(seat.username)
            yield seat.username, ""
        deputies += [
            (one.deputy, seat.username)
            for one in asking.state.standing_in(seat.username, asking.now)
            if one.since <= request.opened_at and one.deputy not in spent
        ]
    for deputy, holder in deputies:
        if deputy not in seen and asking.why_not(desk, deputy) is None:
            seen.add(deputy)
            yield deputy, holder


def why_not_at(state: State, request: Request, slug: str, username: str, now: datetime) -> str | None:
    """Return why somebody who sits at a desk may not sign a request there, or None when they may."""
    asking = _Asking(state, request, now, handed_in(state, request))
    return asking.why_not_at(desk_of(state, slug, state.servers[request.server].team), username)


def why_not_here(asked: AskedDesk, username: str) -> str:
    """Return in words why somebody may not sign at a desk that is asked."""
    asking, desk = asked.asking, asked.desk
    if desk.seat(username) is not None:
        return asking.why_not_at(desk, username) or "the place is taken by another answer"
    return asking.why_not(desk, username) or f"{username} sits at no desk that is asked now"
