"""Changes of texts, defaults and formats: what no schema check would notice."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.changes._content import ENCODINGS, encoding_change, nullable_change
from tallshelf.core.changes._locations import Location, locations
from tallshelf.core.changes._make import make
from tallshelf.core.changes._written import explanations_follow, is_written_down
from tallshelf.core.changes.result import Change
from tallshelf.core.compat import KEYWORDS
from tallshelf.core.snapshot import Item, canonical, json_equal
from tallshelf.core.words.terms import HouseTerms

# What constrains is judged by containment; the others have kinds of their own.
_TOLD_ELSEWHERE = KEYWORDS | {"description", "title", "default", "format", "examples", "example"}


def compare_texts(old: Item, new: Item, terms: HouseTerms) -> Iterator[Change]:
    """Yield the changes of titles, descriptions, defaults, examples and other notes of an item."""
    for location in locations(old, new):
        yield from _texts(location, terms)
        for field in ("default", "format", "examples", "example"):
            yield from _value(location, field)
        if location.in_schema:
            yield from _notes(location)


def _texts(location: Location, terms: HouseTerms) -> Iterator[Change]:
    for field in ("description", "title"):
        was, now = _string(location.was.get(field)), _string(location.now.get(field))
        if was != now:
            # Here, since reading words takes long to load and most comparisons change no text.
            from tallshelf.core.changes._described import text_change

            yield text_change(location, field, was, now, terms)


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
            fields = location.reached_if_silent
        elif keyword in ENCODINGS:
            yield encoding_change(
                location.item.identity,
                location.subject,
                keyword,
                was,
                now,
                **location.at(keyword),
                **location.reached_if_silent,
            )
            continue
        elif keyword == "nullable":
            result = location.old_pointer.startswith("/outputSchema")
            where = {**location.at(keyword), **location.reached_if_silent}
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
            fields = location.reached_if_silent
        yield make(kind, location.item.identity, message, **location.at(keyword), **fields)


def _is_explanation(value: Any) -> bool:
    """Whether a note is a list or a map of texts, as explanations of an enum's values are."""
    texts = value.values() if isinstance(value, dict) else value
    return isinstance(value, dict | list) and bool(value) and all(isinstance(text, str) for text in texts)


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
            **location.reached_if_silent,
        )
        return
    yield make(kind, location.item.identity, message, **location.at(field), **location.reached_if_silent)


def _string(value: Any) -> str:
    return value if isinstance(value, str) else ""
