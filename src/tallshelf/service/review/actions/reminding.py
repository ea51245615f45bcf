"""The clock's job: reminding desks of what is overdue, then letting it rise to the desk's lead.

It may run in several workers at once, be killed and be run again: each nudge is one row that can be
there once, stored together with its ledger entry.
"""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.db import IntegrityError, transaction

from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK
from tallshelf.service.review.models import Nudge, Request
from tallshelf.service.review.progress import DeskStanding, standings


def remind_and_escalate() -> int:
    """Remind every desk that is overdue, and let rise what stayed so; return how many nudges were new."""
    now = clock.now()
    later = timedelta(hours=settings.CONFIG.rise_after_hours)
    rows = list(Request.objects.filter(state="open").select_related("server__team"))
    there = set(Nudge.objects.filter(request__in=rows).values_list("request", "desk", "stage", "round"))
    made = 0
    for request, where in zip(rows, standings(rows).values(), strict=True):
        for desk in where.asked:
            for stage, due in (("reminded", desk.due_at), ("risen", desk.due_at + later)):
                if due <= now and (request.pk, desk.desk, stage, desk.since) not in there:
                    made += _nudge(request, desk, stage)
    return made


def _nudge(request: Request, desk: DeskStanding, stage: str) -> int:
    try:
        with transaction.atomic():
            Nudge.objects.create(
                request=request, desk=desk.desk, stage=stage, round=desk.since, at=clock.now()
            )
            about = {"server": request.server.slug, "request": request.pk, "desk": desk.desk}
            about["due_at"] = desk.due_at.isoformat()
            if stage == "risen":
                record(CLOCK, Event.REQUEST_RISEN, {**about, "lead": desk.lead})
            else:
                record(CLOCK, Event.DESK_REMINDED, about)
    except IntegrityError:
        return 0  # another worker was quicker
    return 1
