"""Comparing what is stored, without what people ruled on it. Each process keeps the last results."""

from __future__ import annotations

from functools import lru_cache

from tallshelf.core.changes import SnapshotComparison, compare_snapshots
from tallshelf.core.snapshot import parse_launches
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import Release, StoredSnapshot


@lru_cache(maxsize=256)
def _compared(old_key: tuple[int, str], new_key: tuple[int, str]) -> SnapshotComparison:
    """Compare two stored releases; digests name exactly what is compared, so nothing can be stale."""
    releases = Release.objects.select_related("snapshot", "server")
    old, new = (releases.get(pk=pk, digest=digest) for pk, digest in (old_key, new_key))
    return compare_snapshots(
        storage.load(old.snapshot),
        storage.load(new.snapshot),
        parse_launches(old.launch),
        parse_launches(new.launch),
    )


def compared_releases(old: Release, new: Release) -> SnapshotComparison:
    """Return the comparison of two releases."""
    return _compared((old.pk, old.digest), (new.pk, new.digest))


@lru_cache(maxsize=64)
def compared_snapshots(old: str, new: str) -> SnapshotComparison:
    """Return the comparison of two stored snapshots, by their digests."""
    found = StoredSnapshot.objects.in_bulk([old, new])
    return compare_snapshots(storage.load(found[old]), storage.load(found[new]))


def forget() -> None:
    """Forget what this process compared."""
    _compared.cache_clear()
    compared_snapshots.cache_clear()
