"""Storing what a kit holds: a lock, and a row for each item; inside the transaction of the act."""

from __future__ import annotations

from typing import Any

from tallshelf.core.kits import Lock, moves_between
from tallshelf.service import clock
from tallshelf.service.catalog.models import Release
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredLock
from tallshelf.service.people.actor import Actor


def store_lock(actor: Actor, kit: StoredKit, before: Lock, lock: Lock, because: str) -> StoredLock:
    """Let a kit hold what a lock names from now on; the locks of before stay."""
    last = kit.locks.order_by("-number").values_list("number", flat=True).first() or 0
    made = StoredLock.objects.create(
        kit=kit,
        number=last + 1,
        digest=lock.digest,
        document=lock.document(),
        moves=[move.document() for move in moves_between(before, lock)],
        because=because[:200],
        items=len(lock.items),
        tokens=lock.tokens,
        by_id=actor.id or None,
        at=clock.now(),
    )
    kit.lock = made
    kit.save(update_fields=["lock"])
    hold(kit, lock)
    return made


def hold(kit: StoredKit, lock: Lock) -> None:
    """Keep one row for each item that a kit holds."""
    wanted = {(locked.server, locked.version) for locked in lock.items}
    rows = Release.objects.filter(
        server__slug__in={server for server, _ in wanted}, version__in={version for _, version in wanted}
    ).select_related("server")
    releases = {(release.server.slug, release.version): release for release in rows}
    HeldItem.objects.filter(kit=kit).delete()
    HeldItem.objects.bulk_create(
        [
            HeldItem(
                kit=kit,
                server=releases[locked.server, locked.version].server,
                release=releases[locked.server, locked.version],
                item=locked.item,
                item_digest=locked.item_digest,
            )
            for locked in lock.items
        ],
        batch_size=200,
    )


def told(lock: Lock) -> dict[str, Any]:
    """Return what an entry tells of a lock."""
    names = ("server", "version", "release_digest", "item", "item_digest")
    items = [{name: row[name] for name in names} for row in lock.document()["items"]]
    return {"lock_digest": lock.digest, "lock": items}
