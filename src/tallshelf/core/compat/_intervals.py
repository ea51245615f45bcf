"""Numbers between two bounds, told as bounds where they were turned into their few values."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from tallshelf.core.compat._form import Facets, plain
from tallshelf.core.compat._gap import Gap, at

_MOST_CANDIDATES = 6
_NUMBER = frozenset({"number"})
NEAR = {
    "minimum": ("minimum", "exclusiveMinimum"),
    "exclusiveMinimum": ("exclusiveMinimum", "minimum"),
    "maximum": ("maximum", "exclusiveMaximum"),
    "exclusiveMaximum": ("exclusiveMaximum", "maximum"),
}
"""Where a bound may stand on the other side."""


def is_interval(branch: Facets) -> bool:
    """Whether the values of a branch are those between two bounds, and no schema lists them."""
    listed = {"enum", "const"} & branch.pointers.keys()
    return branch.types == _NUMBER and branch.values is not None and not listed


def ends(a: Facets, same: Sequence[Facets], refused: Sequence[Any], path: tuple[str, ...]) -> Iterator[Gap]:
    """Yield a gap for each end of an interval beyond which values are refused; what lies between has none."""
    low, high = (end(value for facets in same for value in facets.values or ()) for end in (min, max))
    (first, last) = (min(a.values), max(a.values)) if a.values else (None, None)
    for keyword, beyond, was, end in (
        ("minimum", [one for one in refused if one < low], first, low),
        ("maximum", [one for one in refused if one > high], last, high),
    ):
        if beyond:
            bound = getattr(a, "low" if keyword == "minimum" else "high")
            was = was if was is not None else plain(bound.value) if bound else None
            near = NEAR[keyword]
            candidates = tuple(beyond[:_MOST_CANDIDATES])
            yield Gap(keyword, path, at(a, *near), at(same[0], *near), candidates, was, end)
    between = [one for one in refused if low <= one <= high]
    if between:
        yield Gap("enum", path, at(a), at(same[0]), tuple(between[:_MOST_CANDIDATES]), between[0])
