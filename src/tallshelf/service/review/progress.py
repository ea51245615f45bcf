"""Where requests stand, by what the ledger says: which desks are asked, who agreed there, and who still may."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from tallshelf.core.entitlement import AskedDesk, State, stands
from tallshelf.core.routing import team_desk, team_of
from tallshelf.service import clock
from tallshelf.service.ledger import memory
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal
from tallshelf.service.people.queries import desk_titles
from tallshelf.service.review.models import Request, SignOff


@dataclass
class DeskStanding:
    """One desk of a route: how many agreed, who, and who could still.

    ``since`` is when its time began: when the route began, or the step before was agreed to.
    ``places`` says for each one who may sign in whose place: their own (empty), or that of another.
    """

    desk: str
    title: str
    lead: str
    needed: int
    since: datetime
    due_at: datetime
    reasons: list[str]
    hints: list[str]
    done: bool
    missing: int
    signed: list[SignOff] = field(default_factory=list)
    places: Mapping[str, str] = field(default_factory=dict)
    parts: Mapping[str, str] = field(default_factory=dict)

    @property
    def eligible(self) -> list[str]:
        return sorted(self.places)

    @property
    def agreed(self) -> list[SignOff]:
        return [sign_off for sign_off in self.signed if sign_off.answer == "agree"]


@dataclass
class Standing:
    """Where a request stands: its steps in order, and which one is asked now (None: all agreed)."""

    steps: list[list[DeskStanding]]

    @property
    def asked(self) -> list[DeskStanding]:
        """The desks that are asked now."""
        step = next((standings for standings in self.steps if not all(desk.done for desk in standings)), [])
        return [desk for desk in step if not desk.done]


def standing(request: Request) -> Standing:
    """Return where one request stands."""
    return standings([request])[request.pk]


def standings(requests: Iterable[Request]) -> dict[int, Standing]:
    """Return where requests stand, by number, in a fixed number of queries."""
    rows = list(requests)
    signed: dict[int, list[SignOff]] = {request.pk: [] for request in rows}
    answers = SignOff.objects.filter(request__in=rows, voided_at=None).select_related("person", "deputy_for")
    for sign_off in answers.order_by("at"):
        signed[sign_off.request_id].append(sign_off)
    titles = desk_titles()
    with memory.told() as state:
        return {request.pk: _standing(state, request, signed[request.pk], titles) for request in rows}


def _standing(state: State, request: Request, signed: list[SignOff], titles: Mapping[str, str]) -> Standing:
    told = state.requests.get(request.pk)
    steps, since = [], request.asked_at
    for step in stands(state, told, clock.now()) if told is not None else ():
        desks = [_desk(state, asked_desk, since, signed, titles) for asked_desk in step]
        steps.append(desks)
        since = max([since, *(sign_off.at for desk in desks for sign_off in desk.agreed)])
    return Standing(steps)


def _desk(
    state: State, asked: AskedDesk, since: datetime, signed: list[SignOff], titles: Mapping[str, str]
) -> DeskStanding:
    seat, desk = asked.seat, state.desks.get(asked.seat.desk)
    return DeskStanding(
        desk=seat.desk,
        title=titles.get(seat.desk)
        or (f"The team {team_of(seat.desk)}" if team_of(seat.desk) else seat.desk),
        lead=desk.lead if desk is not None else "",
        needed=seat.sign_offs,
        since=since,
        due_at=since + timedelta(hours=seat.due_hours),
        reasons=list(seat.reasons),
        hints=list(seat.hints),
        done=asked.done,
        missing=asked.missing,
        signed=[sign_off for sign_off in signed if sign_off.desk == seat.desk],
        places=asked.places,
        parts=asked.parts,
    )


def whose_part(request: Request) -> set[str]:
    """Return the user names of those who answered a request and have part in it by now."""
    return {name for step in standing(request).steps for desk in step for name in desk.parts}


def warnings(where: Standing) -> list[str]:
    """Say at once which desks have too few people who may sign."""
    return [
        f"{desk.title} needs {desk.needed} sign-off{'s' if desk.needed > 1 else ''} "
        f"and lacks {desk.missing} who may give one"
        for step in where.steps
        for desk in step
        if desk.missing
    ]


def asked_near(actor: Actor, numbers: Iterable[int]) -> set[int]:
    """Return which requests ask a desk where an actor may come to sign, or that they lead, by the ledger alone."""
    now = clock.now()
    with memory.told() as state:
        desks = _desks_near(state, actor.username, now)
        asked = {number: state.requests.get(number) for number in numbers}
        return {
            number
            for number, told in asked.items()
            if told is not None
            and told.route is not None
            and any(seat.desk in desks for step in told.route.steps for seat in step.seats)
        }


def _desks_near(state: State, username: str, now: datetime) -> set[str]:
    """Return own desks and those led, and the desks of those for whom somebody stands in."""
    holders = {
        holder
        for holder in state.deputies_of
        if any(deputy.deputy == username for deputy in state.standing_in(holder, now))
    }
    names = {username, *holders}
    people = [state.people[name] for name in names if name in state.people]
    teams = {membership.team for person in people for membership in person.memberships}
    sat_at = {
        desk.slug
        for desk in state.desks.values()
        if desk.lead == username or any(seat.username in names for seat in desk.seats)
    }
    return sat_at | {team_desk(team) for team in teams}


def desks_to_sign(actor: Actor, request: Request, where: Standing) -> list[str]:
    """Return the desks at which an actor may sign a request now."""
    if request.state != "open" or refusal(actor, "sign-off") is not None:
        return []
    return [desk.desk for desk in where.asked if actor.username in desk.places]


def is_reviewer(actor: Actor, where: Standing) -> bool:
    """Whether an actor signed or may sign a request, at whatever step."""
    desks = [desk for step in where.steps for desk in step]
    signed = any(sign_off.person_id == actor.id for desk in desks for sign_off in desk.signed)
    return signed or any(actor.username in desk.places for desk in desks)


def leads(where: Standing) -> set[str]:
    """Return the user names of those who lead a desk that is asked now."""
    return {desk.lead for desk in where.asked if desk.lead}


def submitters(request: Request) -> list[str]:
    """Return everybody behind what was handed in for a request, by user name."""
    with memory.told() as state:
        told = state.requests.get(request.pk)
        acts = state.servers[told.server].handed_in if told is not None else ()
        return sorted({hand_in.who[0] for hand_in in acts if hand_in.request == request.pk})
