"""Webhooks: made, rotated and ended for a team; and the log of what was sent to them."""

from __future__ import annotations

import hashlib
import hmac
from collections.abc import Iterable
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import Count, Q, QuerySet

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.telling import TYPES, written_secret
from tallshelf.protocol import AddressPolicy
from tallshelf.protocol.endpoints import origin_of
from tallshelf.service import clock
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger import memory
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.people.queries import team as team_named
from tallshelf.service.telling import outbox
from tallshelf.service.telling.models import Delivery, Webhook

MOST = 50
_BOTH_SIGN = timedelta(days=1)
_TRIAL = "a trial"


@transaction.atomic
def make_webhook(
    actor: Actor, team: str, address: str, about: str = "team", types: Iterable[str] = ()
) -> tuple[Webhook, str]:
    """Have events sent to an address for a team; return the webhook, and the secret that signs them.

    ``about`` is ``team`` (what concerns it) or ``catalog`` (all that is published as well), ``types`` narrows them.
    Raises `Denied` for an address that the settings do not allow, `Conflict` for one that the team has already.
    """
    owner = team_named(team)
    require(actor, "keep-webhook", owner.slug)
    if about not in Webhook.ABOUT:
        raise BadArgument(
            f"a webhook is not about {about!r}", remedy=f"It is one of {', '.join(Webhook.ABOUT)}."
        )
    wanted = sorted(set(types))
    unknown = [one for one in wanted if one not in TYPES]
    if unknown:
        raise BadArgument(f"no event has the type {unknown[0]!r}", remedy=f"Types are {', '.join(TYPES)}.")
    policy().check_url(address)
    if "#" in address or len(address) > 500:
        raise BadArgument("the address is longer than 500 characters, or names a fragment")
    live = Webhook.objects.filter(ended_at=None)
    if live.filter(team=owner, address=address, about=about).exists():
        raise Conflict(
            f"{owner.slug} has a webhook to {address} already", remedy="End it first, or rotate its secret."
        )
    if live.count() >= MOST:
        raise Conflict(
            f"there are {MOST} webhooks already", remedy="End one; programs can also ask for events."
        )
    made = Webhook.objects.create(
        team=owner, address=address, about=about, types=wanted, made_by_id=actor.id, made_at=clock.now()
    )
    told = {"webhook": made.pk, "team": owner.slug, "about": about, "types": wanted}
    told["address"] = named_address(address)
    record(actor, Event.WEBHOOK_MADE, told)
    return made, written_secret(_key(made, made.round))


@transaction.atomic
def rotate(actor: Actor, number: int) -> tuple[Webhook, str]:
    """Give a webhook another secret and return it; for a day the one before signs as well."""
    webhook = _live(actor, number)
    webhook.round, webhook.rotated_at = webhook.round + 1, clock.now()
    webhook.save(update_fields=["round", "rotated_at"])
    record(
        actor, Event.WEBHOOK_ROTATED, {"webhook": number, "team": webhook.team.slug, "round": webhook.round}
    )
    return webhook, written_secret(_key(webhook, webhook.round))


@transaction.atomic
def end_webhook(actor: Actor, number: int, reason: str) -> Webhook:
    """End a webhook: nothing more is sent there, and what waits is not either."""
    return _end(actor, _live(actor, number), need_reason(reason))


@transaction.atomic
def end_gone(webhook: Webhook) -> None:
    """End a webhook whose address says that it is gone for good (HTTP 410)."""
    if Webhook.objects.filter(pk=webhook.pk, ended_at=None).exists():
        _end(CLOCK, webhook, "the address answers that it is gone (HTTP 410)")


def _end(actor: Actor, webhook: Webhook, reason: str) -> Webhook:
    webhook.ended_at, webhook.end_reason = clock.now(), reason[:300]
    webhook.save(update_fields=["ended_at", "end_reason"])
    waits = Delivery.objects.filter(webhook=webhook, state="waiting")
    waits.update(state="undeliverable", error="the webhook was ended", ended_at=webhook.ended_at)
    record(actor, Event.WEBHOOK_ENDED, {"webhook": webhook.pk, "team": webhook.team.slug, "reason": reason})
    return webhook


@transaction.atomic
def send_trial(actor: Actor, number: int) -> Webhook:
    """Send an event that nothing happened, to see whether it arrives; raise `Conflict` while one waits."""
    webhook = _live(actor, number)
    if webhook.deliveries.filter(entry=0, state="waiting").exists():
        raise Conflict("a trial waits to be sent already", remedy="Look at what is sent to it.")
    Webhook.objects.filter(pk=webhook.pk).update(resting_until=None)
    outbox.add_events({webhook.pk: _TRIAL}, 0)
    return webhook


