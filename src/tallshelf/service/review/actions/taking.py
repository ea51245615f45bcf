"""Who looks at a request now: taking it, and handing it on."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import Conflict, Denied
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.models import Request
from tallshelf.service.review.progress import desks_to_sign, leads, standing


@transaction.atomic
def take(actor: Actor, number: int, *, hand_on: bool = False) -> Request:
    """Take a request that waits at an own desk, so that others see who looks at it; or hand it on.

    Others may still answer. A lead of a desk that is asked may hand on, or take over, what somebody took.
    """
    require(actor, "comment")
    request = queries.request(actor, number)
    if request.state != "open":
        raise Conflict(
            f"request {number} is {request.state}", remedy="Only what waits for sign-offs is taken."
        )
    where = standing(request)
    lead = actor.username in leads(where)
    own = request.taken_by_id == actor.id
    if hand_on:
        if request.taken_by_id is None:
            return request
        if not own and not lead:
            raise Denied("somebody else took it", remedy="They hand it on, or a lead of the desk does.")
        return _set(actor, request, None)
    if own:
        return request
    if not desks_to_sign(actor, request, where):
        raise Denied("it does not wait for you", remedy="Those who may sign it now take it.")
    if request.taken_by is not None and not lead:
        raise Conflict(f"{request.taken_by.name} took it", remedy="You may answer it all the same.")
    return _set(actor, request, actor.id)


def _set(actor: Actor, request: Request, person: int | None) -> Request:
    moved = Request.objects.filter(pk=request.pk, taken_by_id=request.taken_by_id)
    if not moved.update(taken_by_id=person, taken_at=clock.now() if person else None):
        raise Conflict(f"request {request.pk} has just been taken by someone else", remedy="Look again.")
    event = Event.REQUEST_TAKEN if person else Event.REQUEST_HANDED_ON
    record(actor, event, {"server": request.server.slug, "request": request.pk})
    return queries.request(actor, request.pk)
