"""What it hits that something is used no more: said before it is suspended, deprecated or withdrawn."""

from __future__ import annotations

from typing import Any

from django.db.models import Q

from tallshelf.core.compat import stand_in
from tallshelf.core.kits import ended
from tallshelf.core.reports import hits_document
from tallshelf.core.snapshot import Item, item_identity
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import FoundOverlap, Server
from tallshelf.service.catalog.overlap import catch_up
from tallshelf.service.catalog.storage import load_items
from tallshelf.service.kits.queries import holders
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_MOST_STAND_INS = 20


def what_ends(actor: Actor, slug: str, *, version: str = "", item: str = "") -> dict[str, Any]:
    """Return the kits that hold a server, a release of it or an item, their teams, and what could stand in for it."""
    require(actor, "see")
    server = catalog.server(slug)
    identity = item_identity(item) if item else ""
    hit = ended(holders(server), version, identity)
    items = {identity} if identity else {hit_item.item for kit in hit for hit_item in kit.items}
    return {
        "kits": hits_document(hit),
        "teams": sorted({one.team for one in hit}),
        "stand_ins": stand_ins(server, items),
    }


def stand_ins(server: Server, items: set[str]) -> list[dict[str, Any]]:
    """Return what does the same job as some items of a server, or nearly, and is neither of it nor suspended.

    Those that take the same calls come first, then the likest.
    """
    catch_up()
    rows = FoundOverlap.objects.filter(Q(a=server) | Q(b=server), cls__in=("same-job", "near"))
    stopped = set(catalog.standing_suspensions().values_list("server__slug", "item"))
    pairs = []
    for row in rows.exclude(a=server, b=server).order_by("-score", "pk"):
        own, other = (row.document[side] for side in (("a", "b") if row.a_id == server.pk else ("b", "a")))
        if own["item"] in items and not {(other["server"], ""), (other["server"], other["item"])} & stopped:
            pairs.append((row, own, other))
    pairs = pairs[:_MOST_STAND_INS]
    bodies = load_items(side["digest"] for _, *sides in pairs for side in sides)
    found = [
        {
            "item": f"{server.slug}#{own['item']}",
            "by": f"{other['server']}#{other['item']}",
            "kind": row.cls,
            "score": row.score,
            "stands_in": _stands_in(bodies[own["digest"]], bodies[other["digest"]]),
        }
        for row, own, other in pairs
    ]
    return sorted(found, key=lambda one: not one["stands_in"])


def _stands_in(item: Item, other: Item) -> bool | None:
    return stand_in(item.body, other.body).stands_in if item.kind == other.kind == "tool" else None
