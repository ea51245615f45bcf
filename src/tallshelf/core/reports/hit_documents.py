"""Whom changes hit, as JSON documents."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.core.reports.change_documents import witness_document

if TYPE_CHECKING:
    from tallshelf.core.kits import Hit, HitItem


def hits_document(hits: Sequence[Hit]) -> list[dict[str, Any]]:
    """Return the kits that are hit, in their order, each as a JSON object."""
    told: dict[int, list[dict[str, Any]]] = {}  # by the identity of what many kits share (`core.kits.hits`)
    for hit in hits:
        if id(hit.items) not in told:
            told[id(hit.items)] = [_hit_item(item) for item in hit.items]
    return [
        {
            "kit": hit.kit,
            "title": hit.title,
            "team": hit.team,
            "environment": hit.environment,
            "word": hit.word,
            "hit_items": list(map(dict, told[id(hit.items)])),
        }
        for hit in hits
    ]


def _hit_item(item: HitItem) -> dict[str, Any]:
    witness = next((change.witness for change in item.changes if change.witness is not None), None)
    return {
        "item": item.item,
        "version": item.version,
        "word": item.word,
        "counts": dict(item.counts),
        "message": item.message,
        "witness": witness_document(witness),
    }
