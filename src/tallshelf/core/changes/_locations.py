"""The places of an item on both sides: the item, the schemas in it, each beside what it was, and arguments."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.pointer import name_of, step_of
from tallshelf.core.snapshot import Item, canonical
from tallshelf.core.words.split import content_words

_DEEPEST = 24
_MOST_PAIRS = 5_000
_LEAST_LIKE = 0.3
_MAPS = frozenset({"properties", "$defs", "definitions", "patternProperties", "dependentSchemas"})
_ALTERNATIVES = frozenset({"allOf", "anyOf", "oneOf"})
_SINGLE = frozenset(
    {"items", "additionalProperties", "not", "if", "then", "else", "contains", "propertyNames"}
)
Schema = Mapping[str, Any]


class Location(Struct, frozen=True):
    """One place on both sides: an item, a schema in it, or an argument of a prompt."""

    item: Item
    old_pointer: str
    was: Schema
    new_pointer: str
    now: Schema

    @property
    def subject(self) -> str:
        """How a sentence about the place begins."""
        return _subject(self.old_pointer)

    @property
    def in_schema(self) -> bool:
        return self.old_pointer.startswith(("/inputSchema", "/outputSchema"))

    @property
    def reached_if_silent(self) -> dict[str, Any]:
        """Whom a silent change at the place reaches, where that is not the callers of the table's row."""
        return {"reach": ("receivers",)} if self.old_pointer.startswith("/outputSchema") else {}

    def at(self, field: str) -> dict[str, Any]:
        """Return the pointers to a field on either side."""
        return {
            "old_pointer": f"{self.old_pointer}/{field}" if field in self.was else None,
            "new_pointer": f"{self.new_pointer}/{field}" if field in self.now else None,
        }


def locations(old: Item, new: Item) -> Iterator[Location]:
    """Yield the places that both sides have; one that came or went is told by the comparison of schemas."""
    yield Location(old, "", old.body, "", new.body)
    pairing = Pairing()
    for field in ("inputSchema", "outputSchema"):
        pair = old.body.get(field), new.body.get(field)
        for one in _inside(*pair, f"/{field}", f"/{field}", pairing, 0):
            yield Location(old, *one)
    before, after = _arguments(old), _arguments(new)
    for name in before:
        if name in after:
            yield Location(old, *before[name], *after[name])


_Found = tuple[str, Schema, str, Schema]


def _inside(old: Any, new: Any, old_at: str, new_at: str, pairing: Pairing, depth: int) -> Iterator[_Found]:
    """Yield two schemas, and those inside of both that stand for each other."""
    if not isinstance(old, dict) or not isinstance(new, dict) or depth > _DEEPEST:
        return
    yield old_at, old, new_at, new
    for keyword in (one for one in old if one in new):
        was, now = old[keyword], new[keyword]
        both = f"{old_at}/{keyword}", f"{new_at}/{keyword}"
        if keyword in _MAPS and isinstance(was, dict) and isinstance(now, dict):
            for name in (one for one in was if one in now):
                step = step_of(name)
                yield from _inside(
                    was[name], now[name], f"{both[0]}/{step}", f"{both[1]}/{step}", pairing, depth + 1
                )
        elif keyword in _SINGLE and not isinstance(was, list):
            yield from _inside(was, now, *both, pairing, depth + 1)
        elif isinstance(was, list) and isinstance(now, list):
            if keyword in _ALTERNATIVES:
                pairs = pairing.paired(was, now)
            elif keyword in ("prefixItems", "items"):
                pairs = [(index, index) for index in range(min(len(was), len(now)))]
            else:
                continue
            for one, other in pairs:
                yield from _inside(
                    was[one], now[other], f"{both[0]}/{one}", f"{both[1]}/{other}", pairing, depth + 1
                )


class Pairing:
    """Pairs alternatives of one item; how many are held against each other is bounded for all of it."""

    def __init__(self) -> None:
        self._left = _MOST_PAIRS

    def paired(self, old: list[Any], new: list[Any]) -> list[tuple[int, int]]:
        """Return which alternatives stand for each other, by index: the likest first, whatever their order.

        Those that are the same are paired first, and beyond the bound they alone.
        """
        found = _same(old, new)
        taken = {one for one, _ in found}, {other for _, other in found}
        gone = [index for index in range(len(old)) if index not in taken[0]]
        come = [index for index in range(len(new)) if index not in taken[1]]
        self._left -= len(gone) * len(come)
        if self._left < 0:
            return found
        likeness = sorted(
            (-_likeness(old[one], new[other]), abs(one - other), one, other) for one in gone for other in come
        )
        for like, _, one, other in likeness:
            if -like < _LEAST_LIKE:
                break
            if all(one != before and other != after for before, after in found):
                found.append((one, other))
        return sorted(found)


def _same(old: list[Any], new: list[Any]) -> list[tuple[int, int]]:
    places: dict[bytes, list[int]] = {}
    for index in reversed(range(len(new))):
        places.setdefault(canonical(new[index]), []).append(index)
    found = []
    for index, one in enumerate(old):
        there = places.get(canonical(one))
        if there:
            found.append((index, there.pop()))
    return found


def _likeness(old: Any, new: Any) -> float:
    """Return how much two alternatives are of one kind: by tag, then by type, members, values and text."""
    if not isinstance(old, dict) or not isinstance(new, dict):
        return 0.0
    tags = _tags(old), _tags(new)
    if tags[0] and tags[1] and tags[0].keys() & tags[1].keys():
        shared = tags[0].keys() & tags[1].keys()
        return (
            2.0 + _share(*(set(_members(one)) for one in (old, new))) / 2
            if all(tags[0][name] & tags[1][name] for name in shared)
            else 0.0
        )
    if old.get("$ref") != new.get("$ref"):
        return 0.0
    same_type = canonical(old.get("type")) == canonical(new.get("type"))
    if not same_type and "type" in old and "type" in new:
        return 0.0
    parts = [_share(*(set(_members(one)) for one in (old, new)))]
    if "enum" in old or "enum" in new:
        parts.append(_share(*({canonical(value) for value in one.get("enum", [])} for one in (old, new))))
    texts = [set(content_words(f"{one.get('title', '')} {one.get('description', '')}")) for one in (old, new)]
    if any(texts):
        parts.append(_share(*texts))
    return 0.4 * same_type + 0.6 * sum(parts) / len(parts)


def _tags(schema: Schema) -> dict[str, frozenset[bytes]]:
    """Return the members by which an alternative is told, with their values: those that are constant."""
    properties = schema.get("properties")
    found: dict[str, frozenset[bytes]] = {}
    for name, one in properties.items() if isinstance(properties, dict) else ():
        if isinstance(one, dict) and "const" in one:
            found[name] = frozenset({canonical(one["const"])})
        elif isinstance(one, dict) and isinstance(one.get("enum"), list) and len(one["enum"]) == 1:
            found[name] = frozenset(map(canonical, one["enum"]))
    if "const" in schema:
        found[""] = frozenset({canonical(schema["const"])})
    return found


def _members(schema: Schema) -> list[str]:
    properties = schema.get("properties")
    return list(properties) if isinstance(properties, dict) else []


def _share(left: set[Any], right: set[Any]) -> float:
    return len(left & right) / len(left | right) if left | right else 1.0


def _arguments(item: Item) -> dict[str, tuple[str, Schema]]:
    arguments = item.body.get("arguments")
    return {
        str(argument.get("name")): (f"/arguments/{index}", argument)
        for index, argument in enumerate(arguments if isinstance(arguments, list) else [])
        if isinstance(argument, dict)
    }


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
