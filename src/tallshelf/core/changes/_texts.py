"""Changes of texts, defaults and formats: what no schema check would notice."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.changes._content import ENCODINGS, encoding_change, nullable_change
from tallshelf.core.changes._locations import Location, locations
from tallshelf.core.changes._make import make
from tallshelf.core.changes._said import only_says_the_schema
from tallshelf.core.changes._written import explanations_follow, is_written_down
from tallshelf.core.changes.result import Change
from tallshelf.core.compat import KEYWORDS
from tallshelf.core.snapshot import Item, canonical, json_equal
from tallshelf.core.words import Meaning, moved_unit, text_difference
from tallshelf.core.words.amounts import amounts

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
    for location in locations(old, new):
        yield from _texts(location)
        for field in ("default", "format", "examples", "example"):
            yield from _value(location, field)
        if location.in_schema:
            yield from _notes(location)


def _texts(location: Location) -> Iterator[Change]:
    for field, kind in (("description", "description-changed"), ("title", "title-changed")):
        old, new = _string(location.was.get(field)), _string(location.now.get(field))
        if old == new:
            continue
        if field == "title":
            yield make(
                kind, location.item.identity, _told(location.subject, field, old, new), **location.at(field)
            )
        elif not old:
            message = f"{location.subject}a description is added"
            yield make("description-added", location.item.identity, message, **location.at(field), notice=1.0)
        else:
            yield _described(location, old, new)


def _described(location: Location, old: str, new: str) -> Change:
    """Tell the change of a description by how far its meaning moved.

    A limit whose numbers are those of the schema on both sides only follows it.
    """
    difference = text_difference(old, new)
    unit = moved_unit(old, new) if difference.meaning == "unit" else None
    fields: dict[str, Any] = {**location.at("description"), "notice": difference.notice}
    if unit:
        message = f"{location.subject}{unit[0]} became {unit[1]}"
        return make("unit-moved", location.item.identity, message, **fields, **_whom(location.old_pointer))
    before, after = _numbers(old), _numbers(new)
    follows = difference.meaning == "limit" and bool(before and after)
    follows = follows and before <= _limits(location.was) and after <= _limits(location.now)
    follows = follows or only_says_the_schema(old, new, location.was, location.now)
    kind = _BY_MEANING["worded" if follows else difference.meaning]
    if difference.meaning == "same":
        fields |= {"impact": "compatible", "folded": True}
    elif kind in ("limit-moved", "meaning-moved"):
        fields |= _whom(location.old_pointer)
    return make(kind, location.item.identity, _told(location.subject, "description", old, new), **fields)


def _notes(location: Location) -> Iterator[Change]:
    """Tell of the keywords of a schema that constrain nothing and are no texts of their own."""
    for keyword in sorted({*location.was, *location.now} - _TOLD_ELSEWHERE):
        was, now = location.was.get(keyword), location.now.get(keyword)
        if json_equal(was, now):
            continue
        kind, message = "metadata-changed", f"{location.subject}the keyword {keyword} changed"
        fields: dict[str, Any] = {}
        if keyword == "x-mcp-header":
            kind = "header-mirrored"
            message = f"{location.subject}the header it is mirrored in was {was or 'none'} and is now {now or 'none'}"
        elif keyword == "deprecated" and now is True:
            kind, message = "deprecation-marked", f"{location.subject}it is marked as deprecated"
            fields = _whom(location.old_pointer)
        elif keyword in ENCODINGS:
            yield encoding_change(
                location.item.identity,
                location.subject,
                keyword,
                was,
                now,
                **location.at(keyword),
                **_whom(location.old_pointer),
            )
            continue
        elif keyword == "nullable":
            result = location.old_pointer.startswith("/outputSchema")
            where = {**location.at(keyword), **_whom(location.old_pointer)}
            change = nullable_change(
                location.item.identity, location.subject, location.was, location.now, result=result, **where
            )
            if change is not None:
                yield change
            continue
        elif (_is_explanation(was) or _is_explanation(now)) and not explanations_follow(
            keyword, location.was, location.now
        ):
            kind, message = (
                "explanation-changed",
                f"{location.subject}what {keyword} says of its values changed",
            )
            fields = _whom(location.old_pointer)
        yield make(kind, location.item.identity, message, **location.at(keyword), **fields)


def _is_explanation(value: Any) -> bool:
    """Whether a note is a list or a map of texts, as explanations of an enum's values are."""
    texts = value.values() if isinstance(value, dict) else value
    return isinstance(value, dict | list) and bool(value) and all(isinstance(text, str) for text in texts)


def _numbers(text: str) -> set[str]:
    """Return the numbers of a text, in digits or in words."""
    return {*_NUMBER.findall(text), *(f"{amount.value:g}" for amount in amounts(text))}


def _limits(schema: Mapping[str, Any]) -> set[str]:
    """Return the numbers that a schema itself says, as a text would write them."""
    return {
        f"{value:g}" if isinstance(value, float) else str(value)
        for value in schema.values()
        if isinstance(value, int | float) and not isinstance(value, bool)
    }


def told_words(old: str, new: str) -> str:
    """Say which words of a text went and which came, at most a line of each."""
    difference = text_difference(old, new)
    removed, added = clipped(difference.removed), clipped(difference.added)
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


def _value(location: Location, field: str) -> Iterator[Change]:
    old_has, new_has = field in location.was, field in location.now
    if old_has == new_has and json_equal(location.was.get(field), location.now.get(field)):
        return
    words = [
        canonical(side[field]).decode() if field in side else "none" for side in (location.was, location.now)
    ]
    message = f"{location.subject}the {field} was {words[0]} and is now {words[1]}"
    kind = f"{field.removesuffix('s')}-changed"
    if is_written_down(field, location.was, location.now):
        yield make(
            "written-down",
            location.item.identity,
            message,
            **location.at(field),
            **_whom(location.old_pointer),
        )
        return
    yield make(kind, location.item.identity, message, **location.at(field), **_whom(location.old_pointer))


def _whom(pointer: str) -> dict[str, Any]:
    """Whom a silent change at a place reaches, where that is not the callers of the table's row."""
    return {"reach": ("receivers",)} if pointer.startswith("/outputSchema") else {}


def _string(value: Any) -> str:
    return value if isinstance(value, str) else ""
