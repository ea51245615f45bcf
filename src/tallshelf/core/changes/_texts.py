"""Changes of texts, defaults and formats: what no schema check would notice."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Item, canonical, json_equal
from tallshelf.core.words import units_in

Make = Callable[..., Change]

_DEEPEST = 24
_MAPS = frozenset({"properties", "$defs", "definitions", "patternProperties", "dependentSchemas"})
_LISTS = frozenset({"allOf", "anyOf", "oneOf", "prefixItems"})
_SINGLE = frozenset(
    {"items", "additionalProperties", "not", "if", "then", "else", "contains", "propertyNames"}
)
_TYPOGRAPHY = re.compile(r"[\s\"'`’‘“”.,;:–—-]+")


def compare_texts(old: Item, new: Item, make: Make) -> Iterator[Change]:
    """Yield the changes of titles, descriptions, defaults and formats of an item."""
    before, after = _annotated(old), _annotated(new)
    for pointer in [*before, *(pointer for pointer in after if pointer not in before)]:
        was, now = before.get(pointer), after.get(pointer)
        if was is None or now is None:
            continue  # A member that came or went is told by the comparison of schemas.
        where = {"old_pointer": pointer or None, "new_pointer": pointer or None}
        yield from _text(old, pointer, was, now, make)
        yield from _value(old, "default", was, now, make, where)
        yield from _value(old, "format", was, now, make, where)


def _text(
    item: Item, pointer: str, was: Mapping[str, Any], now: Mapping[str, Any], make: Make
) -> Iterator[Change]:
    for field, kind in (("description", "description-changed"), ("title", "title-changed")):
        old_text, new_text = _string(was.get(field)), _string(now.get(field))
        if old_text == new_text:
            continue
        where = {
            "old_pointer": f"{pointer}/{field}" if old_text else None,
            "new_pointer": f"{pointer}/{field}" if new_text else None,
        }
        moved = _moved_units(old_text, new_text)
        subject = _subject(pointer)
        if moved:
            message = f"{subject}{moved[0]} became {moved[1]}"
            yield make("unit-moved", item.identity, message, **where, **_whom(pointer))
        elif field == "description" and not old_text:
            yield make("description-added", item.identity, f"{subject}a description is added", **where)
        else:
            same = (
                _TYPOGRAPHY.sub(" ", old_text).strip().lower()
                == _TYPOGRAPHY.sub(" ", new_text).strip().lower()
            )
            extra: dict[str, Any] = {"impact": "compatible", "folded": True} if same else {}
            verb = "is gone" if not new_text else "changed"
            yield make(kind, item.identity, f"{subject}the {field} {verb}", **where, **extra)


def _moved_units(old: str, new: str) -> tuple[str, str] | None:
    """Return the unit that one text names and the other replaces by another of its measure."""
    before, after = units_in(old), units_in(new)
    names_before, names_after = {unit.name for unit in before}, {unit.name for unit in after}
    for unit in before:
        if unit.name in names_after:
            continue
        for other in after:
            if other.measure == unit.measure and other.name not in names_before:
                return old[unit.start : unit.end], new[other.start : other.end]
    return None


def _value(
    item: Item, field: str, was: Mapping[str, Any], now: Mapping[str, Any], make: Make, where: dict[str, Any]
) -> Iterator[Change]:
    old_has, new_has = field in was, field in now
    if old_has == new_has and json_equal(was.get(field), now.get(field)):
        return
    words = [canonical(side[field]).decode() if field in side else "none" for side in (was, now)]
    pointer = where["old_pointer"] or ""
    message = f"{_subject(pointer)}the {field} was {words[0]} and is now {words[1]}"
    yield make(
        f"{field}-changed",
        item.identity,
        message,
        old_pointer=f"{pointer}/{field}" if old_has else None,
        new_pointer=f"{pointer}/{field}" if new_has else None,
        **_whom(pointer),
    )


def _annotated(item: Item) -> dict[str, Mapping[str, Any]]:
    """Return the item and the declared members of its schemas, by pointer."""
    found: dict[str, Mapping[str, Any]] = {"": item.body}
    for field in ("inputSchema", "outputSchema"):
        _members(item.body.get(field), f"/{field}", found, 0)
    arguments = item.body.get("arguments")
    for index, argument in enumerate(arguments if isinstance(arguments, list) else []):
        if isinstance(argument, dict):
            found[f"/arguments/{index}"] = argument
    return found


def _members(schema: Any, pointer: str, found: dict[str, Mapping[str, Any]], depth: int) -> None:
    """Collect a schema and every schema inside it, by pointer."""
    if not isinstance(schema, dict) or depth > _DEEPEST:
        return
    if depth:
        found[pointer] = schema
    for keyword, value in schema.items():
        below = f"{pointer}/{keyword}"
        if keyword in _MAPS and isinstance(value, dict):
            for name, child in value.items():
                _members(child, f"{below}/{name.replace('~', '~0').replace('/', '~1')}", found, depth + 1)
        elif keyword in _LISTS and isinstance(value, list):
            for index, child in enumerate(value):
                _members(child, f"{below}/{index}", found, depth + 1)
        elif keyword in _SINGLE:
            _members(value, below, found, depth + 1)


def _subject(pointer: str) -> str:
    """Name the member that a pointer leads to, for the start of a sentence."""
    text = ""
    for before, step in itertools.pairwise(pointer.split("/")):
        if before == "properties":
            name = step.replace("~1", "/").replace("~0", "~")
            text += f".{name}" if text else name
        elif step == "items" and text:
            text += "[]"
    return f"`{text}`: " if text else ""


def _whom(pointer: str) -> dict[str, Any]:
    """Whom a silent change at a place reaches, where that is not the callers of the table's row."""
    return {"reach": ("receivers",)} if pointer.startswith("/outputSchema") else {}


def _string(value: Any) -> str:
    return value if isinstance(value, str) else ""
