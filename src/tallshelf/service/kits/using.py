"""The use of servers that asks their owners: what of a kit is to be asked, and what was agreed to."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any, NamedTuple

from tallshelf.core.entitlement import items_of, unagreed
from tallshelf.core.kits import Kit
from tallshelf.core.ledger.events import Event
from tallshelf.service.catalog.models import Server
from tallshelf.service.jobs.actions import ask_for
from tallshelf.service.ledger import memory
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor

Pick = Mapping[str, Any]
PUT_JOB = "put-asked-kit"


class Asking(NamedTuple):
    """How owners are asked, in the transaction of an act on a kit.

    ``ask`` opens a request on the terms of a use, or finds it open, and returns its number. ``take_back`` takes back
    what is open about a kit, but for the numbers that it is told to keep.
    """

    ask: Callable[[Actor, Server, dict[str, Any]], int]
    take_back: Callable[[Actor, str, Collection[int]], None]


_asking: list[Asking] = []


def register_asking(way: Asking) -> None:
    """Let an app ask owners."""
    if way not in _asking:
        _asking.append(way)


def unagreed_of(kit: Kit) -> list[Pick]:
    """Return the picks of a kit to whose use their owners did not agree yet, as documents."""
    with memory.told() as state:
        return list(unagreed(state, kit.name, kit.team, [pick.document() for pick in kit.picks]))


def would_ask(kit: Kit) -> list[dict[str, str]]:
    """Return the servers whose owners are asked when a kit is put, each with its owner team, by server."""
    slugs = sorted(one["server"] for one in unagreed_of(kit))
    teams = dict(Server.objects.filter(slug__in=slugs).values_list("slug", "team__slug"))
    return [{"server": slug, "team": teams[slug]} for slug in slugs]


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
        number = next(way.ask(actor, server, terms) for way in _asking)
        asked.append({"server": server.slug, "team": server.team.slug, "request": number})
    return asked


def take_back(actor: Actor, kit: str, keep: Collection[int] = ()) -> None:
    """Ask no owner any longer about a kit, but by the requests that are kept."""
    for way in _asking:
        way.take_back(actor, kit, keep)


def allow(actor: Actor, server: Server, terms: Mapping[str, Any], *, request: int) -> None:
    """Let a kit use a server, as its owners agreed to; inside its transaction."""
    about = {name: terms[name] for name in ("kit", "team", "range", "items")}
    record(actor, Event.USE_ALLOWED, {"server": server.slug, **about, "request": request})
    ask_for(PUT_JOB, str(terms["kit"]))


def moves_by_hand(kit: Kit, slug: str) -> bool:
    """Whether a server asks its owners what a kit of another team uses: what it holds of it never moves by itself."""
    server = Server.objects.select_related("team").filter(slug=slug).first()
    return server is not None and server.use == "ask" and server.team.slug != kit.team
