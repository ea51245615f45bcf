"""What entries say of the assessment that a request rests on: digests, names and values, no declared text."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from tallshelf.core.entitlement.records import Assessed
from tallshelf.core.snapshot import digest

if TYPE_CHECKING:
    from tallshelf.core.assess import Assessment


def assessed_document(assessment: Assessment, rule_set: int) -> dict[str, Any]:
    """Return what an entry says of an assessment that was routed by a version of the rules."""
    return {
        "base": assessment.base,
        "inputs": assessment.inputs,
        "substance": digest(assessment.substance),
        "gates": [
            {"gate": failed_gate.gate, "items": list(failed_gate.items)} for failed_gate in assessment.gates
        ],
        "facts": assessment.facts.document(),
        "rule_set": rule_set,
    }


def assessed_from(body: Mapping[str, Any]) -> Assessed:
    """Read what an entry says of the assessment that a request rests on."""
    about = body.get("assessed") or {}
    return Assessed(
        digest=body.get("assessment_digest", ""),
        base=about.get("base"),
        inputs=about.get("inputs", {}),
        substance=about.get("substance", ""),
        gates={gate["gate"]: tuple(gate["items"]) for gate in about.get("gates", ())},
        facts=about.get("facts", {}),
        rule_set=about.get("rule_set", 0),
    )
