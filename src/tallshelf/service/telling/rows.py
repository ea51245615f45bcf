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
        one.pk: {
            "team": one.team.slug,
            "address": named_address(one.address),
            "about": one.about,
            "types": tuple(one.types),
            "round": one.round,
            "ended": one.ended_at is not None,
        }
        for one in Webhook.objects.select_related("team")
    }
    told = {
        number: {
            "team": one.team,
            "address": one.address,
            "about": one.about,
            "types": one.types,
            "round": one.round,
            "ended": one.ended,
        }
        for number, one in state.webhooks.items()
    }
    yield from compare("webhook", there, told)
