"""Places where one schema is not shown to lie inside another."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from msgspec import Struct

from tallshelf.core.compat._form import Facets


class Gap(Struct, frozen=True):
    """One place where A is not shown to be inside B.

    The candidates are instances of the whole schema that may prove it. ``a_value`` and
    ``b_value`` are what the two sides say there, for the sentence.
    """

    keyword: str
    path: tuple[str, ...]
    a_pointer: str | None
    b_pointer: str | None
    candidates: tuple[Any, ...]
    a_value: Any = None
    b_value: Any = None


class Dropped(Struct, frozen=True):
    """A member that one side declares and the other does not, where nothing stands against it."""

    path: tuple[str, ...]
    pointer: str


def at(facets: Facets, *keywords: str) -> str | None:
    """Return where a branch says one of some keywords, or where the branch itself is."""
    for keyword in keywords:
        if keyword in facets.pointers:
            return facets.pointers[keyword]
    return facets.pointers.get("")


def type_name(facets: Facets) -> str:
    """Return the type of a branch as a schema writes it."""
    (name,) = facets.types
    whole = name == "number" and Fraction(1) in facets.multiples and "multipleOf" not in facets.pointers
    return "integer" if whole else name
