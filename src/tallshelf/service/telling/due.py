"""The clock's job: telling of what is due, once at each of its stages."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import UTC, datetime, time, timedelta
from itertools import chain
from typing import Any

from django.db import IntegrityError, transaction

from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.catalog.models import ItemDeprecation, Release, StoredWaiver
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK
from tallshelf.service.review.models import FollowUp
from tallshelf.service.telling.models import Reminder

DAYS: dict[Event, tuple[int, ...]] = {
    Event.LAST_DAY_NEARS: (30, 7, 1),
    Event.WAIVER_DUE: (7, 1),
    Event.FOLLOW_UP_DUE: (3, 0),
}
"""How many days before something is due it is told."""

_Due = tuple[str, datetime, dict[str, Any]]


def remind_of_what_is_due() -> int:
    """Tell of what is due, the nearest stage alone where several have passed; return how many were new."""
    now = clock.now()
    made = 0
    for event, found in ((event, _FOUND[event]) for event in DAYS):
        horizon = now + timedelta(days=max(DAYS[event]))
        there = set(Reminder.objects.filter(what=event.value).values_list("key", flat=True))
        for key, due, payload in found(now, horizon):
            stage = min((days for days in DAYS[event] if due - timedelta(days=days) <= now), default=None)
            if stage is not None and f"{key} {stage}" not in there:
                made += _remind(event, f"{key} {stage}", payload, stage)
    return made


def _remind(event: Event, key: str, payload: dict[str, Any], days: int) -> int:
    if event is Event.LAST_DAY_NEARS:
        payload = {**payload, "days": days}
    try:
        with transaction.atomic():
            Reminder.objects.create(what=event.value, key=key, at=clock.now())
            record(CLOCK, event, payload)
    except IntegrityError:
        return 0  # another worker was quicker
    return 1


def _last_days(now: datetime, horizon: datetime) -> Iterator[_Due]:
    rows = Release.objects.filter(state="deprecated", sunset_at__gt=now, sunset_at__lte=horizon)
    for release in rows.select_related("server").order_by("pk"):
        assert release.sunset_at is not None
        about = {
            "server": release.server.slug,
            "version": release.version,
            "due_at": release.sunset_at.isoformat(),
        }
        about["item"] = ""
        yield f"{release.pk} {release.sunset_at:%Y-%m-%d}", release.sunset_at, about


def _last_days_of_items(now: datetime, horizon: datetime) -> Iterator[_Due]:
    rows = ItemDeprecation.objects.filter(sunset_at__gt=now, sunset_at__lte=horizon)
    for deprecation in rows.select_related("server").order_by("pk"):
        assert deprecation.sunset_at is not None
        about = {"server": deprecation.server.slug, "version": "", "item": deprecation.item}
        key = f"item {deprecation.pk} {deprecation.sunset_at:%Y-%m-%d}"
        yield key, deprecation.sunset_at, {**about, "due_at": deprecation.sunset_at.isoformat()}


def _waivers(now: datetime, horizon: datetime) -> Iterator[_Due]:
    rows = StoredWaiver.objects.filter(state="granted", until__gt=now, until__lte=horizon)
    for waiver in rows.select_related("server").order_by("pk"):
        about = {"server": waiver.server.slug, "waiver": waiver.pk, "rule": waiver.rule, "item": waiver.item}
        yield str(waiver.pk), waiver.until, {**about, "due_at": waiver.until.isoformat()}


def _follow_ups(now: datetime, horizon: datetime) -> Iterator[_Due]:
    rows = FollowUp.objects.filter(closed_at=None, sign_off__voided_at=None, due__lte=horizon.date())
    for follow_up in rows.select_related("sign_off__request__server").order_by("pk"):
        due = datetime.combine(follow_up.due, time(0), UTC)
        request = follow_up.sign_off.request
        about = {"server": request.server.slug, "request": request.pk, "follow_up": follow_up.pk}
        yield str(follow_up.pk), due, {**about, "due_at": due.isoformat()}


_FOUND: dict[Event, Callable[[datetime, datetime], Iterator[_Due]]] = {
    Event.LAST_DAY_NEARS: lambda now, horizon: chain(
        _last_days(now, horizon), _last_days_of_items(now, horizon)
    ),
    Event.WAIVER_DUE: _waivers,
    Event.FOLLOW_UP_DUE: _follow_ups,
}
