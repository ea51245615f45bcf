"""Reports as Markdown, for merge requests. Text of strangers comes out as text, whatever it says."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import TYPE_CHECKING

from tallshelf.core.changes import (
    Change,
    ChangeGroup,
    NextVersion,
    SnapshotComparison,
    groups_of,
    items_of,
    word_of,
)
from tallshelf.core.reports.compared import change_mark, places_line, verdict_lines, witness_words
from tallshelf.core.reports.hit_text import hit_line
from tallshelf.core.reports.lines import by_item, clip, count, escape
from tallshelf.core.reports.overlap_text import overlap_line
from tallshelf.core.reports.style_text import LEVEL_MARKS, findings_summary
from tallshelf.core.reports.text import route_line

if TYPE_CHECKING:
    from tallshelf.core.assess import Assessment
    from tallshelf.core.style import Finding

_ACTIVE = re.compile(r"([\\`*_\[\]|~])")
_LINKING = re.compile(r"(?<=[@#!])(?=\w)|(?<=:)(?=//)|(?<=www)(?=\.)", re.IGNORECASE)
_BREAK = "\u200b"
_MOST_ITEMS, _MOST_GROUPS, _MOST_FINDINGS = 20, 20, 60


def escape_markdown(text: str) -> str:
    """Return a text that renders as itself: no markup, HTML, image, link, mention or reference.

    What would be linked without any markup (``@name``, ``#12``, ``https://…``) is broken by a
    zero-width space; hidden characters that were there are shown as escapes.
    """
    shown = escape(text).replace("&", "&amp;").replace("<", "&lt;")
    return _LINKING.sub(_BREAK, _ACTIVE.sub(r"\\\1", shown))


def code(text: str) -> str:
    """Return a code span that a text cannot end."""
    shown = escape(text)
    fence = "`" * (_longest_run(shown) + 1)
    pad = " " if shown.startswith("`") or shown.endswith("`") or not shown.strip() else ""
    return f"{fence}{pad}{shown}{pad}{fence}"


def comparison_markdown(comparison: SnapshotComparison, version: NextVersion, old: str, new: str) -> str:
    """Return a comparison as Markdown, to fit a comment: the verdict, a table of items, groups, what breaks."""
    lines = [f"### {code(old)} → {code(new)}", "", *_told(comparison, version)]
    lines += _changes(comparison.changes)
    lines += [f"\n{code(name)}: not checked, one side did not ask for it" for name in comparison.not_checked]
    return "\n".join(lines)


def lint_markdown(findings: Sequence[Finding], name: str) -> str:
    """Return findings as a Markdown table, worst first."""
    lines = [f"### {code(name)}", "", findings_summary(findings)]
    if findings:
        lines += ["", "| level | rule | item | what |", "|---|---|---|---|"]
    for finding in findings:
        aside = f" (waived by {finding.waived})" if finding.waived else " (known)" if finding.known else ""
        level = f"{LEVEL_MARKS[finding.level]} {finding.level}{aside}"
        lines.append(
            f"| {level} | {finding.rule} | {code(finding.item)} | {escape_markdown(finding.message)} |"
        )
    return "\n".join(lines)


def assessment_markdown(assessment: Assessment, name: str) -> str:
    """Return an assessment as Markdown: the verdict, a table of its parts, and what to look at first."""
    verdict = "passes" if assessment.passed else "does not pass"
    lines = [f"### {code(name)} {verdict}", ""]
    lines += [f"- {_sentence(reason)}" for reason in assessment.because]
    rows = {
        "changes": _compared(assessment),
        "style": escape_markdown(findings_summary(assessment.findings)),
        "overlaps": _overlaps(assessment),
        "size": f"about {assessment.facts.tokens:,} tokens; {count(assessment.facts.writing_tools, 'tool')} may write",
    }
    if assessment.hits:
        rows["kits"] = escape_markdown(hit_line(assessment.hits))
    if assessment.route is not None:
        rows["route"] = escape_markdown(route_line(assessment))
    lines += ["", "| part | |", "|---|---|", *(f"| {part} | {words} |" for part, words in rows.items())]
    if assessment.comparison is not None:
        lines += _changes(assessment.comparison.changes)
    lines += _findings([finding for finding in assessment.findings if finding.counts])
    return "\n".join(lines)


def _told(comparison: SnapshotComparison, version: NextVersion) -> list[str]:
    return ["  \n".join(escape_markdown(line.strip()) for line in verdict_lines(comparison, version))]


def _compared(assessment: Assessment) -> str:
    if assessment.comparison is None:
        return "first release" if assessment.base == "first" else "not checked, no base was given"
    told = " ".join(verdict_lines(assessment.comparison, assessment.version)[:2])
    return f"against {code(assessment.base or 'the base').replace('|', ' ')}: {escape_markdown(told)}"


def _overlaps(assessment: Assessment) -> str:
    if assessment.overlaps is None:
        return "not checked, no catalog was given"
    return escape_markdown(overlap_line(assessment))


def _changes(changes: Sequence[Change]) -> list[str]:
    items, groups = items_of(changes), groups_of(changes)
    if not items:
        return []
    lines = ["", "| item | what happens |", "|---|---|"]
    for item in items[:_MOST_ITEMS]:
        counts = ", ".join(f"{number:,} {word}" for word, number in item.counts.items())
        whom = f" (worst for {', '.join(item.reach)})" if item.reach else ""
        lines.append(f"| {code(item.item).replace('|', ' ')} | {counts}{whom} |")
    if left := items[_MOST_ITEMS:]:
        words = ", ".join(dict.fromkeys(word for item in left for word in item.counts))
        lines.append(f"| {count(len(left), 'more item')} | {words} |")
    lines += ["", "**Changes**", ""]
    for group in groups[:_MOST_GROUPS]:
        lines += _group(group)
    if rest := groups[_MOST_GROUPS:]:
        by_word: dict[str, int] = {}
        for group in rest:
            by_word[word_of(group.changes[0])] = by_word.get(word_of(group.changes[0]), 0) + len(
                group.changes
            )
        told = ", ".join(f"{number:,} {word}" for word, number in by_word.items())
        lines += [f"- milder or alike, not told one by one: {told}"]
    return lines


def _group(group: ChangeGroup) -> list[str]:
    mark, word = change_mark(group)
    reach = f" for {', '.join(group.reach)}" if group.reach else ""
    first = group.changes[0]
    where = places_line(group) if len(group.changes) > 1 else first.item
    lines = [f"- {mark} **{word}**{reach}: {_sentence(group.message)} ({escape_markdown(where)})"]
    if first.ruled:
        lines.append(f"  ruled: {_sentence(clip(first.ruled, 300))}")
    if (first.witness and first.impact == "breaking") or (first.witness and first.silent):
        instance = clip(json.dumps(first.witness.instance, ensure_ascii=True), 300)
        fence = "`" * max(3, _longest_run(instance) + 1)
        words = escape_markdown(witness_words(first.witness))
        lines += [f"  {words}", f"  {fence}json", f"  {instance}", f"  {fence}"]
    return lines


def _findings(findings: Sequence[Finding]) -> list[str]:
    lines = ["", "**Findings**"] if findings else []
    for item, group in by_item(findings[:_MOST_FINDINGS], lambda finding: finding.item):
        lines += ["", f"#### {code(item)}", ""]
        for finding in group:
            where = f" at {code(finding.pointer)}" if finding.pointer else ""
            mark = LEVEL_MARKS[finding.level]
            lines.append(f"- {mark} **{finding.level}** {finding.rule}{where}: {_sentence(finding.message)}")
    if len(findings) > _MOST_FINDINGS:
        lines += ["", f"and {len(findings) - _MOST_FINDINGS} more findings"]
    return lines


def _sentence(message: str) -> str:
    """Write one of our sentences; what stands between its backticks becomes code."""
    return "".join(
        (code(part) if part else "") if number % 2 else escape_markdown(part)
        for number, part in enumerate(message.split("`"))
    )


def _longest_run(text: str) -> int:
    return max((len(run) for run in re.findall("`+", text)), default=0)
