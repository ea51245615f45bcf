"""What is to leave the service: stored in the transaction of its act, and claimed by who sends it.

A row is sent at least once. Who claims it holds it by a lease; one that was killed lets it run out.
"""

from __future__ import annotations

import random
import secrets
from collections.abc import Collection, Iterable
from datetime import datetime, timedelta

from django.conf import settings
from django.db import transaction
from django.db.models import Min, Q, QuerySet

from tallshelf.service import clock
from tallshelf.service.telling.models import Delivery, Notice, Webhook

LEASE = timedelta(seconds=90)
MOST_ATTEMPTS = 10
_FIRST_PAUSE, _LONGEST_PAUSE = timedelta(seconds=5), timedelta(hours=8)
_SENT_KEPT, _FAILED_KEPT, _GIVEN_UP = timedelta(days=30), timedelta(days=180), timedelta(days=5)


def add_mails(notices: Iterable[Notice], ways: dict[int, str]) -> None:
    """Ask that notices go out by mail, by the way of each person: ``mail``, or ``digest``; inside an act."""
    if not settings.CONFIG.mail_host:
        return
    now = clock.now()
    rows = [
        Delivery(
            key=_new_key(),
            notice=notice,
            person_id=notice.person_id,
            entry=notice.entry,
            digest=ways[notice.person_id] == "digest",
            due_at=_next_digest(now) if ways[notice.person_id] == "digest" else now,
            made_at=now,
        )
        for notice in notices
        if ways[notice.person_id] in ("mail", "digest")
    ]
    Delivery.objects.bulk_create(rows, batch_size=200)


def add_events(webhooks: dict[int, str], entry: int) -> None:
    """Ask that an entry is sent to webhooks, each with why; inside an act. Entry 0 is a trial."""
    now = clock.now()
    rows = [
        Delivery(key=_new_key(), webhook_id=one, entry=entry, because=why[:300], due_at=now, made_at=now)
        for one, why in webhooks.items()
    ]
    Delivery.objects.bulk_create(rows)


def add_code(person: int) -> None:
    """Ask that the code which confirms a person's address is sent there; one that waits is enough."""
    now = clock.now()
    drop_code(person)
    Delivery.objects.create(key=_new_key(), person_id=person, due_at=now, made_at=now)


def drop_code(person: int) -> None:
    """Send a code no more that is not needed any more."""
    Delivery.objects.filter(person_id=person, notice=None, state="waiting").delete()


def _new_key() -> str:
    return f"msg_{secrets.token_hex(14)}"


def _next_digest(now: datetime) -> datetime:
    today = now.replace(hour=settings.CONFIG.mail_digest_hour, minute=0, second=0, microsecond=0)
    return today if today > now else today + timedelta(days=1)


def claim_mails(most: int, busy: Collection[int]) -> list[list[Delivery]]:
    """Claim mail that is due, one message for each person, the oldest first: a notice, a code, or a whole digest.

    ``busy`` are people whom this process is writing to already.
    """
    due = _due().filter(webhook=None).exclude(person_id__in=busy)
    claimed = []
    for pk in _first_of_each(due, "person", most):
        delivery = Delivery.objects.select_related("person").get(pk=pk)
        if delivery.digest and not delivery.batch:
            _gather(delivery)
        batch = (
            Delivery.objects.filter(batch=delivery.batch)
            if delivery.batch
            else Delivery.objects.filter(pk=pk)
        )
        if taken := _take(batch):
            claimed.append(taken)
    return claimed


def _first_of_each(due: QuerySet[Delivery], whom: str, most: int) -> list[int]:
    """Return the oldest row of each receiver, however many others wait before those of somebody else."""
    return list(
        due.values(whom).annotate(first=Min("pk")).order_by("first").values_list("first", flat=True)[:most]
    )


def _gather(delivery: Delivery) -> None:
    """Put all that waits for somebody's digest into one, which stays the same however often it is tried."""
    delivery.batch = _new_key()
    waits = Delivery.objects.filter(person=delivery.person, digest=True, batch="", state="waiting")
    waits.filter(due_at__lte=clock.now()).update(batch=delivery.batch)


