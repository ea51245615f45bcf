"""The dialects of JSON Schema that are read, each a set of the keywords that constrain in it."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

from msgspec import Struct

from tallshelf.core.snapshot import canonical

MAPS = ("properties", "patternProperties", "$defs", "definitions", "dependentSchemas", "dependencies")
"""Keywords whose value names schemas."""

_ALWAYS = frozenset(
    [
        "type",
        "enum",
        "const",
        "minimum",
        "maximum",
        "exclusiveMinimum",
        "exclusiveMaximum",
        "multipleOf",
        "minLength",
        "maxLength",
        "pattern",
        "minItems",
        "maxItems",
        "uniqueItems",
        "minProperties",
        "maxProperties",
        "required",
        "format",
        "allOf",
        "anyOf",
        "oneOf",
        "not",
        "$ref",
        "properties",
        "patternProperties",
        "additionalProperties",
        "propertyNames",
        "items",
        "contains",
    ]
)
_CONDITION = frozenset({"if", "then", "else"})
_SINCE_2019 = frozenset(
    [
        "dependentRequired",
        "dependentSchemas",
        "minContains",
        "maxContains",
        "unevaluatedProperties",
        "unevaluatedItems",
    ]
)


class Dialect(Struct, frozen=True):
    """One dialect.

    ``ref_alone``: what stands beside ``$ref`` is ignored. ``contains_evaluates``: elements that
    ``contains`` counts are evaluated for ``unevaluatedItems``.
    """

    name: str
    keywords: frozenset[str]
    ref_alone: bool = False
    contains_evaluates: bool = False


DRAFT_06 = Dialect("draft-06", _ALWAYS | {"additionalItems", "dependencies"}, ref_alone=True)
DRAFT_07 = Dialect("draft-07", DRAFT_06.keywords | _CONDITION, ref_alone=True)
DRAFT_2019 = Dialect("2019-09", _ALWAYS | _CONDITION | _SINCE_2019 | {"additionalItems", "$recursiveRef"})
DRAFT_2020 = Dialect(
    "2020-12",
    _ALWAYS | _CONDITION | _SINCE_2019 | {"prefixItems", "$dynamicRef"},
    contains_evaluates=True,
)
KEYWORDS = (
    DRAFT_07.keywords
    | DRAFT_2019.keywords
    | DRAFT_2020.keywords
    | {"$schema", "$id", "$defs", "definitions", "$anchor", "$dynamicAnchor", "$comment", "$vocabulary"}
)
"""All keywords that constrain, or lay out a document, in one dialect or another; and comments."""
_BY_URI = {
    "http://json-schema.org/draft-06/schema": DRAFT_06,
    "http://json-schema.org/draft-07/schema": DRAFT_07,
    "https://json-schema.org/draft/2019-09/schema": DRAFT_2019,
    "https://json-schema.org/draft/2020-12/schema": DRAFT_2020,
}


def dialect_of(schema: Any) -> Dialect | None:
    """Return the dialect that a document declares (2020-12 where it declares none), or None if not read."""
    declared = schema.get("$schema") if isinstance(schema, dict) else None
    return DRAFT_2020 if declared is None else _BY_URI.get(str(declared).rstrip("#"))


def pruned(schema: Any, keep: Callable[[str], bool]) -> Any:
    """Return a schema with some of its keywords alone, and those inside it likewise."""
    if isinstance(schema, list):
        return [pruned(child, keep) for child in schema]
    if not isinstance(schema, dict):
        return schema
    found: dict[str, Any] = {}
    for keyword, value in schema.items():
        if not keep(keyword):
            continue
        if keyword in MAPS and isinstance(value, dict):
            found[keyword] = {name: pruned(child, keep) for name, child in value.items()}
        elif keyword in VALUES:
            found[keyword] = value
        else:
            found[keyword] = pruned(value, keep)
    return found


def same_schema(old: Any, new: Any) -> bool:
    """Whether two schemas are the same JSON value, but for keywords that no dialect constrains by."""
    return canonical(_constraining(old)) == canonical(_constraining(new))


def _constraining(schema: Any) -> Any:
    """Return a schema without its annotations, unless a reference could point into one."""
    plain = all(_DEFINITION.fullmatch(reference) for reference in _references(schema))
    return pruned(schema, lambda keyword: keyword in KEYWORDS and keyword != "$comment") if plain else schema


def _references(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        yield from (str(value[name]) for name in ("$ref", "$dynamicRef", "$recursiveRef") if name in value)
        value = list(value.values())
    if isinstance(value, list):
        for child in value:
            yield from _references(child)


_DEFINITION = re.compile(r"#(/(\$defs|definitions)/[^/]+)?")
VALUES = frozenset(
    {"const", "enum", "default", "examples", "example", "required", "dependentRequired", "$vocabulary"}
)
"""Keywords whose value is no schema, and holds none."""
