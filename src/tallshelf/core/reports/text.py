"""Reports for people: aligned, at most 100 columns, untrusted text made visible."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tallshelf.core.reports.compared import change_lines, proof_lines, verdict_lines
from tallshelf.core.reports.hit_documents import hits_document
from tallshelf.core.reports.hit_text import hit_line, hits_text
from tallshelf.core.reports.lines import by_item, colour_of, count, escape, wrap
from tallshelf.core.reports.overlap_text import overlap_line
from tallshelf.core.reports.paint import PLAIN, Paint
from tallshelf.core.reports.style_text import finding_lines, findings_summary

if TYPE_CHECKING:
    from tallshelf.core.assess import Assessment
    from tallshelf.core.compat import StandIn

_MARKS = {"breaking": "◆", "undecided": "○", "ignored": "▲̸"}
_SHOWN = {
    ("breaking", "input"): "The first takes this and the second refuses it:",
    ("breaking", "output"): "The second may answer this, the first never:",
    ("ignored", "input"): "The first reads all of this, and the second does not:",
}


def stand_in_text(answer: StandIn, a: str, b: str, paint: Paint = PLAIN) -> str:
    """Return for people whether one tool can take another's place, and what is in the way."""
    verdicts = {
        True: paint.green("can take the place of"),
        False: paint.red("cannot take the place of"),
        None: paint.blue("may or may not take the place of"),
    }
    lines = [f"{paint.bold(escape(b))} {verdicts[answer.stands_in]} {paint.bold(escape(a))}."]
    for obstacle in answer.obstacles:
        whom = "callers" if obstacle.position == "input" else "receivers"
        difference = obstacle.difference
        mark = colour_of(difference.verdict, paint)(f"{_MARKS[obstacle.verdict]} in the way of {whom}")
        lines += ["", f"  {mark}", wrap(difference.message, "    ")]
        if difference.witness:
            lines += proof_lines(difference.witness, paint, _SHOWN[obstacle.verdict, obstacle.position])
    return "\n".join(lines)


def assessment_text(assessment: Assessment, name: str, paint: Paint = PLAIN) -> str:
    """Return an assessment on one page."""
    verdict = paint.green("passes") if assessment.passed else paint.red("does not pass")
    lines = [f"{paint.bold(escape(name))} {verdict}."]
    lines += [wrap(reason, "  - ", "  - ") for reason in assessment.because]
    base = assessment.base
    changes = "not checked, no base was given"
    if assessment.comparison is not None:
        told = verdict_lines(assessment.comparison, assessment.version, paint)[:2]
        changes = "\n          ".join([f"against {escape(base or 'the base')}", *told])
    elif base == "first":
        changes = "first release, nothing to compare with"
    overlaps = "not checked, no catalog was given"
    if assessment.overlaps is not None:
        overlaps = overlap_line(assessment)
    facts = assessment.facts
    lines += [
        "",
        f"changes   {changes}",
        f"style     {findings_summary(assessment.findings, paint)}",
        f"overlaps  {overlaps}",
        f"size      about {facts.tokens:,} tokens; {count(facts.writing_tools, 'tool')} may write",
    ]
    if assessment.hits:
        lines.append(f"kits      {hit_line(assessment.hits)}")
    if assessment.route is not None:
        lines.append(f"route     {route_line(assessment)}")
    if assessment.hits:
        lines += ["", hits_text(hits_document(assessment.hits), paint)]
    first = [
        one for one in (assessment.comparison.changes if assessment.comparison else ()) if not one.folded
    ][:5]
    findings = [one for one in assessment.findings if one.counts][:5]
    if first or findings:
        lines += ["", paint.bold("Look at these first")]
    for item, changes_there in by_item(first, lambda change: change.item):
        lines += ["", escape(item), *(line for one in changes_there for line in change_lines(one, paint))]
    for item, findings_there in by_item(findings, lambda finding: finding.item):
        lines += ["", escape(item), *(line for one in findings_there for line in finding_lines(one, paint))]
    return "\n".join(lines)


def route_line(assessment: Assessment) -> str:
    """Return the desks of a route in one line."""
    route = assessment.route
    if route is None or not route.steps:
        return f"approved by rule: {route.approved_by}" if route else "none"
    return ", then ".join(
        " and ".join(f"{seat.desk} ({seat.sign_offs})" for seat in step.seats) for step in route.steps
    )
