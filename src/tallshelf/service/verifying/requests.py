"""Requests, their routes and assessments, sign-offs, comments and follow-ups, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.entitlement import State
from tallshelf.core.snapshot import digest
from tallshelf.service.review.models import (
    BLOCKING,
    Comment,
    FollowUp,
    Request,
    SignOff,
    StoredAssessment,
)
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where requests and what belongs to them are not as told."""
    yield from compare("request", _requests(), _told_requests(state))
    yield from compare("assessment", _assessments(), _told_assessments(state))
    yield from compare("sign-off", _sign_offs(), _told_sign_offs(state))
    yield from compare("comment", _comments(), _told_comments(state))
    yield from compare("follow-up", _follow_ups(), _told_follow_ups(state))


def _requests() -> dict[int, dict[str, Any]]:
    rows = Request.objects.select_related("server", "release", "suspension")
    return {
        request.pk: {
            "kind": request.kind,
            "server": request.server.slug,
            "version": request.version,
            "item": request.item or (request.suspension.item if request.suspension else ""),
            "terms": request.terms,
            "state": request.state,
            "release_digest": request.release_digest,
            "assessment": request.assessment_id,
            "rule_set": request.rule_set_id,
            "route": request.route,
            "opened_at": request.opened_at,
        }
        for request in rows
    }


def _told_requests(state: State) -> dict[int, dict[str, Any]]:
    told: dict[int, dict[str, Any]] = {}
    for request in state.requests.values():
        row: dict[str, Any] = {
            "kind": request.kind,
            "server": request.server,
            "version": request.version,
            "item": request.item,
            "terms": dict(request.terms),
            "state": request.state,
            "release_digest": request.release,
            "assessment": request.assessed.digest,
        }
        if request.route is None and request.state == "open":
            del row["state"]  # whom it asked is not told, and so not whether they all agreed
        if request.route is not None:
            row |= {"rule_set": request.assessed.rule_set, "route": request.route.document()}
            row["opened_at"] = request.opened_at
        told[request.number] = row
    return told


def _assessments() -> dict[str, dict[str, Any]]:
    """Return what the stored assessments say of facts, gates, inputs and base; each is told by the entry of its use."""
    found = {}
    for assessment in StoredAssessment.objects.iterator():
        document = assessment.document
        gates = [{"gate": each["gate"], "items": each["items"]} for each in document.get("gates", ())]
        found[assessment.digest] = {
            "base": document["base"],
            "inputs": document["inputs"],
            "facts": document["facts"],
            "gates": gates,
            "substance": digest(document.get("substance", {})),
        }
    return found


def _told_assessments(state: State) -> dict[str, dict[str, Any]]:
    return {
        key: {
            "base": assessed.base,
            "inputs": dict(assessed.inputs),
            "facts": dict(assessed.facts),
            "gates": [{"gate": gate, "items": list(items)} for gate, items in assessed.gates.items()],
            "substance": assessed.substance,
        }
        if assessed.told
        else {}
        for key, assessed in state.assessments.items()
    }


def _sign_offs() -> dict[tuple[int, int], dict[str, Any]]:
    rows: dict[int, list[SignOff]] = {}
    for sign_off in SignOff.objects.select_related("person", "deputy_for").order_by("pk"):
        rows.setdefault(sign_off.request_id, []).append(sign_off)
    return {
        (number, place): {
            "desk": sign_off.desk,
            "by": sign_off.person.username,
            "deputy_for": sign_off.deputy_for.username if sign_off.deputy_for else "",
            "answer": sign_off.answer,
            "release_digest": sign_off.release_digest,
            "assessment": sign_off.assessment_digest,
            "rule_set": sign_off.rule_set,
            "despite": sorted((each["gate"], each["reason"]) for each in sign_off.despite),
            "voided": sign_off.voided_at is not None,
        }
        for number, sign_offs in rows.items()
        for place, sign_off in enumerate(sign_offs, 1)
    }


def _told_sign_offs(state: State) -> dict[tuple[int, int], dict[str, Any]]:
    return {
        (request.number, place): {
            "desk": sign_off.desk,
            "by": sign_off.who,
            "deputy_for": sign_off.holder,
            "answer": sign_off.answer,
            "release_digest": sign_off.release,
            "assessment": sign_off.assessment,
            "rule_set": sign_off.rule_set,
            "despite": list(sign_off.despite),
            "voided": sign_off.voided,
        }
        for request in state.requests.values()
        for place, sign_off in enumerate(request.sign_offs, 1)
    }


def _comments() -> dict[int, dict[str, Any]]:
    return {
        comment.pk: {
            "request": comment.request_id,
            "kind": comment.kind,
            "text": comment.text,
            "by": comment.person.username,
            "answers": comment.answers_id,
            "settled": comment.settled_at is not None,
        }
        for comment in Comment.objects.select_related("person")
    }


def _told_comments(state: State) -> dict[int, dict[str, Any]]:
    answered = {comment["answers"] for comment in state.comments.values() if comment["kind"] == "answer"}
    return {
        number: {
            "request": one["request"],
            "kind": one["kind"],
            "text": one["text"],
            "by": one["by"],
            "answers": one["answers"],
            "settled": one["kind"] in BLOCKING and number in answered,
        }
        for number, one in state.comments.items()
    }


def _follow_ups() -> dict[int, dict[str, Any]]:
    """Return the follow-ups by their order, since entries name none before it is closed."""
    rows = FollowUp.objects.select_related("owner").order_by("pk")
    return {
        place: {
            "text": follow_up.text,
            "owner": follow_up.owner.username,
            "due": follow_up.due.isoformat(),
            "closed": follow_up.closing_note if follow_up.closed_at else None,
        }
        for place, follow_up in enumerate(rows, 1)
    }


def _told_follow_ups(state: State) -> dict[int, dict[str, Any]]:
    named = list(FollowUp.objects.order_by("pk").values_list("pk", flat=True))
    conditions = [one for _, each in sorted(state.conditions.items()) for one in each]
    told: dict[int, dict[str, Any]] = {}
    for place, one in enumerate(conditions, 1):
        number = named[place - 1] if place <= len(named) else 0
        told[place] = {
            "text": one["text"],
            "owner": one["owner"],
            "due": one["due"],
            "closed": state.closed.get(number),
        }
    return told
