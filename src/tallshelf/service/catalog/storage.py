"""Snapshots in and out of the database, item by item."""

from __future__ import annotations

import json
from collections.abc import Iterable

from tallshelf.core.errors import UNREADABLE
from tallshelf.core.snapshot import NAME_FIELDS, Item, Snapshot, digest
from tallshelf.service.catalog.models import StoredItem, StoredSnapshot


def store(snapshot: Snapshot) -> StoredSnapshot:
    """Store a snapshot and those of its items that are not stored yet."""
    StoredItem.objects.bulk_create(
        [
            StoredItem(digest=item.digest, kind=item.kind, name=item.name, body=json.dumps(item.body))
            for item in {item.digest: item for item in snapshot.items}.values()
        ],
        ignore_conflicts=True,
        batch_size=200,
    )
    stored, _ = StoredSnapshot.objects.get_or_create(
        digest=snapshot.digest,
        defaults={
            "server": json.dumps(dict(snapshot.server)),
            "lists": {name: [item.digest for item in items] for name, items in snapshot.lists.items()},
        },
    )
    return stored


def load(stored: StoredSnapshot, captured: dict[str, str] | None = None) -> Snapshot:
    """Return a stored snapshot."""
    wanted = {digest for digests in stored.lists.values() for digest in digests}
    items = load_items(wanted)
    return Snapshot(
        server=json.loads(stored.server),
        captured=captured or {},
        lists={name: tuple(items[digest] for digest in digests) for name, digests in stored.lists.items()},
    )


def load_items(digests: Iterable[str]) -> dict[str, Item]:
    """Return items by digest."""
    wanted, found = sorted(set(digests)), {}
    for start in range(0, len(wanted), 500):
        for row in StoredItem.objects.filter(pk__in=wanted[start : start + 500]):
            found[row.digest] = Item(row.kind, row.name, json.loads(row.body))  # type: ignore[arg-type]
    return found


def item_is_whole(row: StoredItem) -> bool:
    """Whether the stored bytes of an item are those of its digest, and named as its row says."""
    try:
        item = Item(row.kind, row.name, json.loads(row.body))  # type: ignore[arg-type]
        return item.digest == row.digest and item.body.get(NAME_FIELDS[item.kind]) == row.name
    except UNREADABLE:
        return False


def skeleton(stored: StoredSnapshot) -> str:
    """Return the digest of what holds a snapshot's items together: the server's part, and their digests."""
    return digest([stored.server, stored.lists])
