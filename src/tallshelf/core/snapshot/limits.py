"""Limits on what is read, so that no document can exhaust the reader."""

from __future__ import annotations

from msgspec import Struct


class Limits(Struct, frozen=True):
    """Upper bounds for one snapshot document."""

    bytes: int = 5_000_000
    depth: int = 64
    items: int = 2_000
    schema_nodes: int = 50_000


DEFAULT_LIMITS = Limits()
