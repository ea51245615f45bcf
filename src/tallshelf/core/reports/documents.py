"""Results as JSON documents; the field names are those of the formats in the docs."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from tallshelf.core.assess import Assessment
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
from tallshelf.core.kits import Hit, HitItem
from tallshelf.core.overlap import MixUp, Overlap, Side, Signal
from tallshelf.core.style import Finding, Rule, StyleEffect


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


def finding_document(finding: Finding) -> dict[str, Any]:
    """Return one finding as a JSON object."""
    return {
        "rule": finding.rule,
        "family": finding.family,
        "covers": list(finding.covers),
        "level": finding.level,
        "item": finding.item,
        "pointer": finding.pointer,
        "span": list(finding.span) if finding.span else None,
        "message": finding.message,
        "suggestion": list(finding.suggestion) if finding.suggestion else None,
        "fingerprint": finding.fingerprint,
        "waived": finding.waived,
        "known": finding.known,
    }


def finding_from(document: Mapping[str, Any]) -> Finding:
    """Return the finding that `finding_document` wrote."""
    span, suggestion = document["span"], document["suggestion"]
    return Finding(
        **{
            **document,
            "covers": tuple(document["covers"]),
            "span": (span[0], span[1]) if span else None,
            "suggestion": tuple(suggestion) if suggestion else None,
        }
    )


def rule_document(rule: Rule) -> dict[str, Any]:
    """Return one rule of the house style as a JSON object."""
    return {
        "rule": rule.id,
        "family": rule.family,
        "covers": list(rule.covers),
        "level": rule.level,
        "reason": rule.reason,
        "settings": [
            {
                "name": setting.name,
                "type": type(setting.default).__name__.replace("tuple", "list"),
                "default": list(setting.default) if isinstance(setting.default, tuple) else setting.default,
                "means": setting.means,
            }
            for setting in rule.settings
        ],
        "bad": rule.bad,
        "good": rule.good,
    }


def lint_document(findings: Iterable[Finding]) -> dict[str, Any]:
    """Return findings as a ``tallshelf.findings/1`` document."""
    return {"format": "tallshelf.findings/1", "findings": [finding_document(finding) for finding in findings]}


def effect_document(effect: StyleEffect, loosened: Iterable[str]) -> dict[str, Any]:
    """Return what a house style would do as a ``tallshelf.style-effect/1`` document."""
    return {
        "format": "tallshelf.style-effect/1",
        "servers": effect.servers,
        "rules": [
            {
                "rule": rule_effect.rule,
                "family": rule_effect.family,
                "before": rule_effect.before,
                "after": rule_effect.after,
            }
            for rule_effect in effect.rules
        ],
        "newly_failing": [
            {"server": server, "rules": list(rules)} for server, rules in sorted(effect.newly_failing.items())
        ],
        "no_longer_failing": sorted(effect.no_longer_failing),
        "loosened": list(loosened),
    }


def overlap_document(overlap: Overlap) -> dict[str, Any]:
    """Return one overlap as a JSON object."""
    return {
        "a": _side(overlap.a),
        "b": _side(overlap.b),
        "class": overlap.cls,
        "score": overlap.score,
        "signals": {signal.name: signal.value for signal in overlap.signals},
        "reasons": list(overlap.reasons),
        "differences": list(overlap.differences),
        "stands_in": overlap.stands_in,
        "ruled": overlap.ruled,
        "preferred": overlap.preferred,
        "newcomer": overlap.newcomer,
    }


def _side(side: Side) -> dict[str, Any]:
    where = "file" if side.source.endswith(".json") or "/" in side.source else "server"
    found = {where: side.source, "item": side.item, "digest": side.digest, "basis": side.basis}
    return {**found, "since": side.since} if side.since else found


def mix_up_document(mix_up: MixUp) -> dict[str, Any]:
    """Return one pair that may be mixed up as a JSON object."""
    return {
        "a": _side(mix_up.a),
        "b": _side(mix_up.b),
        "risk": mix_up.risk,
        "only_a": list(mix_up.only_a),
        "only_b": list(mix_up.only_b),
    }


def overlaps_document(overlaps: Iterable[Overlap], mix_ups: Iterable[MixUp] = ()) -> dict[str, Any]:
    """Return overlaps, and what may be mixed up, as a ``tallshelf.overlaps/1`` document."""
    return {
        "format": "tallshelf.overlaps/1",
        "overlaps": [overlap_document(overlap) for overlap in overlaps],
        "mix_ups": [mix_up_document(mix_up) for mix_up in mix_ups],
    }


def overlaps_from(document: Mapping[str, Any]) -> tuple[list[Overlap], list[MixUp]]:
    """Return the overlaps and mix-ups that `overlaps_document` wrote."""
    overlaps = [
        Overlap(
            _side_from(overlap["a"]),
            _side_from(overlap["b"]),
            overlap["class"],
            overlap["score"],
            tuple(Signal(name, value) for name, value in overlap["signals"].items()),
            tuple(overlap["reasons"]),
            tuple(overlap["differences"]),
            overlap["stands_in"],
            overlap["ruled"],
            overlap["preferred"],
        )
        for overlap in document["overlaps"]
    ]
    mix_ups = [
        MixUp(
            _side_from(mix_up["a"]),
            _side_from(mix_up["b"]),
            mix_up["risk"],
            tuple(mix_up["only_a"]),
            tuple(mix_up["only_b"]),
        )
        for mix_up in document["mix_ups"]
    ]
    return overlaps, mix_ups


def _side_from(document: Mapping[str, Any]) -> Side:
    source = document.get("server") or document.get("file") or ""
    return Side(source, document["item"], document["digest"], document["basis"], document.get("since", ""))


def assessment_document(assessment: Assessment) -> dict[str, Any]:
    """Return an assessment as a ``tallshelf.assessment/1`` document."""
    comparison = assessment.comparison
    return {
        "format": "tallshelf.assessment/1",
        "digest": assessment.digest,
        "snapshot": assessment.snapshot,
        "version": assessment.declared_version,
        "base": assessment.base,
        "passed": assessment.passed,
        "because": list(assessment.because),
        "gates": [failed_gate.document() for failed_gate in assessment.gates],
        "not_checked": list(assessment.not_checked),
        "next_version": version_document(assessment.version),
        "changes": None if comparison is None else [change_document(change) for change in comparison.changes],
        "untouched": None if comparison is None else comparison.untouched,
        "findings": [finding_document(finding) for finding in assessment.findings],
        "overlaps": None
        if assessment.overlaps is None
        else [overlap_document(overlap) for overlap in assessment.overlaps],
        "kits": None if assessment.hits is None else hits_document(assessment.hits),
        "facts": assessment.facts.document(),
        "route": assessment.route.document() if assessment.route else None,
        "style": assessment.style,
        "inputs": assessment.inputs,
        "substance": assessment.substance,
    }
