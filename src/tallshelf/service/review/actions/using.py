"""Asking the owners of a server that a kit may use it."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.routing import LIVE_STATES
from tallshelf.core.snapshot import digest
from tallshelf.service.catalog.models import Server
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review.actions.answers import take_back
from tallshelf.service.review.actions.asking import open_request
from tallshelf.service.review.assessing import assess_act
from tallshelf.service.review.models import Request


def ask_use(actor: Actor, server: Server, terms: dict[str, Any]) -> int:
    """Ask that a kit may use a server, inside the transaction that puts it; return the request's number.

    One that is open on the same terms is enough; one on other terms is taken back for this.
    """
    require(actor, "keep-kit", terms["team"])
    wanted = digest({"kind": "use", "server": server.slug, "terms": terms})
    live = _live_of(terms["kit"]).filter(server=server).first()
    if live is not None and live.release_digest == wanted and live.state != "sent-back":
        return live.pk
    if live is not None:
        take_back(actor, live.pk)
    assessment = assess_act(server, "use", server.current, terms)
    return open_request(actor, "use", server, None, None, terms, wanted, assessment, None).pk


def take_back_uses(actor: Actor, kit: str, keep: Collection[int]) -> None:
    """Take back what is asked about the uses of a kit that is not put like that any more, inside its transaction."""
    for request in _live_of(kit).exclude(pk__in=keep):
        take_back(actor, request.pk)


def _live_of(kit: str) -> QuerySet[Request]:
    return Request.objects.filter(kind="use", state__in=LIVE_STATES, terms__kit=kit)
