"""Reports: the same values as JSON documents, as text for people, and as Markdown.

A module is imported when one of its names is first asked for: a command needs few of them, and pays for those.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from tallshelf.core.reports.assessment_documents import assessment_document
    from tallshelf.core.reports.change_documents import (
        change_document,
        change_from,
        changes_summary,
        comparison_document,
        life_document,
        stand_in_document,
    )
    from tallshelf.core.reports.compared import comparison_text
    from tallshelf.core.reports.exchange import lint_junit, lint_sarif
    from tallshelf.core.reports.finding_documents import (
        effect_document,
        finding_document,
        finding_from,
        lint_document,
        rule_document,
    )
    from tallshelf.core.reports.hit_documents import hits_document
    from tallshelf.core.reports.hit_text import hits_text
    from tallshelf.core.reports.kits import kit_check_markdown, kit_check_text
    from tallshelf.core.reports.last_look import moved_between
    from tallshelf.core.reports.lines import escape, table, wrap
    from tallshelf.core.reports.markdown import (
        assessment_markdown,
        comparison_markdown,
        escape_markdown,
        lint_markdown,
    )
    from tallshelf.core.reports.outlined import outline_document, outline_text
    from tallshelf.core.reports.overlap_documents import (
        mix_up_document,
        overlap_document,
        overlaps_document,
        overlaps_from,
    )
    from tallshelf.core.reports.overlap_text import overlaps_text
    from tallshelf.core.reports.paint import ANSI, PLAIN, Paint
    from tallshelf.core.reports.style_text import lint_text
    from tallshelf.core.reports.text import assessment_text, stand_in_text

__all__ = [
    "ANSI",
    "PLAIN",
    "Paint",
    "assessment_document",
    "assessment_markdown",
    "assessment_text",
    "change_document",
    "change_from",
    "changes_summary",
    "comparison_document",
    "comparison_markdown",
    "comparison_text",
    "effect_document",
    "escape",
    "escape_markdown",
    "finding_document",
    "finding_from",
    "hits_document",
    "hits_text",
    "kit_check_markdown",
    "kit_check_text",
    "life_document",
    "lint_document",
    "lint_junit",
    "lint_markdown",
    "lint_sarif",
    "lint_text",
    "mix_up_document",
    "moved_between",
    "outline_document",
    "outline_text",
    "overlap_document",
    "overlaps_document",
    "overlaps_from",
    "overlaps_text",
    "rule_document",
    "stand_in_document",
    "stand_in_text",
    "table",
    "wrap",
]

_NAMES = {
    "compared": "comparison_text",
    "assessment_documents": "assessment_document",
    "change_documents": """
        change_document change_from changes_summary comparison_document life_document stand_in_document
    """,
    "finding_documents": "effect_document finding_document finding_from lint_document rule_document",
    "hit_documents": "hits_document",
    "overlap_documents": "mix_up_document overlap_document overlaps_document overlaps_from",
    "exchange": "lint_junit lint_sarif",
    "last_look": "moved_between",
    "hit_text": "hits_text",
    "kits": "kit_check_markdown kit_check_text",
    "lines": "escape table wrap",
    "markdown": "assessment_markdown comparison_markdown escape_markdown lint_markdown",
    "outlined": "outline_document outline_text",
    "overlap_text": "overlaps_text",
    "paint": "ANSI PLAIN Paint",
    "style_text": "lint_text",
    "text": "assessment_text stand_in_text",
}
_HOME = {name: module for module, names in _NAMES.items() for name in names.split()}


def __getattr__(name: str) -> Any:
    """Import a name when it is first asked for (PEP 562)."""
    if name not in _HOME:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    value = getattr(import_module(f"{__name__}.{_HOME[name]}"), name)
    globals()[name] = value
    return value
