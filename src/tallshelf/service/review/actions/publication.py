"""Publishing what was agreed to, if it is still what was signed."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import BadArgument, InputsMoved
from tallshelf.core.routing import next_request_state
from tallshelf.core.snapshot import parse_launches
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.actions import set_current, shrink_known
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    about,
    close_request,
    inputs_moved,
    move_release,
    move_request,
)
from tallshelf.service.review.actions.reassessment import reopen
from tallshelf.service.review.assessing import assess_release, capture_again, moved_inputs
from tallshelf.service.review.models import Request


def publish(actor: Actor, number: int) -> Request:
    """Publish what was agreed to, if it is still what was signed.

    What the sign-offs rest on is looked at again, HTTP servers are captured once more. When
    something moved, the request is assessed and opened again: `InputsMoved` says what it was.
    Published already answers with the request.
    """
    found = queries.request(actor, number)
    release, owner = found.release, found.server
    require(actor, "publish", owner.team.slug)
    if release is None or found.kind != "publish":
        raise BadArgument(
            f"request {number} asks for something else", remedy="It is carried out when the last desk agrees."
        )
    if found.state == "done":
        return found
    next_request_state(found.state, "carry-out")  # type: ignore[arg-type]
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    now = assess_release(owner, release.version, snapshot, launches, release.origin)
    moved = moved_inputs(found.assessment.document["inputs"], now.inputs)
    if moved:
        reopen(actor, found, now, moved)
        raise InputsMoved(
            f"{', '.join(moved)} moved since request {number} was agreed to; it has been assessed again",
            remedy="The reviewers must look once more.",
        )
    capture_again(launches, release.snapshot_id)
    with transaction.atomic():
        if inputs_moved(owner, release.version, now):
            raise InputsMoved("the base or the rules moved at this moment", remedy="Publish again.")
        found.refresh_from_db(fields=["state"])
        if found.state == "done":
            return queries.request(actor, number)
        move_request(found, "carry-out")
        close_request(found)
        move_release(release, "publish", published_at=clock.now())
        set_current(owner)
        shrink_known(actor, release)
        record(
            actor,
            Event.RELEASE_PUBLISHED,
            {
                **about(found),
                "snapshot_digest": release.snapshot_id,
                "assessment_digest": found.assessment_id,
            },
        )
    return queries.request(actor, number)
