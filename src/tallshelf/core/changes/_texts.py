"""Changes of texts, defaults and formats: what no schema check would notice."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Item, canonical, json_equal
from tallshelf.core.words import Meaning, moved_unit, text_difference

Make = Callable[..., Change]

_DEEPEST = 24
_MAPS = frozenset({"properties", "$defs", "definitions", "patternProperties", "dependentSchemas"})
_LISTS = frozenset({"allOf", "anyOf", "oneOf", "prefixItems"})
_SINGLE = frozenset(
    {"items", "additionalProperties", "not", "if", "then", "else", "contains", "propertyNames"}
)
_LONGEST_QUOTE = 110
_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_BY_MEANING: dict[Meaning, str] = {
    "same": "description-changed",
    "worded": "description-reworded",
    "unit": "unit-moved",
    "limit": "limit-moved",
    "scope": "meaning-moved",
    "effect": "meaning-moved",
    "other": "description-changed",
}


def compare_texts(old: Item, new: Item, make: Make) -> Iterator[Change]:
    """Yield the changes of titles, descriptions, defaults, examples and formats of an item."""
    before, after = _annotated(old), _annotated(new)
    for pointer in [*before, *(pointer for pointer in after if pointer not in before)]:
        was, now = before.get(pointer), after.get(pointer)
        if was is None or now is None:
            continue  # A member that came or went is told by the comparison of schemas.
        where = {"old_pointer": pointer or None, "new_pointer": pointer or None}
        yield from _text(old, pointer, was, now, make)
        yield from _value(old, "default", was, now, make, where)
        yield from _value(old, "format", was, now, make, where)
        for field in ("examples", "example"):
            yield from _value(old, field, was, now, make, where)


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
        subject = _subject(pointer)
        if field == "title":
            yield make(kind, item.identity, _told(subject, field, old_text, new_text), **where)
        elif not old_text:
            yield make("description-added", item.identity, f"{subject}a description is added", **where)
        else:
            follows = _numbers(old_text) <= _limits(was) and _numbers(new_text) <= _limits(now)
            yield _described(item, pointer, old_text, new_text, make, where, follows=follows)


def _described(
    item: Item, pointer: str, old: str, new: str, make: Make, where: dict[str, Any], *, follows: bool
) -> Change:
    """Tell the change of a description by how far its meaning moved.

    A limit whose numbers are those of the schema on both sides only ``follows`` it.
    """
    subject, found = _subject(pointer), text_difference(old, new)
    unit = moved_unit(old, new)
    if unit:
        message = f"{subject}{unit[0]} became {unit[1]}"
        return make("unit-moved", item.identity, message, **where, **_whom(pointer))
    kind = _BY_MEANING["worded" if found.meaning == "limit" and follows else found.meaning]
    if found.meaning == "same":
        where = {**where, "impact": "compatible", "folded": True}
    elif kind in ("limit-moved", "meaning-moved"):
        where = {**where, **_whom(pointer)}
    return make(kind, item.identity, _told(subject, "description", old, new), **where)


def _numbers(text: str) -> set[str]:
    return set(_NUMBER.findall(text))


def _limits(schema: Mapping[str, Any]) -> set[str]:
    """Return the numbers that a schema itself says, as a text would write them."""
    return {
        f"{value:g}" if isinstance(value, float) else str(value)
        for value in schema.values()
        if isinstance(value, int | float) and not isinstance(value, bool)
    }


def told_words(old: str, new: str) -> str:
    """Say which words of a text went and which came, at most a line of each."""
    found = text_difference(old, new)
    removed, added = clipped(found.removed), clipped(found.added)
    if not removed:
        return f"“{added}” was added"
    return f"“{removed}” became “{added}”" if added else f"“{removed}” was taken out"


def clipped(text: str) -> str:
    """Cut a text to a line, visibly."""
    return text if len(text) <= _LONGEST_QUOTE else text[: _LONGEST_QUOTE - 1] + "…"


def _told(subject: str, field: str, old: str, new: str) -> str:
    if not new or not old:
        return f"{subject}the {field} is {'gone' if old else 'added'}"
    return f"{subject}the {field} changed: {told_words(old, new)}"


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
        f"{field.removesuffix('s')}-changed",
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
