"""Answering a request at a desk, and taking one back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.db import transaction

from tallshelf.core.entitlement import asked_now, refuses_despite, stands, why_not_here
from tallshelf.core.errors import BadArgument, Conflict, Denied, InputsMoved
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import next_request_state, team_of
from tallshelf.service import clock
from tallshelf.service.ledger import memory
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    about,
    close_request,
    move_release,
    move_request,
    void_sign_offs,
)
from tallshelf.service.review.actions.execution import execute, waits_for_objections
from tallshelf.service.review.actions.follow_ups import read_conditions
from tallshelf.service.review.models import FollowUp, Request, SignOff

_ANSWERS = ("agree", "send-back", "decline")


@transaction.atomic
def sign_off(
    actor: Actor,
    number: int,
    answer: str,
    *,
    release_digest: str,
    assessment_digest: str,
    note: str = "",
    desk: str = "",
    conditions: Iterable[Mapping[str, Any]] = (),
    despite: Mapping[str, str] | None = None,
) -> Request:
    """Answer a request at one desk: ``agree``, ``send-back`` or ``decline``.

    The digests are of what is asked for and of the assessment that the reviewer looked at; when the request
    has moved on to another of either, or agreeing would rest on an assessment that is out of date,
    `InputsMoved`. While a question is open nobody agrees. ``conditions`` to an agreement (``text``,
    ``owner``, ``due``) become follow-ups. Where gates fail in the assessment, an agreement names each of them
    with a reason (``despite``); safety findings are not agreed to. The same answer again changes nothing. With the
    last agreement, what is no publication is carried out.
    """
    request = queries.request(actor, number)
    require(actor, "sign-off")
    if answer not in _ANSWERS:
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are agree, send-back and decline.")
    if answer != "agree" and not note.strip():
        raise BadArgument("say why", remedy="The submitter needs a reason to act on.")
    follow_ups = read_conditions(conditions)
    reasons = {gate: reason.strip() for gate, reason in (despite or {}).items()} if answer == "agree" else {}
    if follow_ups and answer != "agree":
        raise BadArgument("conditions go with agreeing", remedy="Say in the note what is to be done.")
    if release_digest != request.release_digest:
        raise InputsMoved(
            f"request {number} is about other bytes by now ({request.release_digest[7:15]})",
            remedy="Look at it again; a new snapshot was submitted, or other terms.",
        )
    if assessment_digest != request.assessment_id:
        raise InputsMoved(
            f"request {number} has been assessed again since ({request.assessment_id[7:15]})",
            remedy="Look at it again; its changes, findings or desks may be others.",
        )
    own = request.sign_offs.filter(person_id=actor.id, voided_at=None).first()
    if own is not None and own.answer == answer and desk in ("", own.desk):
        return request
    next_request_state(request.state, answer)  # type: ignore[arg-type]
    if own is not None:
        raise Conflict(
            f"you have answered request {number} already, at {own.desk}", remedy="One person counts once."
        )
    chosen, holder = _desk_for(actor, request, desk)
    if answer == "agree":
        _keep_from_agreeing(request, reasons)
    made = SignOff.objects.create(
        request=request,
        desk=chosen,
        person_id=actor.id,
        deputy_for=Person.objects.get(username=holder) if holder else None,
        answer=answer,
        note=note.strip(),
        despite=[{"gate": gate, "reason": reason} for gate, reason in sorted(reasons.items())],
        release_digest=request.release_digest,
        assessment_digest=request.assessment_id,
        rule_set=request.rule_set_id,
        at=clock.now(),
    )
    FollowUp.objects.bulk_create(
        [
            FollowUp(sign_off=made, text=condition.text, owner=condition.owner, due=condition.due)
            for condition in follow_ups
        ]
    )
    record(
        actor,
        Event.SIGNED_OFF,
        {
            "server": request.server.slug,
            "request": request.pk,
            "desk": chosen,
            "answer": answer,
            "release_digest": request.release_digest,
            "assessment_digest": request.assessment_id,
            "rule_set": request.rule_set_id,
            "note": note.strip(),
            "deputy_for": holder,
            "conditions": [condition.document() for condition in follow_ups],
            "despite": made.despite,
        },
    )
    _after_answer(actor, request, answer)
    return queries.request(actor, number)


def _keep_from_agreeing(request: Request, despite: Mapping[str, str]) -> None:
    """Raise what keeps anybody from agreeing to a request as it is now."""
    question = queries.open_questions(request).first()
    if question is not None:
        what = "an objection" if question.kind == "objection" else "a question"
        raise Conflict(
            f"{what} of {question.person.name} is open: {question.text[:120]}",
            remedy="Once it is answered, agree.",
        )
    different = queries.moved(request)
    if different:
        raise InputsMoved(
            f"{', '.join(different)} moved since request {request.pk} was assessed",
            remedy="Have it assessed again, then look at what is there now.",
        )
    with memory.told() as state:
        refusal = refuses_despite(state.requests[request.pk], despite)
    if refusal is None:
        return
    if refusal.kind == "denied":
        raise Denied(refusal.reason, remedy="Send it back, or have the findings waived one by one.")
    raise BadArgument(refusal.reason, remedy="Name each gate that fails with a reason: --despite GATE=WHY.")


def _desk_for(actor: Actor, request: Request, desk: str) -> tuple[str, str]:
    """Return the desk to sign at, and in whose place (none: one's own); raise `Denied` with the reason."""
    with memory.told() as state:
        told = state.requests[request.pk]
        asked = {
            asked_desk.seat.desk: asked_desk for asked_desk in asked_now(stands(state, told, clock.now()))
        }
        if desk and desk not in asked:
            raise Denied(f"the desk {desk!r} is not asked now", remedy=f"Asked now: {', '.join(asked)}.")
        for name in [desk] if desk else asked:
            if actor.username in asked[name].places:
                return name, asked[name].places[actor.username]
        wanted = [desk] if desk else list(asked)
        reasons = {name: why_not_here(asked[name], actor.username) for name in wanted}
    seated = [why for name, why in reasons.items() if name in actor.desks or team_of(name) in actor.teams]
    reason = next(iter(seated or reasons.values()), "no desk is asked now")
    raise Denied(reason, remedy="Ask someone who sits there and has no part in it.")


def _after_answer(actor: Actor, request: Request, answer: str) -> None:
    with memory.told() as state:
        complete = state.requests[request.pk].state == "agreed"
    if answer == "agree" and not complete:
        return
    move_request(request, answer)
    if answer == "agree" and request.kind != "publish" and not waits_for_objections(request):
        execute(actor, request)
    if answer != "decline":
        return
    close_request(request)
    if request.kind == "publish" and request.release is not None:
        move_release(request.release, "decline")
        record(actor, Event.RELEASE_DECLINED, about(request))
    else:
        record(actor, Event.REQUEST_DECLINED, {**about(request), "kind": request.kind})


@transaction.atomic
def take_back(actor: Actor, number: int) -> Request:
    """Take a request back; a release that was to be published becomes a draft."""
    request = queries.request(actor, number)
    queries.require_asker(actor, request)
    if request.state == "taken-back":
        return request
    move_request(request, "take-back")
    void_sign_offs(request)
    close_request(request)
    if request.kind == "publish" and request.release is not None:
        move_release(request.release, "take-back")
    record(actor, Event.REQUEST_TAKEN_BACK, about(request))
    return queries.request(actor, number)
