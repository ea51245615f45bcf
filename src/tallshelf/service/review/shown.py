"""One whole request as it is shown: its route, sign-offs, comments, what moved, and what an actor may do."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.changes import Change
from tallshelf.core.errors import Denied
from tallshelf.core.kits import ended, hits
from tallshelf.core.reports import change_document, change_from, changes_summary, hits_document, moved_between
from tallshelf.core.routing import ENDING, LIVE_STATES
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.kits.queries import holders
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal
from tallshelf.service.review import queries
from tallshelf.service.review.assessing import moved_inputs
from tallshelf.service.review.hit import asked_teams, only_items, restricted
from tallshelf.service.review.models import BLOCKING, Comment, Request, SignOff, StoredAssessment
from tallshelf.service.review.places import quoted_at
from tallshelf.service.review.progress import (
    DeskStanding,
    Standing,
    desks_to_sign,
    is_reviewer,
    leads,
    standing,
    submitters,
    warnings,
)


def detail(actor: Actor, request: Request) -> dict[str, Any]:
    """Return a request with its route, sign-offs, assessment, comments, and what the actor may do."""
    where = standing(request)
    live = request.state == "open"
    may_sign_at = desks_to_sign(actor, request, where)
    signs = refusal(actor, "comment") is None
    shown = {
        **queries.summary(actor, request, where),
        "note": request.note,
        "submitters": submitters(request),
        "suspended_because": request.suspension.reason if request.suspension else None,
        "terms": request.terms,
        "release_digest": request.release_digest,
        "snapshot_digest": request.release.snapshot_id if request.release else None,
        "release_state": request.release.state if request.version and request.release else None,
        "about": str(request.release) if request.release else None,
        "rule_set": request.rule_set_id,
        "approved_by": request.route["approved_by"],
        "route": [[_desk(desk, where, live) for desk in step] for step in where.steps],
        "sign_offs": [_sign_off(sign_off) for sign_off in _sign_offs(request)],
        "comments": _comments(request),
        "warnings": warnings(where) if live else [],
        "assessment": request.assessment.document,
        "changes_summary": _changes_summary(request.assessment.document),
        "kits": _hits(request) if request.state in LIVE_STATES else [],
        "may_sign_at": may_sign_at,
        "may_publish": queries.may_publish(actor, request),
        "may_take_back": request.state in LIVE_STATES and _may_take_back(actor, request),
        "may_take": bool(may_sign_at)
        and signs
        and (request.taken_by_id is None or actor.username in leads(where)),
        "may_hand_on": live
        and signs
        and request.taken_by_id is not None
        and (request.taken_by_id == actor.id or actor.username in leads(where)),
        "may_comment": request.state in LIVE_STATES and signs,
        "may_question": request.state in LIVE_STATES and signs and is_reviewer(actor, where),
        "moved": queries.moved(request),
        "last_look": _last_look(actor, request),
        "tells": _tells(actor, request),
        "restricted_to": None,
    }
    items = only_items(actor, request)
    return shown if items is None else restricted(shown, items, asked_teams(actor, request))


def _may_take_back(actor: Actor, request: Request) -> bool:
    try:
        queries.require_asker(actor, request)
    except Denied:
        return False
    return True


def _tells(actor: Actor, request: Request) -> list[dict[str, Any]]:
    """Return the teams that are told of a request, until when they may object, and whether the actor may."""
    live = request.state in LIVE_STATES and refusal(actor, "comment") is None
    return [
        {
            "team": one["team"],
            "until": request.asked_at + timedelta(hours=request.route_hours),
            "reasons": one["reasons"],
            "may_object": live and one["team"] in actor.teams,
        }
        for one in request.route.get("tells", ())
    ]


def _hits(request: Request) -> list[dict[str, Any]]:
    """Return the kits that what is asked for would hit, as they are now."""
    holding = holders(request.server)
    if request.kind in ENDING:
        return hits_document(ended(holding, request.version, request.item))
    changes = request.assessment.document["changes"] if request.kind == "publish" else None
    return (
        hits_document(hits([change_from(change) for change in changes], holding))
        if changes and holding
        else []
    )


def _changes_summary(assessment: dict[str, Any]) -> dict[str, Any] | None:
    changes = assessment["changes"]
    return None if changes is None else changes_summary([change_from(change) for change in changes])


def _sign_offs(request: Request) -> QuerySet[SignOff, SignOff]:
    rows = request.sign_offs.select_related("person", "deputy_for")
    return rows.prefetch_related("follow_ups__owner", "follow_ups__closed_by").order_by("at")


def _comments(request: Request) -> list[dict[str, Any]]:
    """Return what was said, each with its answers; a place that is gone or reads otherwise by now says so."""
    rows = list(request.comments.select_related("person").order_by("at", "pk"))
    answers = {comment.pk: [each for each in rows if each.answers_id == comment.pk] for comment in rows}
    return [
        {
            **_said(comment),
            "kind": comment.kind,
            "item": comment.item,
            "pointer": comment.pointer,
            "quoted": comment.quoted,
            "place": _place(request, comment),
            "settled": comment.kind in BLOCKING and comment.settled_at is not None,
            "answers": [_said(each) for each in answers[comment.pk]],
        }
        for comment in rows
        if comment.kind != "answer"
    ]


def _said(comment: Comment) -> dict[str, Any]:
    return {"id": comment.pk, "text": comment.text, "name": comment.person.name, "at": comment.at}


def _place(request: Request, comment: Comment) -> str | None:
    """Return whether a comment's place is ``there``, reads ``otherwise``, or is ``gone``."""
    if not comment.item:
        return None
    now = quoted_at(request.release, comment.item, comment.pointer)
    return "gone" if now is None else "there" if now == comment.quoted else "otherwise"


