"""Reading requests: who sees which, lists of them, and of what their sign-offs ask for later."""

from __future__ import annotations

from datetime import datetime
from functools import reduce
from operator import or_
from typing import Any

from django.db.models import Q, QuerySet

from tallshelf.core.errors import NotFound
from tallshelf.core.routing import LIVE_STATES, team_desk
from tallshelf.service.filtering import holding_words
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import reads_at, refusal, require
from tallshelf.service.review.assessing import moved_in
from tallshelf.service.review.models import (
    BLOCKING,
    Comment,
    FollowUp,
    Request,
)
from tallshelf.service.review.progress import (
    Standing,
    asked_near,
    desks_to_sign,
    standings,
)

_SEARCHED = (
    "server__slug",
    "release__version",
    "item",
    "suspension__item",
    "terms__kit",
    "opened_by__name",
    "opened_by__username",
)


def requests(
    actor: Actor, *, state: str = "", server: str = "", team: str = "", kind: str = "", q: str = ""
) -> QuerySet[Request, Request]:
    """Return the requests an actor may see, all or those of a state (``live`` for undecided ones).

    ``q`` is found in the server, the version, the item or the kit that is asked about, or in who asked.
    """
    require(actor, "see")
    rows = Request.objects.select_related("server__team", "release", "suspension", "opened_by", "taken_by")
    if state == "live":
        rows = rows.filter(state__in=LIVE_STATES)
    elif state:
        rows = rows.filter(state=state)
    if server:
        rows = rows.filter(server__slug=server)
    if team:
        rows = rows.filter(server__team__slug=team)
    if kind:
        rows = rows.filter(kind=kind)
    rows = holding_words(rows, q, _SEARCHED)
    return rows if _sees_all(actor) else rows.filter(_visible(actor))


def _sees_all(actor: Actor) -> bool:
    return refusal(actor, "see-unpublished") is None


def _visible(actor: Actor) -> Q:
    """The same as `may_see`, for a query: by team, or by a desk that is asked."""
    teams = [team for team in sorted(actor.teams) if refusal(actor, "see-unpublished", team) is None]
    own = sorted(actor.desks | {team_desk(one) for one in actor.teams})
    by_desk = [Q(desks__icontains=f'"{desk}"') for desk in own if reads_at(actor, [desk])]
    by_desk += [Q(kind="use", terms__team=team) for team in sorted(actor.teams)]
    return reduce(or_, by_desk, Q(server__team__slug__in=teams))


def rows_for(actor: Actor, requests: list[Request]) -> list[dict[str, Any]]:
    """Return lean rows for a list of requests, in its order."""
    where = standings(requests)
    return [summary(actor, request, where[request.pk]) for request in requests]


def waiting_for(actor: Actor) -> list[dict[str, Any]]:
    """Return the undecided requests in which something waits for the actor, the oldest first."""
    rows = rows_for(actor, list(near(actor).order_by("opened_at")))
    return [row for row in rows if row["mine"]]


def near(actor: Actor) -> QuerySet[Request, Request]:
    """Return the undecided requests in which something may wait for an actor: at a desk near, agreed, or sent back.

    Where each of thousands stands is then worked out for these alone.
    """
    rows = requests(actor, state="live")
    asked = asked_near(actor, rows.filter(state="open").values_list("pk", flat=True))
    return rows.filter(Q(pk__in=asked) | ~Q(state="open"))


def servers_waiting_for(actor: Actor) -> Q:
    """Return which servers have an undecided request in which something waits for the actor."""
    return Q(slug__in={row["server"] for row in waiting_for(actor)})


def overdue(now: datetime) -> int:
    """Return how many open requests wait at a desk past its due time."""
    where = standings(list(Request.objects.filter(state="open").select_related("server__team")))
    return sum(any(desk.due_at < now for desk in standing.asked) for standing in where.values())


def may_see(actor: Actor, request: Request) -> bool:
    """Whether an actor may see a request: by team or role, asked at an own desk, or what they asked for their kit."""
    own = refusal(actor, "see-unpublished", request.server.team.slug) is None
    return own or reads_at(actor, [*request.desks, *_askers(request)])


def _askers(request: Request) -> list[str]:
    return [team_desk(request.terms["team"])] if request.kind == "use" else []


def require_asker(actor: Actor, request: Request) -> None:
    """Raise `Denied` for who may not take a request back: the owner team may, or who keeps the kit it is for."""
    if request.kind == "use":
        require(actor, "keep-kit", request.terms["team"])
    else:
        require(actor, "take-back", request.server.team.slug)


