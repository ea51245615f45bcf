"""Assessing a request anew when what its assessment rests on has moved."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.assess import Assessment
from tallshelf.core.routing import next_request_state
from tallshelf.core.snapshot import parse_launches
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    keep_assessment,
    move_request,
    rule_set_in_force,
    void_sign_offs,
)
from tallshelf.service.review.assessing import assess_release, moved_inputs
from tallshelf.service.review.models import Request


def reassess(actor: Actor, number: int) -> Request:
    """Assess an open or agreed request anew; when something moved, its sign-offs are voided.

    Anyone may who may see the request: it only brings out what is true already. When nothing
    moved, nothing changes.
    """
    found = queries.request(actor, number)
    next_request_state(found.state, "reassess")  # type: ignore[arg-type]
    _reassess(actor, found)
    return queries.request(actor, number)


def reassess_open(actor: Actor, owner: Server) -> None:
    """Assess every open or agreed request of a server anew, after something it rests on changed."""
    rows = Request.objects.filter(release__server=owner, state__in=("open", "agreed"))
    for found in rows.select_related("release__server__team", "release__snapshot", "assessment"):
        _reassess(actor, found)


def _reassess(actor: Actor, found: Request) -> None:
    release = found.release
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    now = assess_release(release.server, release.version, snapshot, launches, release.origin)
    moved = moved_inputs(found.assessment.document["inputs"], now.inputs)
    if moved:
        reopen(actor, found, now, moved)


@transaction.atomic
def reopen(actor: Actor, found: Request, assessment: Assessment, moved: list[str]) -> None:
    """Store a new assessment and route, void the sign-offs, and ask again."""
    move_request(found, "reassess")
    voided = void_sign_offs(found)
    kept = keep_assessment(assessment)
    Request.objects.filter(pk=found.pk).update(
        assessment=kept, route=kept.document["route"], rule_set=rule_set_in_force()
    )
    desks = sorted({seat["desk"] for step in kept.document["route"]["steps"] for seat in step["desks"]})
    Release.objects.filter(pk=found.release_id).update(desks=desks)
    record(
        actor,
        Event.REASSESSED,
        {
            "server": found.release.server.slug,
            "request": found.pk,
            "assessment_digest": assessment.digest,
            "because": moved,
            "voided": voided,
        },
    )
