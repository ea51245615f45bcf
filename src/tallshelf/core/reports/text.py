"""Reports for people: aligned, at most 100 columns, untrusted text made visible."""

from __future__ import annotations

import json

from tallshelf.core.assess import Assessment
from tallshelf.core.changes import Change, NextVersion, SnapshotComparison
from tallshelf.core.compat import StandIn, Witness
from tallshelf.core.reports.lines import by_item, clip, colour_of, count, escape, wrap
from tallshelf.core.reports.overlap_text import overlap_line
from tallshelf.core.reports.paint import PLAIN, Paint
from tallshelf.core.reports.style_text import finding_lines, findings_summary
from tallshelf.core.snapshot import TOKEN_METHOD, Line, Outline

_MARKS: dict[str, str] = {"breaking": "◆", "undecided": "○", "caution": "▲", "compatible": "●"}


def outline_text(outline: Outline, paint: Paint = PLAIN) -> str:
    """Return what the model will see, for people."""
    name = escape(outline.server) or "(a server that does not name itself)"
    lines = [
        f"{paint.bold(name)}: {count(len(outline.items), 'item')}, about {outline.tokens:,} tokens",
        paint.dim(f"({TOKEN_METHOD})"),
    ]
    if outline.instructions:
        lines += ["", wrap(outline.instructions, "  ")]
    for item in outline.items:
        lines += [
            "",
            f"{paint.bold(escape(item.name))}  {paint.dim(f'{item.kind}, about {item.tokens:,} tokens')}",
        ]
        lines.append(wrap(item.description, "  ") if item.description else paint.amber("  (no description)"))
        lines += _members(item.parameters, "  ", paint)
        if item.results:
            lines += ["  returns", *_members(item.results, "    ", paint)]
    return "\n".join(lines)


def _members(members: tuple[Line, ...], indent: str, paint: Paint) -> list[str]:
    name_width = max((len(escape(line.name)) for line in members), default=0)
    lines = []
    for line in members:
        words = escape(line.type) + ("" if line.required else ", optional")
        head = f"{indent}{escape(line.name).ljust(name_width)}  {words}"
        if not line.description:
            lines.append(head)
            continue
        margin = max(len(head) + 2, 36)
        if margin > 60:
            lines += [head, wrap(line.description, " " * 36)]
        else:
            lines.append(wrap(line.description, " " * margin, head.ljust(margin)))
    return lines


def comparison_text(
    comparison: SnapshotComparison, version: NextVersion, paint: Paint = PLAIN, *, folded: bool = False
) -> str:
    """Return a comparison for people, item by item, worst first."""
    shown = [change for change in comparison.changes if folded or not change.folded]
    lines = summary(comparison, version, paint)
    for item, group in by_item(shown, lambda change: change.item):
        lines += ["", paint.bold(escape(item))]
        for change in group:
            lines += _change(change, paint)
    hidden = len(comparison.changes) - len(shown)
    if hidden:
        lines += [
            "",
            paint.dim(f"{count(hidden, 'change')} that nobody meets folded away; --all shows them."),
        ]
    for name in comparison.not_checked:
        lines += ["", paint.amber(f"{name}: not checked, one side did not ask for it")]
    return "\n".join(lines)


def summary(comparison: SnapshotComparison, version: NextVersion, paint: Paint = PLAIN) -> list[str]:
    """Return a comparison's counts in one line, and its versions in a second where there is a base."""
    silent = len(comparison.silent)
    counts = [
        (paint.red, comparison.count("breaking"), "breaking"),
        (paint.blue, comparison.count("undecided"), "undecided"),
        (paint.amber, silent, "silent"),
        (paint.amber, comparison.count("caution") - silent, "caution"),
        (paint.green, comparison.count("compatible"), "compatible"),
    ]
    parts = [colour(f"{number} {word}") for colour, number, word in counts if number]
    text = ", ".join(parts) if parts else "no changes"
    lines = [f"{text}; {count(comparison.untouched, 'item')} untouched."]
    if version.honest:
        verdict = "" if version.is_honest else paint.red(" (too low)")
        lines.append(f"Declared {version.declared or 'nothing'}{verdict}, honest {version.honest}.")
    return lines


def change_mark(change: Change) -> tuple[str, str]:
    """Return the mark and the word for a change."""
    return ("▲̸", "silent") if change.silent else (_MARKS[change.impact], change.impact)


def _change(change: Change, paint: Paint) -> list[str]:
    colour = colour_of(change.impact, paint)
    mark, word = change_mark(change)
    reach = f" for {', '.join(change.reach)}" if change.reach else ""
    noticed = f", {change.notice:.0%} of the telling words moved" if change.notice else ""
    lines = [f"  {colour(f'{mark} {word}{reach}')}{paint.dim(noticed)}", wrap(change.message, "    ")]
    where = change.new_pointer if change.new_pointer is not None else change.old_pointer
    if where:
        lines.append(paint.dim(f"    at {escape(where)}"))
    if change.witness and not change.folded:
        verb = "This worked and is refused:" if change.witness.accepted_by == "old" else "This may come now:"
        lines += _proof(change.witness, paint, verb)
    return lines


def stand_in_text(answer: StandIn, a: str, b: str, paint: Paint = PLAIN) -> str:
    """Return for people whether one tool can take another's place, and what is in the way."""
    verdicts = {
        True: paint.green("can take the place of"),
        False: paint.red("cannot take the place of"),
        None: paint.blue("may or may not take the place of"),
    }
    lines = [f"{paint.bold(escape(b))} {verdicts[answer.stands_in]} {paint.bold(escape(a))}."]
    for one in answer.obstacles:
        whom = "callers" if one.position == "input" else "receivers"
        found = one.difference
        mark = colour_of(found.verdict, paint)(f"{_MARKS[found.verdict]} in the way of {whom}")
        lines += ["", f"  {mark}", wrap(found.message, "    ")]
        if found.witness:
            lines += _proof(
                found.witness,
                paint,
                "The first takes this and the second refuses it:"
                if one.position == "input"
                else "The second may answer this, the first never:",
            )
    return "\n".join(lines)


def _proof(witness: Witness, paint: Paint, words: str) -> list[str]:
    instance = clip(json.dumps(witness.instance, ensure_ascii=True), 600)
    return [f"    {words}", paint.bold(wrap(instance, "      "))]


def assessment_text(assessment: Assessment, name: str, paint: Paint = PLAIN) -> str:
    """Return an assessment on one page."""
    verdict = paint.green("passes") if assessment.passed else paint.red("does not pass")
    lines = [f"{paint.bold(escape(name))} {verdict}."]
    lines += [wrap(reason, "  - ", "  - ") for reason in assessment.because]
    base = assessment.base
    changes = "not checked, no base was given"
    if assessment.comparison is not None:
        told = summary(assessment.comparison, assessment.version, paint)
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
    if assessment.route is not None:
        lines.append(f"route     {route_line(assessment)}")
    first = [
        one for one in (assessment.comparison.changes if assessment.comparison else ()) if not one.folded
    ][:5]
    findings = [one for one in assessment.findings if one.counts][:5]
    if first or findings:
        lines += ["", paint.bold("Look at these first")]
    for item, changes_there in by_item(first, lambda change: change.item):
        lines += ["", escape(item), *(line for one in changes_there for line in _change(one, paint))]
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
