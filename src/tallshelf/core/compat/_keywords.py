"""One small function for each keyword, gathered in tables: simple facets, and unions."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import TYPE_CHECKING, Any

from tallshelf.core.compat._form import (
    ALL_TYPES,
    ANYTHING,
    NEVER,
    Bound,
    Facets,
    Members,
    Place,
    altered,
    distinct,
    exact,
    meet,
)

if TYPE_CHECKING:
    from tallshelf.core.compat._normal import Document


def escape(name: str) -> str:
    """Escape one step of a JSON Pointer (RFC 6901)."""
    return name.replace("~", "~0").replace("/", "~1")


def _type(value: Any) -> Facets:
    names = [value] if isinstance(value, str) else value
    types = frozenset("number" if name == "integer" else name for name in names)
    whole = "integer" in names and "number" not in names
    return Facets(types=types, multiples=frozenset({Fraction(1)}) if whole else frozenset())


def _format(value: Any) -> Facets:
    return Facets(format=value if isinstance(value, str) else "")


SIMPLE: dict[str, Callable[[Any], Facets]] = {
    "type": _type,
    "enum": lambda value: Facets(values=distinct(value)),
    "const": lambda value: Facets(values=(value,)),
    "minimum": lambda value: Facets(low=Bound(exact(value), exclusive=False)),
    "maximum": lambda value: Facets(high=Bound(exact(value), exclusive=False)),
    "exclusiveMinimum": lambda value: Facets(low=Bound(exact(value), exclusive=True)),
    "exclusiveMaximum": lambda value: Facets(high=Bound(exact(value), exclusive=True)),
    "multipleOf": lambda value: Facets(multiples=frozenset({exact(value)})),
    "minLength": lambda value: Facets(shortest=int(value)),
    "maxLength": lambda value: Facets(longest=int(value)),
    "pattern": lambda value: Facets(patterns=frozenset({value})),
    "minItems": lambda value: Facets(fewest_items=int(value)),
    "maxItems": lambda value: Facets(most_items=int(value)),
    "uniqueItems": lambda value: Facets(unique=bool(value)),
    "minProperties": lambda value: Facets(fewest_members=int(value)),
    "maxProperties": lambda value: Facets(most_members=int(value)),
    "required": lambda value: Facets(required=dict.fromkeys(value, "")),
    "format": _format,
}


def _all_of(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    return document.product([document.fold(child) for child in _children(place, keyword)])


def _any_of(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    return tuple(facets for child in _children(place, keyword) for facets in document.fold(child))


def _one_of(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    """Read ``oneOf`` as a union where its members share no type; else leave it whole."""
    members = [document.fold(child) for child in _children(place, keyword)]
    types = [frozenset().union(*(facets.types for facets in member)) for member in members]
    if all(not left & right for left, right in itertools.combinations(types, 2)):
        return tuple(itertools.chain.from_iterable(members))
    return (document.opaque(keyword, place),)


def _ref(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    target = document.resolve(place.schema[keyword])
    return (document.opaque(keyword, place),) if target is None else document.fold(target)


def dependencies(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    """Read what the presence of a member asks for: it is absent, or what it asks for holds."""
    parts: list[tuple[Facets, ...]] = [(ANYTHING,)]
    for name, wanted in place.schema[keyword].items():
        where = {keyword: f"{place.pointer}/{keyword}/{escape(name)}"}
        needed = wanted if isinstance(wanted, list) else []
        present = Facets(types=_OBJECT, required=dict.fromkeys([name, *needed], ""), pointers=where)
        child = Place(True if isinstance(wanted, list) else wanted, where[keyword])
        both = tuple(meet(present, one) for one in document.fold(child))
        parts.append((_absent(name, where), *(one for one in both if one.types)))
    return document.product(parts)


def _absent(name: str, where: Mapping[str, str]) -> Facets:
    return Facets(members=(Members({name: NEVER}, None, False),), pointers=where)


def _not(document: Document, place: Place, keyword: str) -> tuple[Facets, ...]:
    """Read the negations that have a form of their own; leave others whole."""
    schema, where = place.schema[keyword], {keyword: f"{place.pointer}/{keyword}"}
    if isinstance(schema, bool) or not schema:
        return (ANYTHING,) if schema is False else ()
    if set(schema) == {"required"} and len(schema["required"]) == 1:
        return (altered(_absent(schema["required"][0], where), types=_OBJECT),)
    if set(schema) == {"type"} and "integer" not in schema["type"]:
        names = {schema["type"]} if isinstance(schema["type"], str) else set(schema["type"])
        return (Facets(types=ALL_TYPES - names, pointers=where),)
    return (document.opaque(keyword, place),)


def _children(place: Place, keyword: str) -> list[Place]:
    return [
        Place(child, f"{place.pointer}/{keyword}/{index}")
        for index, child in enumerate(place.schema[keyword])
    ]


UNIONS: dict[str, Callable[[Document, Place, str], tuple[Facets, ...]]] = {
    "allOf": _all_of,
    "anyOf": _any_of,
    "oneOf": _one_of,
    "$ref": _ref,
    "not": _not,
    "dependentRequired": dependencies,
    "dependentSchemas": dependencies,
}
_OBJECT = frozenset({"object"})
