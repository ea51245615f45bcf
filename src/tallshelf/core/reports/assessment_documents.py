"""An assessment as a JSON document."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from tallshelf.core.reports.change_documents import change_document, version_document
from tallshelf.core.reports.finding_documents import finding_document
from tallshelf.core.reports.hit_documents import hits_document
from tallshelf.core.reports.overlap_documents import overlap_document

if TYPE_CHECKING:
    from tallshelf.core.assess import Assessment


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
