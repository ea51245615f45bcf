"""Deprecating a single item of a server, and keeping it after all, as a request that was agreed to asks."""

from __future__ import annotations

from datetime import datetime

from tallshelf.core.errors import BadArgument, Conflict, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import parse_reference
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.models import ItemDeprecation, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor


def check_item_ending(
    actor: Actor, server: Server, item: str, sunset_at: datetime | None, replacement: str
) -> None:
    """Raise `NotFound` for an item that is not in use, `BadArgument` where it cannot end like that."""
    if server.current is None or item not in _items(server):
        raise NotFound(f"{server.slug} has no {item or 'item'} in use", remedy="Name it as server#item.")
    if sunset_at is not None and sunset_at <= clock.now():
        raise BadArgument("the last day must lie ahead", remedy="To stop its use now, suspend it.")
    if not replacement:
        return
    place = parse_reference(replacement)
    if not place.server or place.file:
        raise BadArgument("the replacement must be a server, server@version or server#item")
    if place.version:
        queries.release(actor, place.server, place.version)
    other = queries.server(place.server)
    if place.item and (other.current is None or place.item not in _items(other)):
        raise NotFound(f"{other.slug} has no {place.item} in use")
    if (other.pk, place.item) == (server.pk, item):
        raise BadArgument("an item does not replace itself")


def _items(server: Server) -> set[str]:
    assert server.current is not None
    return {item.identity for item in queries.snapshot_of(server.current).items}


def deprecate_item(
    actor: Actor,
    server: Server,
    item: str,
    reason: str,
    *,
    request: int,
    sunset_at: datetime | None = None,
    replacement: str = "",
) -> None:
    """Deprecate an item, or deprecate it on other terms; inside the transaction of the last agreement."""
    check_item_ending(actor, server, item, sunset_at, replacement)
    terms = {"reason": reason, "sunset_at": sunset_at, "replacement": replacement, "at": clock.now()}
    ItemDeprecation.objects.update_or_create(server=server, item=item, defaults=terms)
    until = sunset_at.isoformat() if sunset_at else None
    about = {"server": server.slug, "item": item, "request": request, "reason": reason}
    record(actor, Event.ITEM_DEPRECATED, {**about, "sunset_at": until, "replacement": replacement})


def deprecation_of(server: Server, item: str) -> ItemDeprecation:
    """Return how an item is deprecated; raise `NotFound` for one that is not."""
    found = ItemDeprecation.objects.filter(server=server, item=item).first()
    if found is None:
        raise NotFound(f"{server.slug} has no {item or 'item'} that is deprecated")
    return found


def keep_item(actor: Actor, server: Server, item: str, reason: str, *, ends: str, request: int) -> None:
    """Let an item be deprecated no more; inside the transaction of the last agreement.

    ``ends`` is in what words it was deprecated when that was asked for; `Conflict` where the terms have moved.
    """
    found = deprecation_of(server, item)
    if found.words != ends:
        raise Conflict(f"{item} is deprecated on other terms by now", remedy="Ask again.")
    found.delete()
    record(
        actor,
        Event.ITEM_KEPT,
        {"server": server.slug, "item": item, "request": request, "reason": reason},
    )
