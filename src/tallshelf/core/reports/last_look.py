"""What moved between two assessments of one request, for someone who looked at the first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

_Line = tuple[str, str, str]


def moved_between(before: Mapping[str, Any], now: Mapping[str, Any]) -> dict[str, list[dict[str, str]]]:
    """Return the lines that came and went between two ``tallshelf.assessment/1`` documents.

    A line is ``{"kind", "item", "words"}``; kinds are base, failure, change, finding, overlap and desk,
    in this order. ``item`` is empty where a line is about the whole release. Changes against the base
    are told when the base moved; else comparing the two snapshots tells them better. Changes that are
    compatible or folded, and findings that are waived or known, are left out, as they ask for nothing.
    """
    rebased = before["base"] != now["base"]
    old, new = (list(dict.fromkeys(_lines(one, rebased))) for one in (before, now))
    return {"came": _documents(new, set(old)), "went": _documents(old, set(new))}


def _documents(lines: list[_Line], without: set[_Line]) -> list[dict[str, str]]:
    return [
        {"kind": kind, "item": item, "words": words}
        for kind, item, words in lines
        if (kind, item, words) not in without
    ]


def _lines(assessment: Mapping[str, Any], rebased: bool) -> Iterator[_Line]:
    base = assessment["base"]
    yield "base", "", "the first release" if base in (None, "first") else f"compared with {base}"
    for reason in assessment["because"]:
        yield "failure", "", reason
    for change in (assessment["changes"] or ()) if rebased else ():
        if change["impact"] != "compatible" and not change["folded"]:
            yield "change", change["item"], f"{change['impact']}: {change['message']}"
    for finding in assessment["findings"]:
        if not finding.get("waived") and not finding.get("known"):
            yield "finding", finding["item"], f"{finding['level']}: {finding['message']}"
    for overlap in assessment["overlaps"] or ():
        if overlap["class"] == "same-job" and not overlap.get("ruled"):
            yield (
                "overlap",
                overlap["a"]["item"],
                f"does the same job as {overlap['b']['server']} {overlap['b']['item']}",
            )
    for step in (assessment["route"] or {"steps": ()})["steps"]:
        for seat in step["desks"]:
            more = "" if seat["sign_offs"] == 1 else f", {seat['sign_offs']} sign-offs"
            yield "desk", "", f"{seat['desk']}{more}"
