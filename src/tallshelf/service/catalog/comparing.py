"""Comparing what is stored, without what people ruled on it. Each process keeps the last results."""

from __future__ import annotations

from functools import lru_cache

from tallshelf.core.changes import SnapshotComparison, compare_snapshots
from tallshelf.core.snapshot import Snapshot, parse_launches
from tallshelf.core.words.terms import HouseTerms
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import Release, StoredSnapshot


def compared(old: Snapshot, new: Snapshot) -> SnapshotComparison:
    """Return the comparison of two snapshots by the terms of the house."""
    return compare_snapshots(old, new, terms=terms_in_force())


def compared_releases(old: Release, new: Release) -> SnapshotComparison:
    """Return the comparison of two releases by the terms of the house."""
    return _releases((old.pk, old.digest), (new.pk, new.digest), terms_in_force())


def compared_snapshots(old: str, new: str) -> SnapshotComparison:
    """Return the comparison of two stored snapshots, by their digests."""
    return _snapshots(old, new, terms_in_force())


@lru_cache(maxsize=256)
def _releases(old_key: tuple[int, str], new_key: tuple[int, str], terms: HouseTerms) -> SnapshotComparison:
    """Compare two stored releases; digests name exactly what is compared, so nothing can be stale."""
    releases = Release.objects.select_related("snapshot", "server")
    old, new = (releases.get(pk=pk, digest=digest) for pk, digest in (old_key, new_key))
    return compare_snapshots(
        storage.load(old.snapshot),
        storage.load(new.snapshot),
        parse_launches(old.launch),
        parse_launches(new.launch),
        terms=terms,
    )


@lru_cache(maxsize=64)
def _snapshots(old: str, new: str, terms: HouseTerms) -> SnapshotComparison:
    found = StoredSnapshot.objects.in_bulk([old, new])
    return compare_snapshots(storage.load(found[old]), storage.load(found[new]), terms=terms)


def forget() -> None:
    """Forget what this process compared."""
    _releases.cache_clear()
    _snapshots.cache_clear()
