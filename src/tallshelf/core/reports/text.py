"""Reports for people: aligned, at most 100 columns, untrusted text made visible."""

from __future__ import annotations

import json
import textwrap
import unicodedata
from collections.abc import Callable, Iterable, Mapping, Sequence
from itertools import groupby
from typing import Any

from tallshelf.core.assess import Assessment
from tallshelf.core.changes import Change, NextVersion, SnapshotComparison
from tallshelf.core.compat import StandIn, Witness
from tallshelf.core.overlap import Overlap
from tallshelf.core.reports.paint import PLAIN, Paint
from tallshelf.core.snapshot import TOKEN_METHOD, Line, Outline, Snapshot
from tallshelf.core.style import Finding

WIDTH = 100
_WIDEST_SPOT = 60

_MARKS: dict[str, str] = {"breaking": "◆", "undecided": "○", "caution": "▲", "compatible": "●"}
LEVEL_MARKS = {"error": "■", "warning": "◧", "note": "□"}


def escape(text: str) -> str:
    """Show control, direction and other hidden characters as visible escapes, line breaks as spaces."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(_shown(one) for one in text)


def _shown(one: str) -> str:
    if one in "\n\r\t":
        return " "
    if unicodedata.category(one) in ("Cc", "Cf", "Co", "Cn", "Cs", "Zl", "Zp"):
        return f"\\u{{{ord(one):04x}}}"
    return one


def table(rows: Iterable[Sequence[str]], head: Sequence[str] = (), paint: Paint = PLAIN) -> str:
    """Align rows of already escaped cells in columns; the last column is left as long as it is."""
    body = [list(row) for row in rows]
    everything = [list(head), *body] if head else body
    widths = (
        [max(len(row[at]) for row in everything) for at in range(len(everything[0]))] if everything else []
    )
    lines = []
    for number, row in enumerate(everything):
        cells = [cell.ljust(width) for cell, width in zip(row[:-1], widths, strict=False)] + row[-1:]
        line = "  ".join(cells).rstrip()
        lines.append(paint.dim(line) if head and number == 0 else line)
    return "\n".join(lines)


def wrap(text: str, indent: str = "", first: str | None = None) -> str:
    """Wrap escaped text to the width."""
    return textwrap.fill(
        escape(text),
        WIDTH,
        initial_indent=indent if first is None else first,
        subsequent_indent=indent,
        break_on_hyphens=False,
    )


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
    colour = _colour(change.impact, paint)
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
        mark = _colour(found.verdict, paint)(f"{_MARKS[found.verdict]} in the way of {whom}")
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


def lint_text(findings: Sequence[Finding], paint: Paint = PLAIN, snapshot: Snapshot | None = None) -> str:
    """Return findings for people, item by item; with the snapshot, the text at each spot is quoted."""
    bodies = {item.identity: item.body for item in snapshot.items} if snapshot else {}
    if snapshot:
        bodies["server"] = snapshot.server
    lines = [findings_summary(findings, paint)]
    for item, group in by_item(findings, lambda finding: finding.item):
        lines += ["", paint.bold(escape(item))]
        for finding in group:
            lines += _finding(finding, paint, bodies.get(item))
    return "\n".join(lines)


def findings_summary(findings: Sequence[Finding], paint: Paint = PLAIN) -> str:
    """Return how many findings there are, in one line."""
    counting = [finding for finding in findings if finding.counts]
    parts = [
        _colour(level, paint)(count(number, level))
        for level in ("error", "warning", "note")
        if (number := sum(finding.level == level for finding in counting))
    ]
    aside = len(findings) - len(counting)
    text = ", ".join(parts) if parts else paint.green("no findings")
    return text + (f", {aside} waived or known" if aside else "") + "."


def _finding(finding: Finding, paint: Paint, body: Any = None) -> list[str]:
    colour = _colour(finding.level, paint)
    aside = f" (waived by {finding.waived})" if finding.waived else " (known)" if finding.known else ""
    head = f"  {colour(f'{LEVEL_MARKS[finding.level]} {finding.level}')} {finding.rule}{aside}"
    lines = [head, wrap(finding.message, "    ")]
    if finding.pointer:
        lines.append(paint.dim(f"    at {escape(finding.pointer)}"))
    if finding.span:
        lines += _quoted(_at(body, finding.pointer), finding.span, paint)
    return lines


def _at(body: Any, pointer: str) -> Any:
    """Return the value that a pointer leads to, or None."""
    for step in pointer.split("/")[1:]:
        name = step.replace("~1", "/").replace("~0", "~")
        if isinstance(body, list):
            body = body[int(name)] if name.isdigit() and int(name) < len(body) else None
        else:
            body = body.get(name) if isinstance(body, Mapping) else None
    return body


def _quoted(text: Any, span: tuple[int, int], paint: Paint) -> list[str]:
    """Quote a text around a spot, in one line, with the spot marked below."""
    if not isinstance(text, str) or not 0 <= span[0] < span[1] <= len(text):
        return []
    spot = escape(" ".join(text[span[0] : span[1]].split()))[:_WIDEST_SPOT]
    room = (WIDTH - 12 - len(spot)) // 2
    before = escape(" ".join(text[: span[0]].split()))[-room:] + (
        " " if text[: span[0]][-1:].isspace() else ""
    )
    after = (" " if text[span[1] :][:1].isspace() else "") + escape(" ".join(text[span[1] :].split()))[:room]
    mark = paint.amber("^" * max(1, len(spot)))
    return [f"    │ {before}{paint.bold(spot)}{after}", f"    │ {' ' * len(before)}{mark}"]


def overlaps_text(overlaps: Sequence[Overlap], paint: Paint = PLAIN) -> str:
    """Return overlaps for people, strongest first."""
    if not overlaps:
        return paint.green("no overlaps") + "."
    lines = [f"{count(len(overlaps), 'overlap')}."]
    for one in overlaps:
        colour = paint.amber if one.cls == "same-job" else paint.blue
        ruled = ", ruled on" if one.ruled else ""
        lines += ["", f"{colour(f'◎ {one.cls}')} {one.score:.2f}{ruled}"]
        lines.append(f"  {escape(one.a.source)}  {paint.bold(escape(one.a.item))}")
        lines.append(f"  {escape(one.b.source)}  {paint.bold(escape(one.b.item))}")
        lines += [wrap(reason, "    ") for reason in one.reasons]
        lines += [paint.dim(wrap(difference, "    ")) for difference in one.differences]
        if one.stands_in is not None:
            lines.append(f"    the second could {'' if one.stands_in else 'not '}stand in for the first")
    return "\n".join(lines)


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
        overlaps = (
            overlaps_text(assessment.overlaps[:0], paint)
            if not assessment.overlaps
            else overlap_line(assessment)
        )
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
        lines += ["", escape(item), *(line for one in findings_there for line in _finding(one, paint))]
    return "\n".join(lines)


def overlap_line(assessment: Assessment) -> str:
    """Return how many overlaps there are and the strongest, in one line; there must be one."""
    overlaps = assessment.overlaps or ()
    first = overlaps[0]
    return (
        f"{count(len(overlaps), 'overlap')}; strongest: {escape(first.a.item)} and "
        f"{escape(first.b.source)} {escape(first.b.item)}, {first.cls} {first.score:.2f}"
    )


def route_line(assessment: Assessment) -> str:
    """Return the desks of a route in one line."""
    route = assessment.route
    if route is None or not route.steps:
        return f"approved by rule: {route.approved_by}" if route else "none"
    return ", then ".join(
        " and ".join(f"{seat.desk} ({seat.sign_offs})" for seat in step.seats) for step in route.steps
    )


def by_item(things: Sequence[Any], item: Callable[[Any], str]) -> list[tuple[str, list[Any]]]:
    """Group things by item, items in the order of their first and so worst thing."""
    order = {name: number for number, name in reversed(list(enumerate(map(item, things))))}
    return [
        (name, list(group))
        for name, group in groupby(sorted(things, key=lambda thing: order[item(thing)]), key=item)
    ]


def _colour(word: str, paint: Paint) -> Callable[[str], str]:
    colours = {
        "breaking": paint.red,
        "error": paint.red,
        "caution": paint.amber,
        "warning": paint.amber,
        "compatible": paint.green,
    }
    return colours.get(word, paint.blue)


def clip(text: str, most: int) -> str:
    """Cut a text that is too long, visibly."""
    return text if len(text) <= most else text[: most - 1] + "…"


def count(number: int, what: str) -> str:
    """Write a number and a noun: ``1 item``, ``2 items``."""
    return f"{number:,} {what}{'' if number == 1 else 's'}"