def request(actor: Actor, number: int) -> Request:
    """Return a request; raise `NotFound` when it may not be seen."""
    found = (
        Request.objects.select_related(
            "server__team", "server__current", "release__snapshot", "suspension", "opened_by", "taken_by"
        )
        .select_related("assessment", "rule_set")
        .filter(pk=number)
        .first()
    )
    if found is None or not may_see(actor, found):
        raise NotFound(f"there is no request {number}")
    return found


def may_publish(actor: Actor, request: Request) -> bool:
    agreed = request.kind == "publish" and request.state == "agreed"
    return agreed and refusal(actor, "publish", request.server.team.slug) is None


def summary(actor: Actor, request: Request, where: Standing) -> dict[str, Any]:
    """Return one lean row for a list of requests."""
    live = request.state == "open"
    return {
        "number": request.pk,
        "id": request.pk,
        "kind": request.kind,
        "title": request.title,
        "state": request.state,
        "server": request.server.slug,
        "version": request.version,
        "item": request.item or (request.suspension.item if request.suspension else ""),
        "team": request.server.team.slug,
        "opened_by": request.opened_by.name,
        "opened_at": request.opened_at,
        "changed_at": request.changed_at,
        "waits_for": [desk.title for desk in where.asked] if live else [],
        "due_at": min((desk.due_at for desk in where.asked), default=None) if live else None,
        "taken_by": request.taken_by.name if request.taken_by else None,
        "mine": bool(desks_to_sign(actor, request, where)) or may_publish(actor, request),
        "moved": request.moved if request.state in ("open", "agreed") else [],
    }


def moved(request: Request) -> list[str]:
    """Return what the assessment of an undecided request rests on and has changed since."""
    return moved_in(request) if request.state in ("open", "agreed") else []


def follow_up(actor: Actor, number: int) -> FollowUp:
    """Return a follow-up of a request that an actor may see; raise `NotFound`."""
    rows = FollowUp.objects.select_related("owner", "closed_by", "sign_off__person")
    found = rows.select_related("sign_off__request__server__team").filter(pk=number).first()
    if found is None or not (may_see(actor, found.sign_off.request) or found.owner_id == actor.id):
        raise NotFound(f"there is no follow-up {number}")
    return found


def follow_ups(actor: Actor, *, state: str = "", mine: bool = False) -> list[dict[str, Any]]:
    """Return the follow-ups of sign-offs that stand, the ones due first before others.

    ``state`` is ``open`` or ``closed``; ``mine`` those alone that the actor owns.
    """
    require(actor, "see")
    rows = FollowUp.objects.filter(sign_off__voided_at=None)
    if state:
        rows = rows.filter(closed_at__isnull=state == "open")
    if mine:
        rows = rows.filter(owner_id=actor.id)
    rows = rows.select_related(
        "owner",
        "closed_by",
        "sign_off__person",
        "sign_off__request__server__team",
        "sign_off__request__release",
    )
    seen = [follow_up for follow_up in rows.order_by("due", "pk") if _sees(actor, follow_up)]
    return [follow_up_row(actor, follow_up) for follow_up in seen]


def _sees(actor: Actor, follow_up: FollowUp) -> bool:
    return follow_up.owner_id == actor.id or may_see(actor, follow_up.sign_off.request)


def follow_up_row(actor: Actor, follow_up: FollowUp) -> dict[str, Any]:
    request = follow_up.sign_off.request
    concerned = (
        actor.id in (follow_up.owner_id, follow_up.sign_off.person_id) or refusal(actor, "curate") is None
    )
    return {
        **follow_up_document(follow_up),
        "request": request.pk,
        "kind": request.kind,
        "server": request.server.slug,
        "version": request.version,
        "asked_by": follow_up.sign_off.person.name,
        "may_close": follow_up.closed_at is None and concerned and refusal(actor, "comment") is None,
    }


def follow_up_document(follow_up: FollowUp) -> dict[str, Any]:
    return {
        "id": follow_up.pk,
        "text": follow_up.text,
        "owner": follow_up.owner.name,
        "due": follow_up.due,
        "closed_at": follow_up.closed_at,
        "closed_by": follow_up.closed_by.name if follow_up.closed_by else None,
        "closing_note": follow_up.closing_note,
    }


def open_questions(request: Request) -> QuerySet[Comment, Comment]:
    """Return the questions and objections that still block agreement, the oldest first."""
    rows = request.comments.filter(kind__in=BLOCKING, settled_at=None)
    return rows.select_related("person").order_by("at")
