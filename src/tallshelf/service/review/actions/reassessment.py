"""Assessing a request anew when what its assessment rests on has moved."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.assess import Assessment
from tallshelf.core.routing import next_request_state
from tallshelf.service import clock
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    desks_of,
    keep_assessment,
    move_request,
    rule_set_in_force,
    void_sign_offs,
)
from tallshelf.service.review.actions.carrying_out import settle
from tallshelf.service.review.assessing import assess_request, moved_inputs, subject
from tallshelf.service.review.models import Request


def reassess(actor: Actor, number: int) -> Request:
    """Assess an open or agreed request anew; when something moved, its sign-offs are voided.

    Anyone may who may see the request: it only brings out what is true already. When nothing
    moved, nothing changes.
    """
    found = queries.request(actor, number)
    next_request_state(found.state, "reassess")  # type: ignore[arg-type]
    _reassess(actor, found)
    found.refresh_from_db()  # not looked up anew: the route may have left the desk by which the actor sees it
    return found


def reassess_open(actor: Actor, owner: Server) -> None:
    """Assess every open or agreed request of a server anew, after something it rests on changed."""
    rows = Request.objects.filter(server=owner, state__in=("open", "agreed"))
    for found in rows.select_related("server__team", "server__current", "release__snapshot", "assessment"):
        _reassess(actor, found)


def _reassess(actor: Actor, found: Request) -> None:
    now = assess_request(found)
    moved = moved_inputs(found.assessment.document["inputs"], now.inputs)
    if moved:
        reopen(actor, found, now, moved)


@transaction.atomic
def reopen(actor: Actor, found: Request, assessment: Assessment, moved: list[str]) -> None:
    """Store a new assessment and route, void the sign-offs, and ask again whom the route names by now."""
    move_request(found, "reassess")
    voided = void_sign_offs(found)
    kept = keep_assessment(assessment)
    desks = desks_of(kept.document["route"])
    Request.objects.filter(pk=found.pk).update(
        assessment=kept,
        release=subject(found),
        route=kept.document["route"],
        desks=desks,
        asked_at=clock.now(),
        rule_set=rule_set_in_force(),
    )
    if found.kind == "publish" and found.release_id is not None:
        Release.objects.filter(pk=found.release_id).update(desks=desks)
    record(
        actor,
        Event.REASSESSED,
        {
            "server": found.server.slug,
            "request": found.pk,
            "assessment_digest": assessment.digest,
            "because": moved,
            "voided": voided,
        },
    )
    found.route = kept.document["route"]
    settle(actor, found)
