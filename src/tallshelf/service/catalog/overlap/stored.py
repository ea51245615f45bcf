"""Profiles of current releases in the database: one row a server, kept by the act that changes its release."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator, Mapping
from typing import Any

import msgspec
from django.db import transaction
from django.db.models import QuerySet, TextField
from django.db.models.functions import Cast

from tallshelf.core.overlap import Entry, Profile, basis_of, profiles
from tallshelf.core.overlap.profile import METHOD
from tallshelf.core.snapshot import Item, Snapshot
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import Release, Server, StoredProfiles

_Rows = list[tuple[str, str, Profile, str]]
_read = msgspec.json.Decoder(_Rows).decode
_log = logging.getLogger(__name__)
_AT_ONCE = 100
KEPT = METHOD * 100 + 1
"""How profiles are made, and how their rows are kept: rows of another number are made anew."""


def keep_profiles(server: Server) -> None:
    """Keep what the items of a server's current release are compared by, in place of what was there."""
    current = server.current
    if current is None:
        StoredProfiles.objects.filter(server=server).delete()
        return
    found = StoredProfiles.objects.filter(server=server).first()
    terms = terms_in_force()
    if found and (found.snapshot, found.method, found.terms) == (current.snapshot_id, KEPT, terms.key):
        return
    snapshot = storage.load(current.snapshot)
    made = profiles(snapshot.items, server.slug, terms)
    since = _since(current, snapshot, found)
    StoredProfiles.objects.update_or_create(
        server=server,
        defaults={
            "snapshot": current.snapshot_id,
            "method": KEPT,
            "terms": terms.key,
            "compared": False,
            "profiles": [
                [item.identity, item.digest, profile.document(), since[item.identity]]
                for item, profile in zip(snapshot.items, made, strict=True)
            ],
        },
    )


def keep_all_if_moved() -> None:
    """Read all servers anew that an older version read in another way, or not at all; a second at some seventy of them.

    An upgrade does it, so that no question waits for it.
    """
    behind = Server.objects.exclude(current=None).exclude(kept_profiles__method=KEPT)
    servers = list(behind.values_list("pk", flat=True))
    if servers:
        _log.warning("reading the items of %s servers anew, to find overlaps", f"{len(servers):,}")
    for start in range(0, len(servers), _AT_ONCE):
        with transaction.atomic():
            for server in Server.objects.filter(pk__in=servers[start : start + _AT_ONCE]):
                keep_profiles(server)


def as_text(stored: QuerySet[StoredProfiles, StoredProfiles]) -> QuerySet[StoredProfiles, tuple[str, str]]:
    """Return the slugs of servers and the JSON text of their profiles, which is read straight into profiles."""
    rows = stored.annotate(text=Cast("profiles", TextField()))
    return rows.order_by("server__slug").values_list("server__slug", "text")


def since_of(server: Server) -> Mapping[str, str]:
    """Return, by the basis of each item of a server's current release, since when published releases have it so."""
    stored = StoredProfiles.objects.filter(server=server, method=KEPT).first()
    return {document["basis"]: since for _, _, document, since in stored.profiles} if stored else {}


def entries_from(slug: str, kept: str | list[Any]) -> Iterator[Entry]:
    """Yield the entries of a server from its stored profiles, or their JSON text; items are read when asked for."""
    rows = _read(kept) if isinstance(kept, str) else msgspec.convert(kept, _Rows)
    for identity, item, profile, since in rows:
        yield Entry(slug, identity, item, profile, item_of(item), since)


def item_of(digest: str) -> Callable[[], Item]:
    """Return what reads an item that is stored."""
    return lambda: storage.load_items([digest])[digest]


def _since(current: Release, snapshot: Snapshot, kept: StoredProfiles | None) -> dict[str, str]:
    """Return by identity since when each item is in published releases, one after the other, with the same basis.

    A new name or another job makes an item new; what is not compared of it may change. What is kept of the release
    before says the rest; where it is not, the history is walked.
    """
    first = current.published_at
    since = {item.identity: first.isoformat() if first else "" for item in snapshot.items}
    bases = {item.identity: basis_of(item) for item in snapshot.items}
    if kept and (kept.method, kept.snapshot) == (
        KEPT,
        current.snapshot_id,
    ):  # read by other terms of the house now
        return {name: moment for name, _, _, moment in kept.profiles}
    published = current.server.releases.filter(published_at__lt=first) if first else Release.objects.none()
    before = published.order_by("-published_at").first()
    if before is not None and kept and (kept.method, kept.snapshot) == (KEPT, before.snapshot_id):
        known_since = {(name, document["basis"]): moment for name, _, document, moment in kept.profiles}
        return {name: known_since.get((name, bases[name]), moment) for name, moment in since.items()}
    known = {item.digest: (item.identity, bases[item.identity]) for item in snapshot.items}
    open_ = set(since)
    for release in published.select_related("snapshot").order_by("-published_at"):
        digests = {one for digests in release.snapshot.lists.values() for one in digests}
        unread = storage.load_items(digests - known.keys()) if open_ else {}
        known |= {digest: (item.identity, basis_of(item)) for digest, item in unread.items()}
        there = dict(known[digest] for digest in digests if digest in known)
        open_ = {identity for identity in open_ if there.get(identity) == bases[identity]}
        if not open_:
            break
        assert release.published_at is not None
        since |= dict.fromkeys(open_, release.published_at.isoformat())
    return since