def _last_look(actor: Actor, request: Request) -> dict[str, Any] | None:
    """Return what moved since the actor's own last answer, when it is void and they are asked again."""
    rows = request.sign_offs.filter(person_id=actor.id).order_by("-at")
    last = rows.first() if request.state == "open" else None
    if last is None or last.voided_at is None or last.assessment_digest == request.assessment_id:
        return None
    before, now = (
        StoredAssessment.objects.get(pk=last.assessment_digest).document,
        request.assessment.document,
    )
    same = before["snapshot"] == now["snapshot"]
    bytes_changed = () if same else _bytes_changed(request, before, now)
    return {
        **_sign_off(last),
        "same_release": last.release_digest == request.release_digest,
        "inputs": moved_inputs(before["inputs"], now["inputs"]),
        "changes": [change_document(change) for change in bytes_changed if not change.folded],
        **moved_between(before, now),
    }


def _bytes_changed(request: Request, before: dict[str, Any], now: dict[str, Any]) -> tuple[Change, ...]:
    compared = catalog.comparison_of_bytes(request.server.slug, before["snapshot"], now["snapshot"])
    return compared.changes


def _desk(desk: DeskStanding, where: Standing, live: bool) -> dict[str, Any]:
    asked = live and desk in where.asked
    return {
        "desk": desk.desk,
        "title": desk.title,
        "needed": desk.needed,
        "lead": desk.lead or None,
        "agreed": [{"name": _name(sign_off), "at": sign_off.at} for sign_off in desk.agreed],
        "due_at": desk.due_at,
        "reasons": desk.reasons,
        "hints": desk.hints,
        "standing": "agreed" if desk.done else "asked" if asked else "later",
        "may_sign": desk.eligible,
    }


def _sign_off(sign_off: SignOff) -> dict[str, Any]:
    return {
        "desk": sign_off.desk,
        "name": _name(sign_off),
        "answer": sign_off.answer,
        "note": sign_off.note,
        "at": sign_off.at,
        "release_digest": sign_off.release_digest,
        "assessment_digest": sign_off.assessment_digest,
        "voided": sign_off.voided_at is not None,
        "despite": sign_off.despite,
        "conditions": [queries.follow_up_document(each) for each in sign_off.follow_ups.all()],
    }


def _name(sign_off: SignOff) -> str:
    return (
        f"{sign_off.person.name} for {sign_off.deputy_for.name}"
        if sign_off.deputy_for
        else sign_off.person.name
    )
