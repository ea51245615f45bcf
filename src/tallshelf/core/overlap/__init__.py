"""Finding two items that seem to do the same job."""

from __future__ import annotations

from tallshelf.core.overlap.index import CatalogItem, MemoryIndex, OverlapIndex
from tallshelf.core.overlap.result import Overlap, OverlapClass, Ruling, Side, is_ruled
from tallshelf.core.overlap.score import find_overlaps, score_pair

__all__ = [
    "CatalogItem",
    "MemoryIndex",
    "Overlap",
    "OverlapClass",
    "OverlapIndex",
    "Ruling",
    "Side",
    "find_overlaps",
    "is_ruled",
    "score_pair",
]
