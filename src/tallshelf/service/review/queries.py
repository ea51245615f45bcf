"""Reading requests: who must still agree, who may, and what waits for whom."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import reduce
from operator import or_
from typing import Any

from django.db.models import Q, QuerySet

from tallshelf.core.errors import NotFound
from tallshelf.core.reports import change_document, moved_between
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import DeskSeat
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.people.queries import desk_titles, seats_at
from tallshelf.service.review.assessing import moved_inputs, moved_since
from tallshelf.service.review.models import LIVE_STATES, Request, SignOff, StoredAssessment


@dataclass
class DeskStanding:
    """One desk of a route: how many agreed, who, and who could still."""

    desk: str
    title: str
    needed: int
    due_at: datetime
    reasons: list[str]
    hints: list[str]
    signed: list[SignOff] = field(default_factory=list)
    eligible: list[str] = field(default_factory=list)

    @property
    def done(self) -> bool:
        return sum(one.answer == "agree" for one in self.signed) >= self.needed

    @property
    def short_of(self) -> int:
        """How many sign-offs more are needed than there are people who may give them."""
        missing = self.needed - sum(one.answer == "agree" for one in self.signed)
        return max(0, missing - len(self.eligible))


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


def requests(
    actor: Actor, *, state: str = "", server: str = "", team: str = ""
) -> QuerySet[Request, Request]:
    """Return the requests an actor may see, all or those of a state (``live`` for undecided ones)."""
    require(actor, "see")
    rows = Request.objects.select_related("release__server__team", "opened_by", "rule_set")
    if state == "live":
        rows = rows.filter(state__in=LIVE_STATES)
    elif state:
        rows = rows.filter(state=state)
    if server:
        rows = rows.filter(release__server__slug=server)
    if team:
        rows = rows.filter(release__server__team__slug=team)
    return rows if _sees_all(actor) else rows.filter(_visible(actor))


def _sees_all(actor: Actor) -> bool:
    return refusal(actor, "see-unpublished") is None


def _visible(actor: Actor) -> Q:
    """The same as `may_see`, for a query: by team, or by a desk among those a release was sent to."""
    teams = [team for team in sorted(actor.teams) if refusal(actor, "see-unpublished", team) is None]
    by_desk = [Q(release__desks__icontains=f'"{desk}"') for desk in sorted(actor.desks)]
    return reduce(or_, by_desk, Q(release__server__team__slug__in=teams))


def rows_for(actor: Actor, found: list[Request]) -> list[dict[str, Any]]:
    """Return lean rows for a list of requests, in its order."""
    where = standings(found)
    return [summary(actor, one, where[one.pk]) for one in found]


def waiting_for(actor: Actor) -> list[dict[str, Any]]:
    """Return the undecided requests in which something waits for the actor, the oldest first."""
    rows = rows_for(actor, list(requests(actor, state="live").order_by("opened_at")))
    return [row for row in rows if row["mine"]]


def overdue(now: datetime) -> int:
    """Return how many open requests wait at a desk past its due time."""
    where = standings(list(Request.objects.filter(state="open").select_related("release__server__team")))
    return sum(any(desk.due_at < now for desk in one.asked) for one in where.values())


def may_see(actor: Actor, request: Request) -> bool:
    """Whether an actor may see a request: by team or role, or asked at an own desk."""
    return refusal(actor, "see-unpublished", request.release.server.team.slug) is None or bool(
        actor.desks & set(request.release.desks)
    )


def request(actor: Actor, number: int) -> Request:
    """Return a request; raise `NotFound` when it may not be seen."""
    found = (
        Request.objects.select_related(
            "release__server__team", "release__snapshot", "opened_by", "assessment", "rule_set"
        )
        .filter(pk=number)
        .first()
    )
    if found is None or not may_see(actor, found):
        raise NotFound(f"there is no request {number}")
    return found


def standing(found: Request) -> Standing:
    """Return where one request stands."""
    return standings([found])[found.pk]


def standings(found: list[Request]) -> dict[int, Standing]:
    """Return where requests stand, by number, in a fixed number of queries."""
    desks = {seat["desk"] for one in found for step in one.route["steps"] for seat in step["desks"]}
    seats, titles = seats_at(desks), desk_titles()
    signed: dict[int, list[SignOff]] = {one.pk: [] for one in found}
    rows = SignOff.objects.filter(request__in=found, voided_at=None).select_related("person")
    for sign_off in rows.order_by("at"):
        signed[sign_off.request_id].append(sign_off)
    return {one.pk: _standing(one, seats, titles, signed[one.pk]) for one in found}


def _standing(
    found: Request, seats: list[DeskSeat], titles: dict[str, str], signed: list[SignOff]
) -> Standing:
    steps = []
    for step in found.route["steps"]:
        steps.append(
            [
                DeskStanding(
                    desk=seat["desk"],
                    title=titles.get(seat["desk"], seat["desk"]),
                    needed=seat["sign_offs"],
                    due_at=found.opened_at + timedelta(hours=seat["due_hours"]),
                    reasons=seat["reasons"],
                    hints=seat.get("hints", []),
                    signed=[one for one in signed if one.desk == seat["desk"]],
                    eligible=[
                        one.person.username
                        for one in seats
                        if one.desk.slug == seat["desk"]
                        and bar(found, one) is None
                        and not any(other.person_id == one.person_id for other in signed)
                    ],
                )
                for seat in step["desks"]
            ]
        )
    return Standing(steps)


def bar(found: Request, seat: DeskSeat) -> str | None:
    """Return why the holder of a seat may not sign a request, or None when they may."""
    if seat.since > found.opened_at:
        return f"{seat.person.name} joined the desk after the request was opened"
    if seat.person.username in found.submitters:
        return "nobody signs off what they submitted"
    if seat.person.role == "ci" or not seat.person.is_active:
        return "this account cannot sign off"
    team = found.release.server.team
    if seat.desk.owner_team_excluded and team.pk in {one.pk for one in seat.person.teams.all()}:
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
    return [desk.desk for desk in where.asked if actor.username in desk.eligible]


def may_publish(actor: Actor, found: Request) -> bool:
    return found.state == "agreed" and refusal(actor, "publish", found.release.server.team.slug) is None


def summary(actor: Actor, found: Request, where: Standing) -> dict[str, Any]:
    """Return one lean row for a list of requests."""
    return {
        "id": found.pk,
        "state": found.state,
        "server": found.release.server.slug,
        "version": found.release.version,
        "team": found.release.server.team.slug,
        "opened_by": found.opened_by.name,
        "opened_at": found.opened_at,
        "waits_for": [desk.title for desk in where.asked] if found.state == "open" else [],
        "due_at": min((desk.due_at for desk in where.asked), default=None) if found.state == "open" else None,
        "mine": bool(desks_to_sign(actor, found, where)) or may_publish(actor, found),
    }


def detail(actor: Actor, found: Request) -> dict[str, Any]:
    """Return a request with its route, sign-offs, assessment, and what the actor may do."""
    where = standing(found)
    live = found.state == "open"
    return {
        **summary(actor, found, where),
        "note": found.note,
        "release_digest": found.release_digest,
        "snapshot_digest": found.release.snapshot_id,
        "release_state": found.release.state,
        "rule_set": found.rule_set_id,
        "approved_by": found.route["approved_by"],
        "route": [[_desk(desk, where, live) for desk in step] for step in where.steps],
        "sign_offs": [_sign_off(one) for one in found.sign_offs.select_related("person").order_by("at")],
        "warnings": warnings(where) if live else [],
        "assessment": found.assessment.document,
        "may_sign_at": desks_to_sign(actor, found, where),
        "may_publish": may_publish(actor, found),
        "may_take_back": found.state in LIVE_STATES
        and refusal(actor, "take-back", found.release.server.team.slug) is None,
        "moved": moved(found),
        "last_look": _last_look(actor, found),
    }


def moved(found: Request) -> list[str]:
    """Return what the assessment of an undecided request rests on and has changed since."""
    if found.state not in ("open", "agreed"):
        return []
    release, document = found.release, found.assessment.document
    return moved_since(release.server, release.version, document["base"], document["inputs"])


def _last_look(actor: Actor, found: Request) -> dict[str, Any] | None:
    """Return what moved since the actor's own last answer, when it is void and they are asked again."""
    rows = found.sign_offs.filter(person_id=actor.id).order_by("-at")
    last = rows.first() if found.state == "open" else None
    if last is None or last.voided_at is None or last.assessment_digest == found.assessment_id:
        return None
    before, now = StoredAssessment.objects.get(pk=last.assessment_digest).document, found.assessment.document
    same = before["snapshot"] == now["snapshot"]
    bytes_changed = () if same else catalog.compared_snapshots(before["snapshot"], now["snapshot"]).changes
    return {
        **_sign_off(last),
        "same_release": last.release_digest == found.release_digest,
        "inputs": moved_inputs(before["inputs"], now["inputs"]),
        "changes": [change_document(one) for one in bytes_changed if not one.folded],
        **moved_between(before, now),
    }


def _desk(desk: DeskStanding, where: Standing, live: bool) -> dict[str, Any]:
    asked = live and desk in where.asked
    return {
        "desk": desk.desk,
        "title": desk.title,
        "needed": desk.needed,
        "agreed": [{"name": one.person.name, "at": one.at} for one in desk.signed if one.answer == "agree"],
        "due_at": desk.due_at,
        "reasons": desk.reasons,
        "hints": desk.hints,
        "standing": "agreed" if desk.done else "asked" if asked else "later",
        "may_sign": desk.eligible,
    }


def _sign_off(one: SignOff) -> dict[str, Any]:
    return {
        "desk": one.desk,
        "name": one.person.name,
        "answer": one.answer,
        "note": one.note,
        "at": one.at,
        "release_digest": one.release_digest,
        "assessment_digest": one.assessment_digest,
        "voided": one.voided_at is not None,
    }
