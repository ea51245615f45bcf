"""Reading requests: lists, one whole request, and what belongs to it."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import reduce
from operator import or_
from typing import Any

from django.db.models import Q, QuerySet

from tallshelf.core.changes import Change
from tallshelf.core.errors import Denied, NotFound
from tallshelf.core.kits import ended, hits
from tallshelf.core.reports import change_document, change_from, changes_summary, hits_document, moved_between
from tallshelf.core.routing import ENDING, LIVE_STATES, team_desk
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.kits.queries import holders
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import reads_at, refusal, require
from tallshelf.service.review.assessing import moved_in, moved_inputs
from tallshelf.service.review.hit import asked_teams, only_items, restricted
from tallshelf.service.review.models import (
    BLOCKING,
    Comment,
    FollowUp,
    Request,
    SignOff,
    StoredAssessment,
)
from tallshelf.service.review.places import quoted_at
from tallshelf.service.review.progress import (
    DeskStanding,
    Standing,
    desks_to_sign,
    is_reviewer,
    leads,
    standing,
    standings,
    submitters,
    warnings,
)

_MOST_WORDS = 8
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
    for word in q.split()[:_MOST_WORDS]:
        rows = rows.filter(reduce(or_, (Q(**{f"{place}__icontains": word}) for place in _SEARCHED)))
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
    where = standings(list(Request.objects.filter(state="open").select_related("server__team")))
    return sum(any(desk.due_at < now for desk in one.asked) for one in where.values())


def may_see(actor: Actor, request: Request) -> bool:
    """Whether an actor may see a request: by team or role, asked at an own desk, or what they asked for their kit."""
    own = refusal(actor, "see-unpublished", request.server.team.slug) is None
    return own or reads_at(actor, [*request.desks, *_askers(request)])


def _askers(request: Request) -> list[str]:
    return [team_desk(request.terms["team"])] if request.kind == "use" else []


def require_asker(actor: Actor, found: Request) -> None:
    """Raise `Denied` for who may not take a request back: the owner team may, or who keeps the kit it is for."""
    if found.kind == "use":
        require(actor, "keep-kit", found.terms["team"])
    else:
        require(actor, "take-back", found.server.team.slug)


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


def may_publish(actor: Actor, found: Request) -> bool:
    agreed = found.kind == "publish" and found.state == "agreed"
    return agreed and refusal(actor, "publish", found.server.team.slug) is None


def summary(actor: Actor, found: Request, where: Standing) -> dict[str, Any]:
    """Return one lean row for a list of requests."""
    live = found.state == "open"
    return {
        "number": found.pk,
        "id": found.pk,
        "kind": found.kind,
        "title": found.title,
        "state": found.state,
        "server": found.server.slug,
        "version": found.version,
        "item": found.item or (found.suspension.item if found.suspension else ""),
        "team": found.server.team.slug,
        "opened_by": found.opened_by.name,
        "opened_at": found.opened_at,
        "changed_at": found.changed_at,
        "waits_for": [desk.title for desk in where.asked] if live else [],
        "due_at": min((desk.due_at for desk in where.asked), default=None) if live else None,
        "taken_by": found.taken_by.name if found.taken_by else None,
        "mine": bool(desks_to_sign(actor, found, where)) or may_publish(actor, found),
        "moved": found.moved if found.state in ("open", "agreed") else [],
    }


def detail(actor: Actor, found: Request) -> dict[str, Any]:
    """Return a request with its route, sign-offs, assessment, comments, and what the actor may do."""
    where = standing(found)
    live = found.state == "open"
    may_sign_at = desks_to_sign(actor, found, where)
    signs = refusal(actor, "comment") is None
    shown = {
        **summary(actor, found, where),
        "note": found.note,
        "submitters": submitters(found),
        "suspended_because": found.suspension.reason if found.suspension else None,
        "terms": found.terms,
        "release_digest": found.release_digest,
        "snapshot_digest": found.release.snapshot_id if found.release else None,
        "release_state": found.release.state if found.version and found.release else None,
        "about": str(found.release) if found.release else None,
        "rule_set": found.rule_set_id,
        "approved_by": found.route["approved_by"],
        "route": [[_desk(desk, where, live) for desk in step] for step in where.steps],
        "sign_offs": [_sign_off(one) for one in _sign_offs(found)],
        "comments": _comments(found),
        "warnings": warnings(where) if live else [],
        "assessment": found.assessment.document,
        "changes_summary": _changes_summary(found.assessment.document),
        "kits": _hits(found) if found.state in LIVE_STATES else [],
        "may_sign_at": may_sign_at,
        "may_publish": may_publish(actor, found),
        "may_take_back": found.state in LIVE_STATES and _may_take_back(actor, found),
        "may_take": bool(may_sign_at)
        and signs
        and (found.taken_by_id is None or actor.username in leads(where)),
        "may_hand_on": live
        and signs
        and found.taken_by_id is not None
        and (found.taken_by_id == actor.id or actor.username in leads(where)),
        "may_comment": found.state in LIVE_STATES and signs,
        "may_question": found.state in LIVE_STATES and signs and is_reviewer(actor, where),
        "moved": moved(found),
        "last_look": _last_look(actor, found),
        "tells": _tells(actor, found),
        "restricted_to": None,
    }
    items = only_items(actor, found)
    return shown if items is None else restricted(shown, items, asked_teams(actor, found))


def _may_take_back(actor: Actor, found: Request) -> bool:
    try:
        require_asker(actor, found)
    except Denied:
        return False
    return True


def _tells(actor: Actor, found: Request) -> list[dict[str, Any]]:
    """Return the teams that are told of a request, until when they may object, and whether the actor may."""
    live = found.state in LIVE_STATES and refusal(actor, "comment") is None
    return [
        {
            "team": one["team"],
            "until": found.asked_at + timedelta(hours=found.route_hours),
            "reasons": one["reasons"],
            "may_object": live and one["team"] in actor.teams,
        }
        for one in found.route.get("tells", ())
    ]


def _hits(found: Request) -> list[dict[str, Any]]:
    """Return the kits that what is asked for would hit, as they are now."""
    holding = holders(found.server)
    if found.kind in ENDING:
        return hits_document(ended(holding, found.version, found.item))
    changes = found.assessment.document["changes"] if found.kind == "publish" else None
    return hits_document(hits([change_from(one) for one in changes], holding)) if changes and holding else []


def _changes_summary(assessment: dict[str, Any]) -> dict[str, Any] | None:
    changes = assessment["changes"]
    return None if changes is None else changes_summary([change_from(one) for one in changes])


def _sign_offs(found: Request) -> QuerySet[SignOff, SignOff]:
    rows = found.sign_offs.select_related("person", "deputy_for")
    return rows.prefetch_related("follow_ups__owner", "follow_ups__closed_by").order_by("at")


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
    seen = [one for one in rows.order_by("due", "pk") if _sees(actor, one)]
    return [follow_up_row(actor, one) for one in seen]


def _sees(actor: Actor, one: FollowUp) -> bool:
    return one.owner_id == actor.id or may_see(actor, one.sign_off.request)


def follow_up_row(actor: Actor, one: FollowUp) -> dict[str, Any]:
    found = one.sign_off.request
    concerned = actor.id in (one.owner_id, one.sign_off.person_id) or refusal(actor, "curate") is None
    return {
        **_follow_up(one),
        "request": found.pk,
        "kind": found.kind,
        "server": found.server.slug,
        "version": found.version,
        "asked_by": one.sign_off.person.name,
        "may_close": one.closed_at is None and concerned and refusal(actor, "comment") is None,
    }


def _follow_up(one: FollowUp) -> dict[str, Any]:
    return {
        "id": one.pk,
        "text": one.text,
        "owner": one.owner.name,
        "due": one.due,
        "closed_at": one.closed_at,
        "closed_by": one.closed_by.name if one.closed_by else None,
        "closing_note": one.closing_note,
    }


def open_questions(found: Request) -> QuerySet[Comment, Comment]:
    """Return the questions and objections that still block agreement, the oldest first."""
    rows = found.comments.filter(kind__in=BLOCKING, settled_at=None)
    return rows.select_related("person").order_by("at")


def _comments(found: Request) -> list[dict[str, Any]]:
    """Return what was said, each with its answers; a place that is gone or reads otherwise by now says so."""
    rows = list(found.comments.select_related("person").order_by("at", "pk"))
    answers = {one.pk: [each for each in rows if each.answers_id == one.pk] for one in rows}
    return [
        {
            **_said(one),
            "kind": one.kind,
            "item": one.item,
            "pointer": one.pointer,
            "quoted": one.quoted,
            "place": _place(found, one),
            "settled": one.kind in BLOCKING and one.settled_at is not None,
            "answers": [_said(each) for each in answers[one.pk]],
        }
        for one in rows
        if one.kind != "answer"
    ]


def _said(one: Comment) -> dict[str, Any]:
    return {"id": one.pk, "text": one.text, "name": one.person.name, "at": one.at}


def _place(found: Request, one: Comment) -> str | None:
    """Return whether a comment's place is ``there``, reads ``otherwise``, or is ``gone``."""
    if not one.item:
        return None
    now = quoted_at(found.release, one.item, one.pointer)
    return "gone" if now is None else "there" if now == one.quoted else "otherwise"


