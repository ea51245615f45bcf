"""Profiles of current releases in the database: one row a server, kept by the act that changes its release."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tallshelf.core.overlap import Entry, profile_from, profiles
from tallshelf.core.overlap.profile import METHOD
from tallshelf.core.snapshot import Item
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import Server, StoredProfiles


def keep_profiles(server: Server) -> None:
    """Keep what the items of a server's current release are compared by, in place of what was there."""
    current = server.current
    if current is None:
        StoredProfiles.objects.filter(server=server).delete()
        return
    found = StoredProfiles.objects.filter(server=server).first()
    if found and (found.snapshot, found.method) == (current.snapshot_id, METHOD):
        return
    snapshot = storage.load(current.snapshot)
    made = profiles(snapshot.items, server.slug)
    StoredProfiles.objects.update_or_create(
        server=server,
        defaults={
            "snapshot": current.snapshot_id,
            "method": METHOD,
            "compared": False,
            "profiles": [
                [item.identity, item.digest, one.document()]
                for item, one in zip(snapshot.items, made, strict=True)
            ],
        },
    )


def entries_from(slug: str, rows: list[Any]) -> list[Entry]:
    """Return the entries of a server from its stored profiles; items are read when they are asked for."""
    return [
        Entry(slug, identity, digest, profile_from(document), _item(digest))
        for identity, digest, document in rows
    ]


def _item(digest: str) -> Callable[[], Item]:
    return lambda: storage.load_items([digest])[digest]
