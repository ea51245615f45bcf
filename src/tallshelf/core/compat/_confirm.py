"""The independent validator that every witness must convince."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.compat._dialect import dialect_of, pruned
from tallshelf.core.compat._regular import is_read, matches
from tallshelf.core.compat._sizes import Scale
from tallshelf.core.compat.result import Side, Witness
from tallshelf.core.usable import Unusable, validator

Decides = Callable[[Any], bool | None]


def deciding(schema: Any) -> Decides:
    """Return what says whether a schema accepts an instance; None where it cannot be said.

    A pattern that the validator's engine does not read (look-around) is put, for each instance, as the
    list of the instance's own strings that it is found in. One that nobody here reads is tried both ways,
    found in every string and in none: where the two differ it cannot be said. Raises `Unusable` with the reason.
    """
    schema = _of_its_dialect(schema)
    try:
        valid: Decides = validator(schema).is_valid
        return valid
    except Unusable:
        hard = {pattern for pattern in _patterns(schema) if not is_read(pattern)}
        unknown = {pattern for pattern in hard if matches(pattern, "") is None}
        if not hard or (unknown and _turns_around(schema)):
            raise
    validator(_without(schema, dict.fromkeys(hard, _NONE)))  # whatever else is wrong with it is said now

    turns = _turns_around(schema)

    def decided(instance: Any) -> bool | None:
        strings = set(_strings(instance))
        found = {pattern: {string: matches(pattern, string) for string in strings} for pattern in hard}
        unsure = [pattern for pattern, answers in found.items() if None in answers.values()]
        if unsure and turns:
            return None
        put = {
            pattern: _listed(one for one, held in answers.items() if held)
            for pattern, answers in found.items()
        }
        ways = (_ALL, _NONE) if unsure else (_NONE,)
        said = {
            bool(validator(_without(schema, put | dict.fromkeys(unsure, way))).is_valid(instance))
            for way in ways
        }
        return said.pop() if len(said) == 1 else None

    return decided


def _of_its_dialect(schema: Any) -> Any:
    """Return a schema without ``dependencies`` where its dialect has none, and the validator acts on it."""
    dialect = dialect_of(schema)
    if dialect is None or "dependencies" in dialect.keywords:
        return schema
    return pruned(schema, lambda keyword: keyword != "dependencies")


def _patterns(schema: Any) -> Iterator[str]:
    if isinstance(schema, dict):
        if isinstance(schema.get("pattern"), str):
            yield schema["pattern"]
        if isinstance(schema.get("patternProperties"), dict):
            yield from schema["patternProperties"]
        for child in schema.values():
            yield from _patterns(child)
    elif isinstance(schema, list):
        for child in schema:
            yield from _patterns(child)


def _turns_around(schema: Any) -> bool:
    """Whether more strings in a pattern may mean fewer instances: then both ways do not stand for all."""
    if isinstance(schema, list):
        return any(map(_turns_around, schema))
    if not isinstance(schema, dict):
        return False
    turning = {"not", "oneOf", "if", "maxContains", "patternProperties"}
    return not turning.isdisjoint(schema) or any(map(_turns_around, schema.values()))


def _without(schema: Any, put: Mapping[str, str]) -> Any:
    """Return a schema with some patterns put as others."""
    if isinstance(schema, list):
        return [_without(child, put) for child in schema]
    if not isinstance(schema, dict):
        return schema
    found = {name: _without(child, put) for name, child in schema.items()}
    pattern = schema.get("pattern")
    if isinstance(pattern, str):
        found["pattern"] = put.get(pattern, pattern)
    by_pattern = schema.get("patternProperties")
    if isinstance(by_pattern, dict):
        found["patternProperties"] = {
            one: _without(child, put) for one, child in by_pattern.items() if one not in put
        }
        for one, child in by_pattern.items():
            if one in put:  # two may be put as the same pattern: both hold
                same = found["patternProperties"].get(put[one], True)
                found["patternProperties"][put[one]] = {"allOf": [same, _without(child, put)]}
    return found


def _listed(strings: Iterable[str]) -> str:
    """Return a pattern for some strings and no others."""
    choices = ["".join(_escaped(char) for char in string) for string in sorted(strings)]
    return f"^(?:{'|'.join(choices)})$" if choices else _NONE


def _escaped(char: str) -> str:
    return char if char.isalnum() or ord(char) > 0xFFFF else f"\\u{ord(char):04x}"


_ALL, _NONE = "", "[^\\s\\S]"


def _strings(instance: Any) -> Iterator[str]:
    if isinstance(instance, str):
        yield instance
    elif isinstance(instance, dict):
        yield from instance
        for child in instance.values():
            yield from _strings(child)
    elif isinstance(instance, list):
        for child in instance:
            yield from _strings(child)


class Proof(Struct, frozen=True):
    """That a counterexample was confirmed: the witness; or None where it is too large to be written down."""

    witness: Witness | None


class Judge:
    """Confirms instances against both schemas.

    Where those were scaled, an instance is of the copies: it shows by counting what they are of, and is a
    witness where it is one for the schemas themselves.
    """

    def __init__(self, old: Any, new: Any, scale: Scale) -> None:
        """Raise `Unusable` where one of the schemas cannot be used."""
        self._sides: dict[Side, Any] = {"old": old, "new": new}
        self._scale = scale
        self._decides: dict[tuple[Side, bool], Decides] = {}
        for side in self._sides:
            try:
                self._deciding(side, as_is=True)
            except Unusable as fault:
                raise Unusable(f"the {side} schema cannot be compared: {fault}") from None

    def confirm(self, candidates: Iterable[Any], accepted_by: Side) -> Proof | None:
        """Return the proof by the first candidate that one side accepts and the other refuses, or None."""
        refused_by: Side = "new" if accepted_by == "old" else "old"
        for instance in candidates:
            if self._differ(instance, accepted_by, refused_by, as_is=True):
                return Proof(Witness(instance, accepted_by, refused_by))
            if self._scale.is_needed and self._differ(instance, accepted_by, refused_by, as_is=False):
                return Proof(None)
        return None

    def confirm_ignored(self, instance: Any, way: str) -> Witness | None:
        """Return the instance where both accept it, as the witness that what stands at a pointer is ignored."""
        if all(self._deciding(side, as_is=True)(instance) is True for side in self._sides):
            return Witness(instance, "both", None, (way,))
        return None

    def _differ(self, instance: Any, accepted_by: Side, refused_by: Side, *, as_is: bool) -> bool:
        accepted = self._deciding(accepted_by, as_is=as_is)(instance) is True
        return accepted and self._deciding(refused_by, as_is=as_is)(instance) is False

    def _deciding(self, side: Side, *, as_is: bool) -> Decides:
        key = side, as_is
        if key not in self._decides:
            schema = self._sides[side]
            self._decides[key] = deciding(schema if as_is else self._scale.copy(schema))
        return self._decides[key]
