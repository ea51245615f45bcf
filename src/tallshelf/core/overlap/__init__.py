"""Finding two items that seem to do the same job."""

from __future__ import annotations

from tallshelf.core.overlap.find import MOST_EACH, find_overlaps, overlaps_among, side_of
from tallshelf.core.overlap.groups import ServerPair, server_pairs
from tallshelf.core.overlap.index import Candidate, Entry, MemoryIndex, OverlapIndex, entries_of, in_order
from tallshelf.core.overlap.mixups import MixUp, mix_ups
from tallshelf.core.overlap.profile import Profile, basis_of, profiles
from tallshelf.core.overlap.result import Overlap, OverlapClass, Ruling, RulingWord, Side, Signal, ruling_on

__all__ = [
    "MOST_EACH",
    "Candidate",
    "Entry",
    "MemoryIndex",
    "MixUp",
    "Overlap",
    "OverlapClass",
    "OverlapIndex",
    "Profile",
    "Ruling",
    "RulingWord",
    "ServerPair",
    "Side",
    "Signal",
    "basis_of",
    "entries_of",
    "find_overlaps",
    "in_order",
    "mix_ups",
    "overlaps_among",
    "profiles",
    "ruling_on",
    "server_pairs",
    "side_of",
]
