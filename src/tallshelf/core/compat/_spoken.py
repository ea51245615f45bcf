"""The members that a schema speaks of without declaring them: by what it asks for, and by its conditions."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

_LISTS = ("allOf", "anyOf", "oneOf")
_SINGLE = ("not", "if", "then", "else")
_ASKING = ("dependentRequired", "dependentSchemas", "dependencies")
_DEEPEST = 12


def spoken_of(schema: Any, depth: int = 0) -> Iterator[str]:
    """Yield the names that ``required``, dependencies, ``propertyNames`` and conditions of a schema name.

    Those of ``anyOf`` and the like count, whichever of them holds; what only another alternative
    declares by ``properties`` does not.
    """
    if not isinstance(schema, dict) or depth > _DEEPEST:
        return
    yield from _texts(schema.get("required"))
    for keyword in _ASKING:
        wanted = schema.get(keyword)
        for name, needs in wanted.items() if isinstance(wanted, dict) else ():
            yield name
            yield from _texts(needs)
            yield from spoken_of(needs, depth + 1)
    names = schema.get("propertyNames")
    if isinstance(names, dict):
        yield from _texts(names.get("enum"))
        yield from _texts([names.get("const")])
    for keyword in _LISTS:
        for child in schema[keyword] if isinstance(schema.get(keyword), list) else ():
            yield from spoken_of(child, depth + 1)
    for keyword in _SINGLE:
        child = schema.get(keyword)
        yield from spoken_of(child, depth + 1)
        if keyword in ("not", "if") and isinstance(child, dict) and isinstance(child.get("properties"), dict):
            yield from child["properties"]


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, list):
        yield from (one for one in value if isinstance(one, str))
