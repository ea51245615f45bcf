"""Suspending a server or an item at once, and lifting that when a request was agreed to."""

from __future__ import annotations

from django.db import IntegrityError, transaction

from tallshelf.core.errors import Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.models import Suspension
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


@transaction.atomic
def suspend(actor: Actor, slug: str, reason: str, item: str = "") -> tuple[Suspension, bool]:
    """Suspend a server or one item of it at once; suspended already answers with what stands."""
    server = queries.server(slug)
    require(actor, "suspend", server.team.slug)
    reason = need_reason(reason)
    standing = server.suspensions.filter(item=item, lifted_at=None).first()
    if standing is not None:
        return standing, False
    try:
        made = Suspension.objects.create(
            server=server, item=item, reason=reason, by_id=actor.id, at=clock.now()
        )
    except IntegrityError:
        raise Conflict(f"{slug} has just been suspended by someone else") from None
    record(actor, Event.SUSPENDED, {"server": slug, "item": item, "reason": reason})
    return made, True


def lift(actor: Actor, suspension: Suspension, *, request: int) -> None:
    """Lift a suspension, as a request that was agreed to asks; inside its transaction."""
    if not Suspension.objects.filter(pk=suspension.pk, lifted_at=None).update(lifted_at=clock.now()):
        raise Conflict("this suspension has been lifted already", remedy="Look again.")
    about = {"server": suspension.server.slug, "item": suspension.item, "request": request}
    record(actor, Event.SUSPENSION_LIFTED, about)
