"""The overlap index over current releases: where it lives, and what it found."""

from tallshelf.service.catalog.overlap.found import catch_up, compare_all, compare_server, found_overlaps
from tallshelf.service.catalog.overlap.grouped import regroup_if_missing, regroup_servers
from tallshelf.service.catalog.overlap.process import catalog_index, forget
from tallshelf.service.catalog.overlap.rulings import rulings_for, same_meanings
from tallshelf.service.catalog.overlap.sparse import SparseIndex
from tallshelf.service.catalog.overlap.stored import keep_all_if_moved, keep_profiles, since_of

__all__ = [
    "SparseIndex",
    "catalog_index",
    "catch_up",
    "compare_all",
    "compare_server",
    "forget",
    "found_overlaps",
    "keep_all_if_moved",
    "keep_profiles",
    "regroup_if_missing",
    "regroup_servers",
    "rulings_for",
    "same_meanings",
    "since_of",
]
