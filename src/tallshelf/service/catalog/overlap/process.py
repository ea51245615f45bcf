"""The index of this process: brought up to the catalog whenever it is asked for.

The database holds the profiles; each process keeps the index in memory and reads only the rows of
servers whose current release is another than the one it holds.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator

from django.conf import settings
from django.db import OperationalError

from tallshelf.core.overlap import Entry
from tallshelf.core.snapshot import digest
from tallshelf.service.catalog.models import Server, StoredProfiles
from tallshelf.service.catalog.overlap.packed import forget_opened
from tallshelf.service.catalog.overlap.sparse import SparseIndex
from tallshelf.service.catalog.overlap.stored import KEPT, as_text, entries_from, keep_profiles
from tallshelf.service.heap import give_back
from tallshelf.service.unmoved import while_unmoved

_Stamp = dict[str, tuple[str, str]]
"""By server the bytes of its current release, and the terms of the house that they were read by."""


class _Held:
    def __init__(self) -> None:
        # Beside the database: what other places there are for such files may be memory.
        self.index = SparseIndex(directory=settings.CONFIG.data)
        self.stamp: _Stamp = {}


_MANY = 100
_held = _Held()
_lock = threading.Lock()


def catalog_index() -> SparseIndex:
    """Return the overlap index over the current releases, as they are now."""
    stamp = while_unmoved(catalog_index, _stamp)
    with _lock:
        if stamp != _held.stamp:
            _bring_up(stamp)
        return _held.index


def _stamp() -> _Stamp:
    rows = Server.objects.exclude(current=None).order_by("slug")
    told = rows.values_list("slug", "current__snapshot_id", "kept_profiles__terms")
    return {slug: (snapshot, terms or "") for slug, snapshot, terms in told}


def forget() -> None:
    """Start anew, as a fresh process would."""
    global _held
    with _lock:
        _held = _Held()
        forget_opened()


def _bring_up(stamp: _Stamp) -> None:
    held = _held.stamp
    for slug in held:
        if stamp.get(slug) != held[slug]:
            _held.index.remove(slug)
    wanted = [slug for slug in stamp if held.get(slug) != stamp[slug]]
    _keep_missing(wanted, stamp)
    stored, read = StoredProfiles.objects.filter(server__slug__in=wanted, method=KEPT), set()

    def entries() -> Iterator[Entry]:
        for slug, text in as_text(stored).iterator():
            read.add(slug)
            yield from entries_from(slug, text)

    _held.index.add_all(entries())
    _held.stamp = {slug: one for slug, one in stamp.items() if slug in read or slug not in wanted}
    _held.index.version = digest(sorted(_held.stamp.items()))
    if len(wanted) > _MANY:
        give_back()


def _keep_missing(wanted: list[str], stamp: _Stamp) -> None:
    """Make the profiles that an older version of the service did not keep, or kept otherwise."""
    there = {
        slug
        for slug, snapshot in StoredProfiles.objects.filter(server__slug__in=wanted, method=KEPT).values_list(
            "server__slug", "snapshot"
        )
        if stamp[slug][0] == snapshot
    }
    missing = Server.objects.filter(slug__in=set(wanted) - there).select_related("current__snapshot")
    for server in missing:
        try:
            keep_profiles(server)
        except OperationalError:  # nothing can be written now; they are missed until it can
            return
