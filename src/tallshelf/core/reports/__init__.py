"""Reports: the same values as JSON documents and as text for people."""

from tallshelf.core.reports.documents import (
    assessment_document,
    change_document,
    comparison_document,
    finding_document,
    lint_document,
    outline_document,
    overlap_document,
    overlaps_document,
)
from tallshelf.core.reports.paint import ANSI, PLAIN, Paint
from tallshelf.core.reports.text import (
    assessment_text,
    comparison_text,
    escape,
    lint_text,
    outline_text,
    overlaps_text,
    table,
)

__all__ = [
    "ANSI",
    "PLAIN",
    "Paint",
    "assessment_document",
    "assessment_text",
    "change_document",
    "comparison_document",
    "comparison_text",
    "escape",
    "finding_document",
    "lint_document",
    "lint_text",
    "outline_document",
    "outline_text",
    "overlap_document",
    "overlaps_document",
    "overlaps_text",
    "table",
]
