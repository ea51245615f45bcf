"""Publishing what was agreed to, if it is still what was signed."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import BadArgument, InputsMoved
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import next_request_state
from tallshelf.core.snapshot import LaunchRecord, Snapshot, parse_launches, release_digest
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.actions import set_current, shrink_known
from tallshelf.service.catalog.models import Release
from tallshelf.service.invalidation import invalidate
from tallshelf.service.kits.moving import ask_to_move
from tallshelf.service.ledger.actions import record
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

    What the sign-offs rest on is looked at again, HTTP servers are captured once more. When something moved, the
    request is assessed anew, and opened again unless all that was found is the same: `InputsMoved` says what it
    was. In the transaction that publishes, request, assessment, release and bytes are read once more, and must
    be those that were looked at. Published already answers with the request.
    """
    request = queries.request(actor, number)
    server = request.server
    require(actor, "publish", server.team.slug)
    if request.release is None or request.kind != "publish":
        raise BadArgument(
            f"request {number} asks for something else", remedy="It is carried out when the last desk agrees."
        )
    if request.state == "done":
        return request
    next_request_state(request.state, "carry-out")  # type: ignore[arg-type]
    snapshot, launches = _handed_in(request.release)
    now = assess_release(server, request.release.version, snapshot, launches, request.release.origin)
    moved = moved_inputs(request.assessment.document["inputs"], now.inputs)
    if moved and not reopen(actor, request, now, moved):
        raise InputsMoved(
            f"{', '.join(moved)} moved since request {number} was agreed to; it has been assessed again",
            remedy="The reviewers must look once more.",
        )
    assessment = now.digest if moved else request.assessment_id
    capture_again(launches, request.release.snapshot_id)
    with transaction.atomic():
        if inputs_moved(server, request.release.version, now):
            raise InputsMoved("the base or the rules moved at this moment", remedy="Publish again.")
        again = queries.request(actor, number)
        if again.state == "done":
            return again
        if (again.release_digest, again.assessment_id) != (request.release_digest, assessment):
            raise InputsMoved(f"request {number} was handed in or assessed anew just now", remedy=_LOOK)
        _publish(actor, again, snapshot.digest, launches)
    return queries.request(actor, number)


_LOOK = "Look at it again; nothing was published."


def _handed_in(release: Release) -> tuple[Snapshot, tuple[LaunchRecord, ...]]:
    """Return the bytes of a release, which must be those that its digests name."""
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    whole = release_digest(
        release.server.slug, release.version, snapshot.digest, launches, breaking=release.breaking
    )
    if (snapshot.digest, whole) != (release.snapshot_id, release.digest):
        raise InputsMoved(f"the bytes of {release} are not those that were handed in", remedy=_LOOK)
    return snapshot, launches


def _publish(actor: Actor, request: Request, snapshot: str, launches: tuple[LaunchRecord, ...]) -> None:
    """Publish, inside the transaction, what was looked at and captured before it."""
    release = request.release
    if (
        release is None
        or _handed_in(release)[0].digest != snapshot
        or parse_launches(release.launch) != launches
    ):
        raise InputsMoved("the release is another by now than was looked at", remedy=_LOOK)
    move_request(request, "carry-out")
    close_request(request)
    move_release(release, "publish", published_at=clock.now())
    record(
        actor,
        Event.RELEASE_PUBLISHED,
        {
            **about(request),
            "snapshot_digest": release.snapshot_id,
            "assessment_digest": request.assessment_id,
        },
    )
    set_current(request.server)
    shrink_known(actor, release)
    invalidate("base", server=request.server.slug)
    ask_to_move(request.server.slug)
