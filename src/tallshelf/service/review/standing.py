"""Where requests stand: which desks are asked, who agreed there, and who still may."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Desk, DeskSeat, Person
from tallshelf.service.people.permissions import refusal
from tallshelf.service.people.queries import deputies_of, desk_leads, desk_titles, seats_at
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
    signed: list[SignOff] = field(default_factory=list)
    places: dict[str, str] = field(default_factory=dict)

    @property
    def eligible(self) -> list[str]:
        return sorted(self.places)

    @property
    def agreed(self) -> list[SignOff]:
        return [one for one in self.signed if one.answer == "agree"]

    @property
    def done(self) -> bool:
        return len(self.agreed) >= self.needed

    @property
    def short_of(self) -> int:
        """How many sign-offs more are needed than there are places from which they may come."""
        free = {place or name for name, place in self.places.items()}
        return max(0, self.needed - len(self.agreed) - len(free))


@dataclass
class Standing:
    """Where a request stands: its steps in order, and which one is asked now (None: all agreed)."""

    steps: list[list[DeskStanding]]

    @property
    def asked(self) -> list[DeskStanding]:
        """The desks that are asked now."""
        step = next((one for one in self.steps if not all(desk.done for desk in one)), [])
        return [desk for desk in step if not desk.done]

    @property
    def complete(self) -> bool:
        return all(desk.done for step in self.steps for desk in step)


@dataclass(frozen=True)
class _Seating:
    """Who sits where, and who stands in for whom; read once for many requests."""

    seats: list[DeskSeat]
    titles: Mapping[str, str]
    leads: Mapping[str, str]
    deputies: Mapping[int, list[tuple[Person, datetime]]]


def standing(found: Request) -> Standing:
    """Return where one request stands."""
    return standings([found])[found.pk]


def standings(found: list[Request]) -> dict[int, Standing]:
    """Return where requests stand, by number, in a fixed number of queries."""
    seats = seats_at({seat["desk"] for one in found for step in one.route["steps"] for seat in step["desks"]})
    seating = _Seating(seats, desk_titles(), desk_leads(), deputies_of({one.person_id for one in seats}))
    signed: dict[int, list[SignOff]] = {one.pk: [] for one in found}
    rows = SignOff.objects.filter(request__in=found, voided_at=None).select_related("person", "deputy_for")
    for sign_off in rows.order_by("at"):
        signed[sign_off.request_id].append(sign_off)
    return {one.pk: _standing(one, seating, signed[one.pk]) for one in found}


def _standing(found: Request, seating: _Seating, signed: list[SignOff]) -> Standing:
    steps: list[list[DeskStanding]] = []
    since = found.asked_at
    for step in found.route["steps"]:
        desks = []
        for seat in step["desks"]:
            slug = seat["desk"]
            desks.append(
                DeskStanding(
                    desk=slug,
                    title=seating.titles.get(slug, slug),
                    lead=seating.leads.get(slug, ""),
                    needed=seat["sign_offs"],
                    since=since,
                    due_at=since + timedelta(hours=seat["due_hours"]),
                    reasons=seat["reasons"],
                    hints=seat.get("hints", []),
                    signed=[one for one in signed if one.desk == slug],
                    places=_places(found, slug, seating, signed),
                )
            )
        steps.append(desks)
        since = max([since, *(one.at for desk in desks for one in desk.agreed)])
    return Standing(steps)


def _places(found: Request, desk: str, seating: _Seating, signed: list[SignOff]) -> dict[str, str]:
    """Return who may sign at a desk: its members, and their deputies; one person and one place once."""
    spent = {one.person_id for one in signed}
    used = {one.deputy_for_id or one.person_id for one in signed if one.desk == desk}
    places: dict[str, str] = {}
    for seat in (one for one in seating.seats if one.desk.slug == desk and one.person_id not in used):
        holder = seat.person
        if holder.pk not in spent and bar(found, seat) is None:
            places[holder.username] = ""
        for deputy, since in seating.deputies.get(holder.pk, ()):
            late = max(since, seat.since) > found.opened_at
            if deputy.pk not in spent and not late and bar_person(found, seat.desk, deputy) is None:
                places.setdefault(deputy.username, holder.username)
    return places


def bar(found: Request, seat: DeskSeat) -> str | None:
    """Return why the holder of a seat may not sign a request, or None when they may."""
    if seat.since > found.opened_at:
        return f"{seat.person.name} joined the desk after the request was opened"
    return bar_person(found, seat.desk, seat.person)


def bar_person(found: Request, desk: Desk, person: Person) -> str | None:
    """Return why a person may not sign a request at a desk, wherever they sit, or None when they may."""
    if person.username in found.submitters:
        return "nobody signs off what they submitted"
    if person.role == "ci" or not person.is_active:
        return "this account cannot sign off"
    team = found.server.team
    if desk.owner_team_excluded and team.pk in {one.pk for one in person.teams.all()}:
        return f"members of the owner team {team.slug} do not sign at this desk"
    return None


def warnings(where: Standing) -> list[str]:
    """Say at once which desks have too few people who may sign."""
    return [
        f"{desk.title} needs {desk.needed} sign-off{'s' if desk.needed > 1 else ''} "
        f"and lacks {desk.short_of} who may give one"
        for step in where.steps
        for desk in step
        if desk.short_of
    ]


def desks_to_sign(actor: Actor, found: Request, where: Standing) -> list[str]:
    """Return the desks at which an actor may sign a request now."""
    if found.state != "open" or refusal(actor, "sign-off") is not None:
        return []
    return [desk.desk for desk in where.asked if actor.username in desk.places]


def is_reviewer(actor: Actor, where: Standing) -> bool:
    """Whether an actor signed or may sign a request, at whatever step."""
    desks = [desk for step in where.steps for desk in step]
    signed = any(one.person_id == actor.id for desk in desks for one in desk.signed)
    return signed or any(actor.username in desk.places for desk in desks)


def leads(where: Standing) -> set[str]:
    """Return the user names of those who lead a desk that is asked now."""
    return {desk.lead for desk in where.asked if desk.lead}
