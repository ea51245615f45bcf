"""Overlaps for people."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from tallshelf.core.reports.lines import count, escape, wrap
from tallshelf.core.reports.paint import PLAIN, Paint

if TYPE_CHECKING:
    from tallshelf.core.assess import Assessment
    from tallshelf.core.overlap import MixUp, Overlap, Side

_MOST_MIX_UPS = 5


def overlaps_text(
    overlaps: Sequence[Overlap], paint: Paint = PLAIN, mix_ups: Sequence[MixUp] = (), *, related: bool = False
) -> str:
    """Return overlaps for people, strongest first, and what may be mixed up; weaker ones if asked for."""
    shown = [overlap for overlap in overlaps if related or _matters(overlap)]
    folded = len(overlaps) - len(shown)
    more = f" {count(folded, 'weaker pair')} left out." if folded else ""
    lines = [f"{count(len(shown), 'overlap')}.{more}" if shown else paint.green("no overlaps") + f".{more}"]
    for one in shown:
        colour = paint.amber if one.cls == "same-job" else paint.blue
        told = f"{one.ruled} {escape(one.preferred)}" if one.preferred else one.ruled
        ruled = f", ruled {told}" if one.ruled else ""
        lines += ["", f"{colour(f'◎ {one.cls}')} {one.score:.2f}{ruled}"]
        lines += [_side(one.a, paint), _side(one.b, paint)]
        lines += [wrap(reason, "    ") for reason in one.reasons]
        lines += [paint.dim(wrap(f"but {difference}", "    ")) for difference in one.differences]
        if one.cls == "same-job" and not one.ruled and one.newcomer and (one.a.since or one.b.since):
            later = "first" if one.newcomer == "a" else "second"
            lines.append(f"    the {later} came later: its releases wait for a ruling")
        if one.stands_in is not None:
            lines.append(f"    the second could {'' if one.stands_in else 'not '}stand in for the first")
    if mix_ups:
        lines += ["", paint.bold("May be mixed up by who chooses among them")]
    for pair in mix_ups[:_MOST_MIX_UPS]:
        lines += ["", f"{paint.amber(f'risk {pair.risk:.2f}')}", _side(pair.a, paint), _side(pair.b, paint)]
        lines.append(wrap(_telling(pair), "    "))
    if len(mix_ups) > _MOST_MIX_UPS:
        lines += ["", f"and {len(mix_ups) - _MOST_MIX_UPS} more that may be mixed up"]
    return "\n".join(lines)


def _matters(overlap: Overlap) -> bool:
    """Whether an overlap is work for anyone; that siblings of one server are near to each other is not."""
    return overlap.cls == "same-job" or (overlap.cls == "near" and overlap.a.source != overlap.b.source)


def _side(side: Side, paint: Paint) -> str:
    return f"  {escape(side.source)}  {paint.bold(escape(side.item))}"


def _telling(pair: MixUp) -> str:
    if not pair.only_a and not pair.only_b:
        return "no word tells them apart"
    parts = [
        f"only the {which} says {', '.join(f'“{word}”' for word in words)}"
        for which, words in (("first", pair.only_a), ("second", pair.only_b))
        if words
    ]
    return "; ".join(parts)


def overlap_line(assessment: Assessment) -> str:
    """Return how many overlaps there are and the strongest, in one line."""
    overlaps = [overlap for overlap in assessment.overlaps or () if _matters(overlap)]
    if not overlaps:
        return "none"
    first = overlaps[0]
    return (
        f"{count(len(overlaps), 'overlap')}; strongest: {escape(first.a.item)} and "
        f"{escape(first.b.source)} {escape(first.b.item)}, {first.cls} {first.score:.2f}"
    )
