"""Changes of texts, defaults and formats: what no schema check would notice."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tallshelf.core.changes._make import make
from tallshelf.core.changes.result import Change
from tallshelf.core.compat import KEYWORDS
from tallshelf.core.pointer import name_of
from tallshelf.core.snapshot import Item, canonical, json_equal
from tallshelf.core.words import Meaning, moved_unit, text_difference

_DEEPEST = 24
_MAPS = frozenset({"properties", "$defs", "definitions", "patternProperties", "dependentSchemas"})
_LISTS = frozenset({"allOf", "anyOf", "oneOf", "prefixItems"})
_SINGLE = frozenset(
    {"items", "additionalProperties", "not", "if", "then", "else", "contains", "propertyNames"}
)
# What constrains is judged by containment; the others have kinds of their own.
_TOLD_ELSEWHERE = KEYWORDS | {"description", "title", "default", "format", "examples", "example"}
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


def compare_texts(old: Item, new: Item) -> Iterator[Change]:
    """Yield the changes of titles, descriptions, defaults, examples and other notes of an item."""
    before, after = _annotated(old), _annotated(new)
    for key in before:
        if key not in after:
            continue  # A member that came or went is told by the comparison of schemas.
        spot = _Spot(old, *before[key], *after[key])
        yield from _texts(spot)
        for field in ("default", "format", "examples", "example"):
            yield from _value(spot, field)
        if spot.in_schema:
            yield from _notes(spot)


@dataclass(frozen=True)
class _Spot:
    """One place on both sides: an item, a schema in it, or an argument of a prompt."""

    item: Item
    old_pointer: str
    was: Mapping[str, Any]
    new_pointer: str
    now: Mapping[str, Any]

    @property
    def subject(self) -> str:
        return _subject(self.old_pointer)

    @property
    def in_schema(self) -> bool:
        return self.old_pointer.startswith(("/inputSchema", "/outputSchema"))

    def at(self, field: str) -> dict[str, Any]:
        """Return the pointers to a field on either side."""
        return {
            "old_pointer": f"{self.old_pointer}/{field}" if field in self.was else None,
            "new_pointer": f"{self.new_pointer}/{field}" if field in self.now else None,
        }


def _texts(spot: _Spot) -> Iterator[Change]:
    for field, kind in (("description", "description-changed"), ("title", "title-changed")):
        old, new = _string(spot.was.get(field)), _string(spot.now.get(field))
        if old == new:
            continue
        if field == "title":
            yield make(kind, spot.item.identity, _told(spot.subject, field, old, new), **spot.at(field))
        elif not old:
            message = f"{spot.subject}a description is added"
            yield make("description-added", spot.item.identity, message, **spot.at(field), notice=1.0)
        else:
            yield _described(spot, old, new)


def _described(spot: _Spot, old: str, new: str) -> Change:
    """Tell the change of a description by how far its meaning moved.

    A limit whose numbers are those of the schema on both sides only follows it.
    """
    found, unit = text_difference(old, new), moved_unit(old, new)
    fields: dict[str, Any] = {**spot.at("description"), "notice": found.notice}
    if unit:
        message = f"{spot.subject}{unit[0]} became {unit[1]}"
        return make("unit-moved", spot.item.identity, message, **fields, **_whom(spot.old_pointer))
    follows = _numbers(old) <= _limits(spot.was) and _numbers(new) <= _limits(spot.now)
    kind = _BY_MEANING["worded" if found.meaning == "limit" and follows else found.meaning]
    if found.meaning == "same":
        fields |= {"impact": "compatible", "folded": True}
    elif kind in ("limit-moved", "meaning-moved"):
        fields |= _whom(spot.old_pointer)
    return make(kind, spot.item.identity, _told(spot.subject, "description", old, new), **fields)


def _notes(spot: _Spot) -> Iterator[Change]:
    """Tell of the keywords of a schema that constrain nothing and are no texts of their own."""
    for keyword in sorted({*spot.was, *spot.now} - _TOLD_ELSEWHERE):
        was, now = spot.was.get(keyword), spot.now.get(keyword)
        if json_equal(was, now):
            continue
        kind, message = "metadata-changed", f"{spot.subject}the keyword {keyword} changed"
        fields: dict[str, Any] = {}
        if keyword == "x-mcp-header":
            kind = "header-mirrored"
            message = (
                f"{spot.subject}the header it is mirrored in was {was or 'none'} and is now {now or 'none'}"
            )
        elif keyword == "deprecated" and now is True:
            kind, message = "deprecation-marked", f"{spot.subject}it is marked as deprecated"
            fields = _whom(spot.old_pointer)
        elif _is_explanation(was) or _is_explanation(now):
            kind, message = "explanation-changed", f"{spot.subject}what {keyword} says of its values changed"
            fields = _whom(spot.old_pointer)
        yield make(kind, spot.item.identity, message, **spot.at(keyword), **fields)


def _is_explanation(value: Any) -> bool:
    """Whether a note is a list or a map of texts, as explanations of an enum's values are."""
    texts = value.values() if isinstance(value, dict) else value
    return isinstance(value, dict | list) and bool(value) and all(isinstance(one, str) for one in texts)


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


def _value(spot: _Spot, field: str) -> Iterator[Change]:
    old_has, new_has = field in spot.was, field in spot.now
    if old_has == new_has and json_equal(spot.was.get(field), spot.now.get(field)):
        return
    words = [canonical(side[field]).decode() if field in side else "none" for side in (spot.was, spot.now)]
    message = f"{spot.subject}the {field} was {words[0]} and is now {words[1]}"
    kind = f"{field.removesuffix('s')}-changed"
    yield make(kind, spot.item.identity, message, **spot.at(field), **_whom(spot.old_pointer))


def _annotated(item: Item) -> dict[str, tuple[str, Mapping[str, Any]]]:
    """Return the item, the schemas inside it and its arguments: pointer and body, by what names them."""
    found: dict[str, Mapping[str, Any]] = {"": item.body}
    for field in ("inputSchema", "outputSchema"):
        _members(item.body.get(field), f"/{field}", found, 0)
    spots = {pointer: (pointer, body) for pointer, body in found.items()}
    arguments = item.body.get("arguments")
    for index, argument in enumerate(arguments if isinstance(arguments, list) else []):
        if isinstance(argument, dict):
            spots[f"argument {argument.get('name')}"] = (f"/arguments/{index}", argument)
    return spots


def _members(schema: Any, pointer: str, found: dict[str, Mapping[str, Any]], depth: int) -> None:
    """Collect a schema and every schema inside it, by pointer."""
    if not isinstance(schema, dict) or depth > _DEEPEST:
        return
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
            name = name_of(step)
            text += f".{name}" if text else name
        elif step == "items" and text:
            text += "[]"
    return f"`{text}`: " if text else ""


def _whom(pointer: str) -> dict[str, Any]:
    """Whom a silent change at a place reaches, where that is not the callers of the table's row."""
    return {"reach": ("receivers",)} if pointer.startswith("/outputSchema") else {}


def _string(value: Any) -> str:
    return value if isinstance(value, str) else ""