def claim_events(most: int, busy: Collection[int]) -> list[Delivery]:
    """Claim events that are due, one for each webhook, the oldest first; none for one that is busy or rests."""
    now = clock.now()
    open_ = Q(webhook__resting_until=None) | Q(webhook__resting_until__lte=now)
    due = _due().filter(open_, webhook__ended_at=None).exclude(webhook_id__in=busy)
    # Each webhook gets its events in order, unless another process is sending it one just now.
    held = Delivery.objects.filter(state="waiting", lease_until__gt=now).exclude(webhook=None)
    due = due.exclude(webhook=None).exclude(webhook_id__in=held.values("webhook_id"))
    taken = [_take(Delivery.objects.filter(pk=pk)) for pk in _first_of_each(due, "webhook", most)]
    return [delivery for those in taken for delivery in those]


def _due() -> QuerySet[Delivery]:
    now = clock.now()
    free = Q(lease_until=None) | Q(lease_until__lt=now)
    return Delivery.objects.filter(free, state="waiting", due_at__lte=now)


@transaction.atomic
def _take(rows: QuerySet[Delivery]) -> list[Delivery]:
    """Take rows under a lease, all of them or none."""
    now = clock.now()
    deliveries = list(rows.filter(state="waiting").select_related("notice", "person", "webhook__team"))
    if not deliveries or any(
        delivery.lease_until is not None and delivery.lease_until >= now for delivery in deliveries
    ):
        return []
    for delivery in deliveries:
        delivery.attempts, delivery.lease_until = delivery.attempts + 1, now + LEASE
    Delivery.objects.bulk_update(deliveries, ["attempts", "lease_until"])
    return deliveries


def sent(rows: Collection[Delivery], answer: str) -> None:
    """Note that rows were sent, and what was answered."""
    _held(rows).update(state="sent", answer=answer[:40], error="", lease_until=None, ended_at=clock.now())


def undeliverable(rows: Collection[Delivery], error: str, answer: str = "") -> None:
    """Note that rows cannot be delivered, and why; they stay to be looked at."""
    _held(rows).update(
        state="undeliverable",
        answer=answer[:40],
        error=error[:500],
        lease_until=None,
        ended_at=clock.now(),
    )


def try_later(rows: Collection[Delivery], error: str, answer: str = "", wait: float = 0) -> datetime | None:
    """Let rows be tried again later, not before ``wait`` seconds; return when, or None after the last attempt."""
    attempts = max(delivery.attempts for delivery in rows)
    if attempts >= MOST_ATTEMPTS:
        undeliverable(rows, error, answer)
        return None
    due = clock.now() + max(_pause(attempts), timedelta(seconds=min(wait, _LONGEST_PAUSE.total_seconds())))
    _held(rows).update(due_at=due, answer=answer[:40], error=error[:500], lease_until=None)
    return due


def _pause(attempts: int) -> timedelta:
    """Return how long to wait after an attempt: longer each time, and never all at the same moment."""
    longest: timedelta = min(_FIRST_PAUSE * 4 ** (attempts - 1), _LONGEST_PAUSE)
    return longest * random.uniform(0.8, 1.0)  # noqa: S311 - it keeps no secret


def _held(rows: Collection[Delivery]) -> QuerySet[Delivery]:
    return Delivery.objects.filter(pk__in=[delivery.pk for delivery in rows], state="waiting")


def stop_waiting(error: str) -> int:
    """Let nothing that waits be sent by itself any more, and say why; return how much that is."""
    rows = Delivery.objects.filter(state="waiting")
    return rows.update(state="undeliverable", error=error[:500], lease_until=None, ended_at=clock.now())


def forget_past() -> None:
    """Forget what was sent a month ago, and what could not be after half a year; give up what waits for days."""
    now = clock.now()
    Delivery.objects.filter(state="waiting", lease_until=None, made_at__lt=now - _GIVEN_UP).update(
        state="undeliverable", error="nobody took it for five days", ended_at=now
    )
    Delivery.objects.filter(state="sent", ended_at__lt=now - _SENT_KEPT).delete()
    Delivery.objects.filter(state="undeliverable", ended_at__lt=now - _FAILED_KEPT).delete()


def rest(webhook: Webhook, until: datetime | None) -> None:
    """Let a webhook that failed rest until a moment; None: it answered."""
    webhooks = Webhook.objects.filter(pk=webhook.pk)
    if until is None:
        webhooks.exclude(failures=0, resting_until=None).update(failures=0, resting_until=None)
    else:
        webhooks.update(failures=webhook.failures + 1, resting_until=until)
