"""The use of servers that asks their owners: what of a kit is to be asked, and what was agreed to."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement import items_of, unagreed
from tallshelf.core.kits import Kit
from tallshelf.core.ledger.events import Event
from tallshelf.service.catalog.models import Server
from tallshelf.service.jobs.actions import ask_for
from tallshelf.service.ledger import memory
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor

Pick = Mapping[str, Any]
Asker = Callable[[Actor, Server, dict[str, Any]], int]
PUT_JOB = "put-asked-kit"
_askers: list[Asker] = []


def register_asker(ask: Asker) -> None:
    """Let an app ask owners on the terms of a use, in a transaction; it returns the request's number."""
    if ask not in _askers:
        _askers.append(ask)


def unagreed_of(kit: Kit) -> list[Pick]:
    """Return the picks of a kit to whose use their owners did not agree yet, as documents."""
    with memory.told() as state:
        return list(unagreed(state, kit.name, kit.team, [one.document() for one in kit.picks]))


def ask(actor: Actor, kit: Kit, picks: list[Pick], reason: str) -> list[dict[str, Any]]:
    """Ask the owners of what a kit picks; return for each server whom, and by which request."""
    asked = []
    for pick in picks:
        server = Server.objects.select_related("team", "current").get(slug=pick["server"])
        terms = {
            "kit": kit.name,
            "team": kit.team,
            "range": pick["version"],
            "items": items_of(pick),
            "purpose": kit.purpose,
            "reason": reason,
        }
        number = next(one(actor, server, terms) for one in _askers)
        asked.append({"server": server.slug, "team": server.team.slug, "request": number})
    return asked


def allow(actor: Actor, server: Server, terms: Mapping[str, Any], *, request: int) -> None:
    """Let a kit use a server, as its owners agreed to; inside its transaction."""
    about = {name: terms[name] for name in ("kit", "team", "range", "items")}
    record(actor, Event.USE_ALLOWED, {"server": server.slug, **about, "request": request})
    ask_for(PUT_JOB, str(terms["kit"]))


def moves_by_hand(kit: Kit, slug: str) -> bool:
    """Whether a server asks its owners what a kit of another team uses: what it holds of it never moves by itself."""
    server = Server.objects.select_related("team").filter(slug=slug).first()
    return server is not None and server.use == "ask" and server.team.slug != kit.team
