"""Places in what a request is about: a comment's anchor, and whether it survives a new snapshot."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.core.pointer import value_at
from tallshelf.core.snapshot import Snapshot
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Release

_LONGEST_QUOTE = 300


def quoted_at(release: Release | None, item: str, pointer: str) -> str | None:
    """Return what stands at a place of a release's snapshot, cut short, or None when it is not there.

    ``item`` is an identity or ``server``; ``pointer`` (RFC 6901) is relative to it, empty for the whole.
    """
    if release is None:
        return None
    found = value_at(_body(catalog.snapshot_of(release), item), pointer)
    if found is None:
        return None
    if not pointer:
        return ""
    said = found if isinstance(found, str) else json.dumps(found, ensure_ascii=False)
    return said if len(said) <= _LONGEST_QUOTE else f"{said[:_LONGEST_QUOTE]}…"


def _body(snapshot: Snapshot, item: str) -> Any:
    if item == "server":
        return dict(snapshot.server)
    return next((one.body for one in snapshot.items if one.identity == item), None)
