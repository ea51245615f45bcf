"""Changes as JSON documents; the field names are those of the formats in the docs."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from tallshelf.core.changes import (
    Change,
    ChangeGroup,
    LifeStep,
    NextVersion,
    SnapshotComparison,
    groups_of,
    items_of,
)
from tallshelf.core.compat import StandIn, Witness


def change_document(change: Change) -> dict[str, Any]:
    """Return one change as a JSON object."""
    return {
        "item": change.item,
        "kind": change.kind,
        "impact": change.impact,
        "reach": list(change.reach),
        "verdict": change.proof or None,
        "silent": change.silent,
        "folded": change.folded,
        "old_pointer": change.old_pointer,
        "new_pointer": change.new_pointer,
        "message": change.message,
        "notice": change.notice,
        "basis": change.basis,
        "ruled": change.ruled,
        "witness": witness_document(change.witness),
    }


def change_from(document: Mapping[str, Any]) -> Change:
    """Return the change that `change_document` wrote."""
    own = {name: value for name, value in document.items() if name not in ("verdict", "witness", "reach")}
    witness = document["witness"]
    return Change(
        **own,
        reach=tuple(document["reach"]),
        proof=document["verdict"] or "",
        witness=Witness(**{**witness, "ignored": tuple(witness.get("ignored", ()))}) if witness else None,
    )


def changes_summary(changes: Sequence[Change]) -> dict[str, Any]:
    """Return changes in fewer words: ``items``, the worst first, and ``groups``, in which each is once."""
    return {
        "items": [
            {"item": item.item, "impact": item.impact, "reach": list(item.reach), "counts": item.counts}
            for item in items_of(changes)
        ],
        "groups": [_group_document(group) for group in groups_of(changes)],
    }


def _group_document(group: ChangeGroup) -> dict[str, Any]:
    return {
        "kind": group.kind,
        "impact": group.impact,
        "silent": group.silent,
        "reach": list(group.reach),
        "message": group.message,
        "places": [
            {"item": change.item, "old_pointer": change.old_pointer, "new_pointer": change.new_pointer}
            for change in group.changes
        ],
    }


def version_document(version: NextVersion) -> dict[str, Any]:
    """Return the declared and the honest next version as a JSON object."""
    return {
        "declared": version.declared,
        "honest": version.honest,
        "is_honest": version.is_honest,
        "because": list(version.because),
        "scheme": version.scheme,
        "breaking": version.breaking,
        "breaks": version.breaks,
    }


def comparison_document(comparison: SnapshotComparison, version: NextVersion) -> dict[str, Any]:
    """Return a comparison as a ``tallshelf.comparison/1`` document."""
    return {
        "format": "tallshelf.comparison/1",
        "old": comparison.old_digest,
        "new": comparison.new_digest,
        **changes_summary(comparison.changes),
        "changes": [change_document(change) for change in comparison.changes],
        "next_version": version_document(version),
        "untouched": comparison.untouched,
        "not_checked": list(comparison.not_checked),
    }


def stand_in_document(answer: StandIn, a: str, b: str) -> dict[str, Any]:
    """Return the answer to a stand-in question as a ``tallshelf.stand-in/1`` document."""
    return {
        "format": "tallshelf.stand-in/1",
        "a": a,
        "b": b,
        "stands_in": answer.stands_in,
        "obstacles": [
            {
                "position": obstacle.position,
                "verdict": obstacle.verdict,
                "message": obstacle.difference.message,
                "a_pointer": obstacle.difference.old_pointer,
                "b_pointer": obstacle.difference.new_pointer,
                "witness": witness_document(obstacle.difference.witness),
            }
            for obstacle in answer.obstacles
        ],
    }


def life_document(item: str, steps: Iterable[LifeStep]) -> dict[str, Any]:
    """Return the life of an item as a ``tallshelf.life/1`` document."""
    return {
        "format": "tallshelf.life/1",
        "item": item,
        "steps": [
            {
                "version": step.version,
                "event": step.event,
                "impact": step.impact,
                "changes": [change_document(change) for change in step.changes],
            }
            for step in steps
        ],
    }


def witness_document(witness: Witness | None) -> dict[str, Any] | None:
    """Return a witness as a JSON object, or None."""
    if witness is None:
        return None
    found = {"instance": witness.instance, "accepted_by": witness.accepted_by}
    if witness.refused_by is None:
        return {**found, "ignored": list(witness.ignored)}
    return {**found, "refused_by": witness.refused_by}