def moved(found: Request) -> list[str]:
    """Return what the assessment of an undecided request rests on and has changed since."""
    return moved_in(found) if found.state in ("open", "agreed") else []


def _last_look(actor: Actor, found: Request) -> dict[str, Any] | None:
    """Return what moved since the actor's own last answer, when it is void and they are asked again."""
    rows = found.sign_offs.filter(person_id=actor.id).order_by("-at")
    last = rows.first() if found.state == "open" else None
    if last is None or last.voided_at is None or last.assessment_digest == found.assessment_id:
        return None
    before, now = StoredAssessment.objects.get(pk=last.assessment_digest).document, found.assessment.document
    same = before["snapshot"] == now["snapshot"]
    bytes_changed = () if same else _bytes_changed(found, before, now)
    return {
        **_sign_off(last),
        "same_release": last.release_digest == found.release_digest,
        "inputs": moved_inputs(before["inputs"], now["inputs"]),
        "changes": [change_document(one) for one in bytes_changed if not one.folded],
        **moved_between(before, now),
    }


def _bytes_changed(found: Request, before: dict[str, Any], now: dict[str, Any]) -> tuple[Change, ...]:
    compared = catalog.comparison_of_bytes(found.server.slug, before["snapshot"], now["snapshot"])
    return compared.changes


def _desk(desk: DeskStanding, where: Standing, live: bool) -> dict[str, Any]:
    asked = live and desk in where.asked
    return {
        "desk": desk.desk,
        "title": desk.title,
        "needed": desk.needed,
        "lead": desk.lead or None,
        "agreed": [{"name": _name(one), "at": one.at} for one in desk.agreed],
        "due_at": desk.due_at,
        "reasons": desk.reasons,
        "hints": desk.hints,
        "standing": "agreed" if desk.done else "asked" if asked else "later",
        "may_sign": desk.eligible,
    }


def _sign_off(one: SignOff) -> dict[str, Any]:
    return {
        "desk": one.desk,
        "name": _name(one),
        "answer": one.answer,
        "note": one.note,
        "at": one.at,
        "release_digest": one.release_digest,
        "assessment_digest": one.assessment_digest,
        "voided": one.voided_at is not None,
        "despite": one.despite,
        "conditions": [_follow_up(each) for each in one.follow_ups.all()],
    }


def _name(one: SignOff) -> str:
    return f"{one.person.name} for {one.deputy_for.name}" if one.deputy_for else one.person.name
