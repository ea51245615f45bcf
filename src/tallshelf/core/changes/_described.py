"""Changes of descriptions and titles: how far the meaning moved, and which words say so.

Apart from the other notes, since reading words takes long to load and most comparisons change no text.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from tallshelf.core.changes._locations import Location
from tallshelf.core.changes._make import make
from tallshelf.core.changes._said import only_says_the_schema
from tallshelf.core.changes.result import Change
from tallshelf.core.pointer import name_of
from tallshelf.core.words.amounts import amounts
from tallshelf.core.words.changed import lost_unit, moved_unit
from tallshelf.core.words.difference import Meaning, text_difference
from tallshelf.core.words.reading import tokens_of
from tallshelf.core.words.split import split_identifier
from tallshelf.core.words.terms import HouseTerms

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


def text_change(location: Location, field: str, old: str, new: str, terms: HouseTerms) -> Change:
    """Tell what became of a description or a title that is not the same on both sides, by the terms of a house."""
    if field == "title":
        told = _told(location.subject, field, old, new)
        return make("title-changed", location.item.identity, told, **location.at(field))
    if not old:
        message = f"{location.subject}a description is added"
        return make("description-added", location.item.identity, message, **location.at(field), notice=1.0)
    return _described(location, old, new, terms)


def _described(location: Location, old: str, new: str, terms: HouseTerms) -> Change:
    """Tell the change of a description by how far its meaning moved.

    A limit whose numbers are those of the schema on both sides only follows it.
    """
    difference = text_difference(old, new, terms)
    written = terms.written(old), terms.written(new)
    unit = moved_unit(*written) if difference.meaning == "unit" else None
    fields: dict[str, Any] = {**location.at("description"), "notice": difference.notice}
    if unit:
        message = f"{location.subject}{unit[0]} became {unit[1]}"
        return make("unit-moved", location.item.identity, message, **fields, **location.reached_if_silent)
    follows = _only_follows(difference.meaning, *written, location)
    lost = lost_unit(*written) if difference.meaning == "unit" and not follows else None
    if lost and not _is_named(lost, location.new_pointer):
        message = f"{location.subject}the unit is no longer told: {lost}"
        return make("unit-moved", location.item.identity, message, **fields, **location.reached_if_silent)
    kind = _BY_MEANING["worded" if follows else "other" if lost else difference.meaning]
    if difference.meaning == "same":
        fields |= {"impact": "compatible", "folded": True}
    elif kind in ("limit-moved", "meaning-moved"):
        fields |= location.reached_if_silent
    return make(kind, location.item.identity, _told(location.subject, "description", old, new), **fields)


def _only_follows(meaning: Meaning, old: str, new: str, location: Location) -> bool:
    """Whether a text moved as its schema says, on both sides: its numbers, or what it says in place of the schema."""
    before, after = _numbers(old), _numbers(new)
    limits = _limits(location.was), _limits(location.now)
    if meaning == "limit" and before and after and before <= limits[0] and after <= limits[1]:
        return True
    return only_says_the_schema(old, new, location.was, location.now)


def _is_named(unit: str, pointer: str) -> bool:
    """Whether the name of what a text describes says the unit, as in length_m."""
    words = split_identifier(name_of(pointer.rpartition("/")[2]))
    return bool(words) and tokens_of(f"1 {words[-1]}") == tokens_of(f"1 {unit}")


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
    removed, added = _clipped(difference.removed), _clipped(difference.added)
    if not removed:
        return f"“{added}” was added"
    return f"“{removed}” became “{added}”" if added else f"“{removed}” was taken out"


def _clipped(text: str) -> str:
    """Cut a text to a line, visibly."""
    return text if len(text) <= _LONGEST_QUOTE else text[: _LONGEST_QUOTE - 1] + "…"


def _told(subject: str, field: str, old: str, new: str) -> str:
    if not new or not old:
        return f"{subject}the {field} is {'gone' if old else 'added'}"
    return f"{subject}the {field} changed: {told_words(old, new)}"
