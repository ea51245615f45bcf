"""Overlaps for people."""

from __future__ import annotations

from collections.abc import Sequence

from tallshelf.core.assess import Assessment
from tallshelf.core.overlap import Overlap
from tallshelf.core.reports.lines import count, escape, wrap
from tallshelf.core.reports.paint import PLAIN, Paint


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


def overlap_line(assessment: Assessment) -> str:
    """Return how many overlaps there are and the strongest, in one line; there must be one."""
    overlaps = assessment.overlaps or ()
    first = overlaps[0]
    return (
        f"{count(len(overlaps), 'overlap')}; strongest: {escape(first.a.item)} and "
        f"{escape(first.b.source)} {escape(first.b.item)}, {first.cls} {first.score:.2f}"
    )
