"""Sizes too large to list: compared by counting, on copies of both schemas in which they are smaller.

Schemas compare the size of a value with bounds and do nothing else with it, so that bounds may be moved as long
as they keep their order, and stay one apart where they were, and above all that is asked for by name.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.compat._dialect import MAPS, VALUES

MOST_ELEMENTS, MOST_CHARACTERS = 10_000, 100_000
"""Of an instance that is written down."""
MORE = 1_000
"""How far beyond that the bounds of copies go at most."""
_ELEMENTS = ("minItems", "maxItems", "minContains", "maxContains", "minProperties", "maxProperties")
_LISTED = dict.fromkeys(_ELEMENTS, MOST_ELEMENTS) | {
    "minLength": MOST_CHARACTERS,
    "maxLength": MOST_CHARACTERS,
}
SIZES = frozenset(_LISTED)
Moves = Mapping[int, Mapping[int, int]]
"""By what is listed at most, what each size that is larger was moved to."""


class Scale(Struct, frozen=True):
    """How sizes were moved; ``back`` tells of a size in a copy what it was."""

    to: Moves

    @property
    def is_needed(self) -> bool:
        return bool(self.to)

    def back(self, keyword: str, value: Any) -> Any:
        """Return the size that a bound had before it was moved."""
        if keyword not in SIZES or type(value) is not int:
            return value
        moved = self.to.get(_LISTED[keyword], {})
        return next((was for was, now in moved.items() if now == value), value)

    def copy(self, schema: Any) -> Any:
        """Return a schema with its large bounds moved."""
        return _moved(schema, self.to) if self.to else schema


def scale_of(*schemas: Any) -> Scale:
    """Return how the bounds of schemas are to be moved: those beyond which no instance is listed."""
    large: dict[int, set[int]] = {}
    for schema in schemas:
        for keyword, size in _sizes(schema):
            if size >= _LISTED[keyword]:
                large.setdefault(_LISTED[keyword], set()).add(size)
    return Scale({most: _close(most, sizes) for most, sizes in large.items()})


def _close(most: int, sizes: set[int]) -> dict[int, int]:
    to: dict[int, int] = {}
    last = was = most - 1
    for size in sorted(sizes):
        last += min(size - was, 2)
        to[size], was = last, size
    return to


def _sizes(schema: Any) -> Iterator[tuple[str, int]]:
    for keyword, value in _keywords(schema):
        if keyword in SIZES and isinstance(value, int | float):
            yield keyword, int(value)


def _keywords(schema: Any) -> Iterator[tuple[str, Any]]:
    if isinstance(schema, list):
        for child in schema:
            yield from _keywords(child)
    elif isinstance(schema, dict):
        for keyword, value in schema.items():
            yield keyword, value
            if keyword in MAPS and isinstance(value, dict):
                for child in value.values():
                    yield from _keywords(child)
            elif keyword not in VALUES:
                yield from _keywords(value)


def _moved(schema: Any, to: Moves) -> Any:
    if isinstance(schema, list):
        return [_moved(child, to) for child in schema]
    if not isinstance(schema, dict):
        return schema
    found: dict[str, Any] = {}
    for keyword, value in schema.items():
        if keyword in SIZES and isinstance(value, int | float):
            found[keyword] = to.get(_LISTED[keyword], {}).get(int(value), int(value))
        elif keyword in MAPS and isinstance(value, dict):
            found[keyword] = {name: _moved(child, to) for name, child in value.items()}
        else:
            found[keyword] = value if keyword in VALUES else _moved(value, to)
    return found
