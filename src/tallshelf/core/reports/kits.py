"""Who is hit, and what a kit comes to, as JSON documents."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from tallshelf.core.kits import Hit, HitItem
from tallshelf.core.reports.documents import witness_document


def hit_document(hit: Hit) -> dict[str, Any]:
    """Return one kit that is hit as a JSON object."""
    return {
        "kit": hit.kit,
        "title": hit.title,
        "team": hit.team,
        "environment": hit.environment,
        "word": hit.word,
        "hit_items": [_item(one) for one in hit.items],
    }


def hits_document(hits: Sequence[Hit]) -> list[dict[str, Any]]:
    """Return the kits that are hit, in their order."""
    return [hit_document(one) for one in hits]


def _item(one: HitItem) -> dict[str, Any]:
    witness = next((change.witness for change in one.changes if change.witness is not None), None)
    return {
        "item": one.item,
        "version": one.version,
        "word": one.word,
        "counts": dict(one.counts),
        "message": one.changes[0].message,
        "witness": witness_document(witness),
    }
