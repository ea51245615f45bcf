"""Findings for people."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.core.pointer import value_at
from tallshelf.core.reports.lines import WIDTH, by_item, colour_of, count, escape, wrap
from tallshelf.core.reports.paint import PLAIN, Paint

if TYPE_CHECKING:
    from tallshelf.core.snapshot import Snapshot
    from tallshelf.core.style import Finding

_CUT_ESCAPE, _ESCAPE_REST = re.compile(r"\\(?:u(?:\{[0-9a-f]*)?)?$"), re.compile(r"^u?\{?[0-9a-f]*\}")
_WIDEST_SPOT = 60
LEVEL_MARKS = {"error": "■", "warning": "◧", "note": "□"}


def lint_text(findings: Sequence[Finding], paint: Paint = PLAIN, snapshot: Snapshot | None = None) -> str:
    """Return findings for people, item by item; with the snapshot, the text at each spot is quoted."""
    bodies = {item.identity: item.body for item in snapshot.items} if snapshot else {}
    if snapshot:
        bodies["server"] = snapshot.server
    lines = [findings_summary(findings, paint)]
    for item, group in by_item(findings, lambda finding: finding.item):
        lines += ["", paint.bold(escape(item))]
        for finding in group:
            lines += finding_lines(finding, paint, bodies.get(item))
    return "\n".join(lines)


def findings_summary(findings: Sequence[Finding], paint: Paint = PLAIN) -> str:
    """Return how many findings there are, in one line."""
    counting = [finding for finding in findings if finding.counts]
    parts = [
        colour_of(level, paint)(count(number, level))
        for level in ("error", "warning", "note")
        if (number := sum(finding.level == level for finding in counting))
    ]
    aside = len(findings) - len(counting)
    text = ", ".join(parts) if parts else paint.green("no findings")
    return text + (f", {aside} waived or known" if aside else "") + "."


def finding_lines(finding: Finding, paint: Paint, body: Any = None) -> list[str]:
    """Return one finding; with the body of its item, the spot is quoted."""
    colour = colour_of(finding.level, paint)
    aside = f" (waived by {finding.waived})" if finding.waived else " (known)" if finding.known else ""
    head = f"  {colour(f'{LEVEL_MARKS[finding.level]} {finding.level}')} {finding.rule}{aside}"
    lines = [head, wrap(finding.message, "    ")]
    if finding.pointer:
        lines.append(paint.dim(f"    at {escape(finding.pointer)}"))
    if finding.span:
        lines += _quoted(value_at(body, finding.pointer), finding.span, paint)
    return lines


def _quoted(text: Any, span: tuple[int, int], paint: Paint) -> list[str]:
    """Quote a text around a spot, in one line, with the spot marked below."""
    if not isinstance(text, str) or not 0 <= span[0] < span[1] <= len(text):
        return []
    spot = _begin(escape(" ".join(text[span[0] : span[1]].split())), _WIDEST_SPOT)
    room = (WIDTH - 12 - len(spot)) // 2
    head, tail = text[: span[0]], text[span[1] :]
    before = _end(escape(" ".join(head.split())), room) + (" " if head[-1:].isspace() else "")
    after = (" " if tail[:1].isspace() else "") + _begin(escape(" ".join(tail.split())), room)
    mark = paint.amber("^" * max(1, len(spot)))
    return [f"    │ {before}{paint.bold(spot)}{after}", f"    │ {' ' * len(before)}{mark}"]


def _begin(text: str, most: int) -> str:
    """Return the beginning of escaped text; an escape is left out whole, and what is left out is told."""
    if len(text) <= most:
        return text
    return _CUT_ESCAPE.sub("", text[: most - 1]) + "…"


def _end(text: str, most: int) -> str:
    """Return the end of escaped text, cut likewise."""
    if len(text) <= most:
        return text
    return "…" + _ESCAPE_REST.sub("", text[1 - most :])
