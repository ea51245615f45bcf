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


def detail(actor: Actor, found: Request) -> dict[str, Any]:
    """Return a request with its route, sign-offs, assessment, comments, and what the actor may do."""
    where = standing(found)
    live = found.state == "open"
    may_sign_at = desks_to_sign(actor, found, where)
    signs = refusal(actor, "comment") is None
    shown = {
        **queries.summary(actor, found, where),
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
        "may_publish": queries.may_publish(actor, found),
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
        "moved": queries.moved(found),
        "last_look": _last_look(actor, found),
        "tells": _tells(actor, found),
        "restricted_to": None,
    }
    items = only_items(actor, found)
    return shown if items is None else restricted(shown, items, asked_teams(actor, found))


def _may_take_back(actor: Actor, found: Request) -> bool:
    try:
        queries.require_asker(actor, found)
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
        "conditions": [queries.follow_up_document(each) for each in one.follow_ups.all()],
    }


def _name(one: SignOff) -> str:
    return f"{one.person.name} for {one.deputy_for.name}" if one.deputy_for else one.person.name