def webhooks(actor: Actor) -> QuerySet[Webhook]:
    """Return the webhooks that an actor may see: of their teams, or for curators all; ended ones last."""
    require(actor, "see")
    rows = Webhook.objects.select_related("team", "made_by").annotate(
        waiting=Count("deliveries", filter=Q(deliveries__state="waiting")),
        lost=Count("deliveries", filter=Q(deliveries__state="undeliverable")),
    )
    if refusal(actor, "see-ledger") is not None:
        rows = rows.filter(team__slug__in=actor.teams)
    return rows.order_by("ended_at", "team__slug", "pk")


def webhook(actor: Actor, number: int) -> Webhook:
    """Return a webhook that an actor may see; raise `NotFound`."""
    found = webhooks(actor).filter(pk=number).first()
    if found is None:
        raise NotFound(f"there is no webhook {number} of yours", remedy="List them to see their numbers.")
    return found


def _live(actor: Actor, number: int) -> Webhook:
    found = webhook(actor, number)
    require(actor, "keep-webhook", found.team.slug)
    if found.ended_at is not None:
        raise Conflict(f"webhook {number} was ended", remedy="Make another.")
    return found


def deliveries(actor: Actor, *, state: str = "", number: int = 0) -> QuerySet[Any, Any]:
    """Return what was or is to be sent, one lean row each: to a webhook, or for stewards all of it, mail as well."""
    rows = Delivery.objects.all()
    if number:
        rows = rows.filter(webhook=webhook(actor, number))
    else:
        require(actor, "administer")
    if state:
        rows = rows.filter(state=state)
    return rows.values(
        "pk", "key", "state", "entry", "attempts", "answer", "error", "due_at", "made_at", "ended_at",
        "webhook_id", "webhook__address", "person__username", "notice__words", "digest",
    )  # fmt: skip


@transaction.atomic
def resend(actor: Actor, key: str) -> None:
    """Send a message again under its own name, at once; raise `Conflict` for one that waits to be sent anyway."""
    delivery = Delivery.objects.select_related("webhook__team").filter(key=key).first()
    if delivery is None or (delivery.webhook is None and refusal(actor, "administer") is not None):
        require(actor, "see")
        raise NotFound(f"no message is named {key[:40]!r}")
    if delivery.webhook is not None:
        _live(actor, delivery.webhook.pk)
        Webhook.objects.filter(pk=delivery.webhook.pk).update(resting_until=None)
    if delivery.state == "waiting" and delivery.lease_until is not None:
        raise Conflict("it is being sent just now", remedy="Look again in a moment.")
    delivery.state, delivery.due_at, delivery.attempts = "waiting", clock.now(), 0
    delivery.error, delivery.answer, delivery.ended_at = "", "", None
    delivery.save()


def policy() -> AddressPolicy:
    """Return where webhooks may be sent, as the settings say."""
    config = settings.CONFIG
    return AddressPolicy(frozenset(config.webhook_allow), tuple(config.webhook_networks), "webhooks")


def signing_keys(webhook: Webhook) -> list[bytes]:
    """Return the keys that sign for a webhook now, the newest first.

    Raises `Denied` when the row is not as the ledger tells: nothing is sent where nobody was entitled to have it sent.
    """
    with memory.told() as state:
        told = state.webhooks.get(webhook.pk)
    there = (webhook.team.slug, named_address(webhook.address), webhook.about, webhook.round)
    if told is None or told.ended or (told.team, told.address, told.about, told.round) != there:
        raise Denied(f"webhook {webhook.pk} is not as the ledger tells", remedy="Run verify-ledger.")
    keys = [_key(webhook, webhook.round)]
    if webhook.rotated_at is not None and clock.now() - webhook.rotated_at < _BOTH_SIGN:
        keys.append(_key(webhook, webhook.round - 1))
    return keys


def named_address(address: str) -> str:
    """Return how the ledger names an address: its origin, and the digest of all of it, which may hold a secret."""
    return f"{origin_of(address)} sha256:{hashlib.sha256(address.encode()).hexdigest()}"


def secrets_of_all() -> list[str]:
    """Return the secrets that sign now, on the service's own machine."""
    return [written_secret(_key(webhook, webhook.round)) for webhook in Webhook.objects.filter(ended_at=None)]


def _key(webhook: Webhook, round_: int) -> bytes:
    """Draw a webhook's key from the service's: stored nowhere, and another one each round."""
    said = f"webhook:{webhook.pk}:{webhook.made_at.isoformat()}:{round_}"
    return hmac.new(settings.SECRET_KEY.encode(), said.encode(), hashlib.sha256).digest()
