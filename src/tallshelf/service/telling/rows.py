"""Webhooks, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State
from tallshelf.service.telling.models import Webhook
from tallshelf.service.telling.webhooks import named_address
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where webhooks are not as told."""
    there = {
        webhook.pk: {
            "team": webhook.team.slug,
            "address": named_address(webhook.address),
            "about": webhook.about,
            "types": tuple(webhook.types),
            "round": webhook.round,
            "ended": webhook.ended_at is not None,
        }
        for webhook in Webhook.objects.select_related("team")
    }
    told = {
        number: {
            "team": webhook.team,
            "address": webhook.address,
            "about": webhook.about,
            "types": webhook.types,
            "round": webhook.round,
            "ended": webhook.ended,
        }
        for number, webhook in state.webhooks.items()
    }
    yield from compare("webhook", there, told)
