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
        one.pk: {
            "kind": one.kind,
            "server": one.server.slug,
            "version": one.version,
            "item": one.item or (one.suspension.item if one.suspension else ""),
            "terms": one.terms,
            "state": one.state,
            "release_digest": one.release_digest,
            "assessment": one.assessment_id,
            "rule_set": one.rule_set_id,
            "route": one.route,
            "opened_at": one.opened_at,
        }
        for one in rows
    }


def _told_requests(state: State) -> dict[int, dict[str, Any]]:
    told: dict[int, dict[str, Any]] = {}
    for one in state.requests.values():
        row: dict[str, Any] = {
            "kind": one.kind,
            "server": one.server,
            "version": one.version,
            "item": one.item,
            "terms": dict(one.terms),
            "state": one.state,
            "release_digest": one.release,
            "assessment": one.assessed.digest,
        }
        if one.route is None and one.state == "open":
            del row["state"]  # whom it asked is not told, and so not whether they all agreed
        if one.route is not None:
            row |= {"rule_set": one.assessed.rule_set, "route": one.route.document()}
            row["opened_at"] = one.opened_at
        told[one.number] = row
    return told


def _assessments() -> dict[str, dict[str, Any]]:
    """Return what the stored assessments say of facts, gates, inputs and base; each is told by the entry of its use."""
    found = {}
    for one in StoredAssessment.objects.iterator():
        document = one.document
        gates = [{"gate": each["gate"], "items": each["items"]} for each in document.get("gates", ())]
        found[one.digest] = {
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
            "base": one.base,
            "inputs": dict(one.inputs),
            "facts": dict(one.facts),
            "gates": [{"gate": gate, "items": list(items)} for gate, items in one.gates.items()],
            "substance": one.substance,
        }
        if one.told
        else {}
        for key, one in state.assessments.items()
    }


def _sign_offs() -> dict[tuple[int, int], dict[str, Any]]:
    rows: dict[int, list[SignOff]] = {}
    for one in SignOff.objects.select_related("person", "deputy_for").order_by("pk"):
        rows.setdefault(one.request_id, []).append(one)
    return {
        (number, place): {
            "desk": one.desk,
            "by": one.person.username,
            "deputy_for": one.deputy_for.username if one.deputy_for else "",
            "answer": one.answer,
            "release_digest": one.release_digest,
            "assessment": one.assessment_digest,
            "rule_set": one.rule_set,
            "despite": sorted((each["gate"], each["reason"]) for each in one.despite),
            "voided": one.voided_at is not None,
        }
        for number, found in rows.items()
        for place, one in enumerate(found, 1)
    }


def _told_sign_offs(state: State) -> dict[tuple[int, int], dict[str, Any]]:
    return {
        (found.number, place): {
            "desk": one.desk,
            "by": one.who,
            "deputy_for": one.holder,
            "answer": one.answer,
            "release_digest": one.release,
            "assessment": one.assessment,
            "rule_set": one.rule_set,
            "despite": list(one.despite),
            "voided": one.voided,
        }
        for found in state.requests.values()
        for place, one in enumerate(found.sign_offs, 1)
    }


def _comments() -> dict[int, dict[str, Any]]:
    return {
        one.pk: {
            "request": one.request_id,
            "kind": one.kind,
            "text": one.text,
            "by": one.person.username,
            "answers": one.answers_id,
            "settled": one.settled_at is not None,
        }
        for one in Comment.objects.select_related("person")
    }


def _told_comments(state: State) -> dict[int, dict[str, Any]]:
    answered = {one["answers"] for one in state.comments.values() if one["kind"] == "answer"}
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
            "text": one.text,
            "owner": one.owner.username,
            "due": one.due.isoformat(),
            "closed": one.closing_note if one.closed_at else None,
        }
        for place, one in enumerate(rows, 1)
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
