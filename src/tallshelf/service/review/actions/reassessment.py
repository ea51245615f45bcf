"""Assessing a request anew when what its assessment rests on has moved."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.assess import Assessment
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import next_request_state
from tallshelf.service import clock
from tallshelf.service.catalog.models import Release
from tallshelf.service.jobs.actions import Running, ask_for
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    assessed,
    desks_of,
    keep_assessment,
    move_request,
    release_desks_of,
    rule_set_in_force,
    void_sign_offs,
)
from tallshelf.service.review.actions.execution import settle_or_execute
from tallshelf.service.review.assessing import assess_request, moved_inputs, subject
from tallshelf.service.review.models import Request
from tallshelf.service.review.progress import whose_part

JOB = "assess-anew"
_ASSESSED = ("open", "agreed")


def reassess(actor: Actor, number: int) -> Request:
    """Assess an open or agreed request anew; where what was found is not the same, its sign-offs are void.

    Anyone may who may see the request: it only brings out what is true already. When nothing
    moved, nothing changes.
    """
    request = queries.request(actor, number)
    next_request_state(request.state, "reassess")  # type: ignore[arg-type]
    _reassess(actor, request)
    request.refresh_from_db()  # not looked up anew: the route may have left the desk by which the actor sees it
    return request


def mark_moved(reason: str, server: str | None) -> None:
    """Mark the undecided requests that something moved under, and ask for each to be assessed anew."""
    rows = Request.objects.filter(state__in=_ASSESSED)
    for request in rows.filter(server__slug=server) if server else rows:
        if reason not in request.moved:
            Request.objects.filter(pk=request.pk).update(moved=[*request.moved, reason])
        ask_for(JOB, str(request.pk))


def mark_of_other_engine(engine: str) -> None:
    """Mark the undecided requests that were assessed by another engine; at the start of a service."""
    for request in Request.objects.filter(state__in=_ASSESSED).select_related("assessment", "server"):
        if request.assessment.document["inputs"].get("engine") != engine:
            mark_moved("engine", request.server.slug)


def assess_anew(job: Running) -> None:
    """Do the job that `mark_moved` asks for: nobody's act, and so the clock's."""
    rows = Request.objects.filter(pk=int(job.key), state__in=_ASSESSED)
    request = rows.select_related(
        "server__team", "server__current", "release__snapshot", "assessment", "suspension"
    ).first()
    if request is not None:
        _reassess(CLOCK, request)


def _reassess(actor: Actor, request: Request) -> None:
    now = assess_request(request)
    different = moved_inputs(request.assessment.document["inputs"], now.inputs)
    parts = sorted(whose_part(request))
    if different or parts:
        reopen(actor, request, now, different, parts)
    elif request.moved:
        Request.objects.filter(pk=request.pk).update(moved=[])


@transaction.atomic
def reopen(
    actor: Actor, request: Request, assessment: Assessment, moved: list[str], parts: list[str] | None = None
) -> bool:
    """Store a new assessment; where what was found differs, void the sign-offs and ask the route's desks again.

    ``parts`` are people who signed and have part in it by now, which voids them as well. Returns whether the
    sign-offs stand.
    """
    before = request.assessment.document.get("substance", {})
    differs = [name for name, value in assessment.substance.items() if before.get(name) != value]
    differs += ["sign-offs"] if parts else []
    kept, rules = keep_assessment(assessment), rule_set_in_force()
    route = kept.document["route"]
    desks = desks_of(route)
    asked = {"asked_at": clock.now()} if differs else {}
    voided = 0
    if differs:
        move_request(request, "reassess")
        voided = void_sign_offs(request)
    release = subject(request)
    Request.objects.filter(pk=request.pk).update(
        assessment=kept, release=release, rule_set=rules, moved=[], route=route, desks=desks, **asked
    )
    if request.kind == "publish" and request.release_id is not None:
        Release.objects.filter(pk=request.release_id).update(desks=release_desks_of(route))
    record(
        actor,
        Event.REASSESSED,
        {
            "server": request.server.slug,
            "request": request.pk,
            "snapshot_digest": assessment.snapshot,
            "because": moved,
            "differs": differs,
            "voided": voided,
            **assessed(kept, assessment, rules),
        },
    )
    if differs:
        request.route = route
        settle_or_execute(actor, request)
    return not differs
