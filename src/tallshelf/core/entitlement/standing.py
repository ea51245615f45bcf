"""Where a request stands by the ledger alone: which desks are asked, who agreed, and who still may."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from tallshelf.core.entitlement.part import why_part
from tallshelf.core.entitlement.state import Desk, Request, SignOff, State
from tallshelf.core.routing import Seat


@dataclass(frozen=True)
class AskedDesk:
    """One desk of a route: the sign-offs that count there, and the places from which more may come.

    ``places`` says for each one who may sign in whose place: their own (empty), or that of another.
    ``parts`` says of answers that were given and count no more, why.
    """

    step: int
    seat: Seat
    signed: tuple[SignOff, ...]
    places: Mapping[str, str] = field(default_factory=dict)
    parts: Mapping[str, str] = field(default_factory=dict)

    @property
    def agreed(self) -> tuple[SignOff, ...]:
        """The agreements that count: by people who have no part in it today either."""
        return tuple(one for one in self.signed if one.answer == "agree" and one.who not in self.parts)

    @property
    def done(self) -> bool:
        return len(self.agreed) >= self.seat.sign_offs

    @property
    def missing(self) -> int:
        """How many sign-offs more are needed than there are places from which they may come."""
        free = {place or name for name, place in self.places.items()}
        return max(0, self.seat.sign_offs - len(self.agreed) - len(free))


def stands(state: State, found: Request, now: datetime) -> tuple[tuple[AskedDesk, ...], ...]:
    """Return the desks of a request's route, step by step; empty where no desk is asked."""
    if found.route is None:
        return ()
    return tuple(
        tuple(_asked(state, found, step.number, seat, now) for seat in step.seats)
        for step in found.route.steps
    )


def asked_now(steps: tuple[tuple[AskedDesk, ...], ...]) -> list[AskedDesk]:
    """Return the desks that are asked at this moment: the open ones of the first step that is not done."""
    step = next((one for one in steps if not all(desk.done for desk in one)), ())
    return [desk for desk in step if not desk.done]


def _asked(state: State, found: Request, step: int, seat: Seat, now: datetime) -> AskedDesk:
    signed = tuple(one for one in found.counting if one.desk == seat.desk)
    desk = state.desks.get(seat.desk, Desk(seat.desk, True))
    return AskedDesk(
        step,
        seat,
        signed,
        dict(_places(state, found, desk, signed, now)),
        {one.who: why for one in signed if (why := _part_of(state, found, desk, one))},
    )


def _part_of(state: State, found: Request, desk: Desk, one: SignOff) -> str | None:
    """Return why an answer counts no more: the signer, or who they sign for, has part in it by now."""
    for username in filter(None, (one.who, one.holder)):
        why = why_part(state, found, username, team_barred=desk.owner_team_excluded)
        if why is not None:
            return why
    return None


def _places(
    state: State, found: Request, desk: Desk, signed: tuple[SignOff, ...], now: datetime
) -> Iterator[tuple[str, str]]:
    """Yield who may sign at a desk, each once: members in their own place, then deputies in another's."""
    spent = {one.who for one in found.counting}
    used = {one.holder or one.who for one in signed}
    deputies = []
    own = set()
    for seat in desk.seats:
        if seat.username in used or why_not_at(state, found, desk, seat.username) is not None:
            continue
        if seat.username not in spent:
            own.add(seat.username)
            yield seat.username, ""
        deputies += [
            (one.deputy, seat.username)
            for one in state.standing_in(seat.username, now)
            if one.since <= found.opened_at and one.deputy not in spent
        ]
    seen = set(own)
    for deputy, holder in deputies:
        if deputy not in seen and why_not(state, found, desk, deputy) is None:
            seen.add(deputy)
            yield deputy, holder


def why_not_at(state: State, found: Request, desk: Desk, username: str) -> str | None:
    """Return why somebody who sits at a desk may not sign a request there, or None when they may."""
    seat = desk.seat(username)
    if seat is None:
        return f"{username} does not sit at the desk {desk.slug}"
    barred = why_not(state, found, desk, username)
    if barred is None and seat.entry > found.opened:
        return f"{username} joined the desk after the request was opened"
    return barred


def why_not(state: State, found: Request, desk: Desk, username: str) -> str | None:
    """Return why somebody may not sign a request at a desk, wherever they sit, or None when they may."""
    person = state.people.get(username)
    if person is None or person.role == "ci" or not person.active:
        return "this account cannot sign off"
    return why_part(state, found, username, team_barred=desk.owner_team_excluded)
