"""The independent validator that every witness must convince."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from typing import Any

import jsonschema_rs

from tallshelf.core.compat._dialect import dialect_of, pruned
from tallshelf.core.compat._offline import NOTHING_FETCHED, refuse
from tallshelf.core.compat._regular import is_read, matches
from tallshelf.core.compat.result import Side, Witness


class Unusable(Exception):
    """A schema that the validator cannot use, with the reason."""


def validator(schema: Any) -> Any:
    """Build a validator by the dialect that a schema declares (default 2020-12).

    Strangers' patterns run in a linear-time engine, nothing is fetched, formats do not
    validate. Raises `Unusable` with the reason.
    """
    _check_form(schema)
    try:
        return jsonschema_rs.validator_for(
            schema,
            validate_formats=False,
            retriever=refuse,
            pattern_options=jsonschema_rs.RegexOptions(),
        )
    except (jsonschema_rs.ValidationError, ValueError, jsonschema_rs.ReferencingError) as fault:
        raise Unusable(f"it cannot be used: {_first_line(fault)}") from None


# Where none of these is a member, a schema that its meta-schema accepts can be used.
_CAN_FAIL = frozenset(
    {
        "$schema",
        "$ref",
        "$dynamicRef",
        "$recursiveRef",
        "$id",
        "id",
        "$anchor",
        "$dynamicAnchor",
        "$recursiveAnchor",
    }
    | {"pattern", "patternProperties"}
)


def check_usable(schema: Any, members: Collection[str]) -> None:
    """Raise `Unusable` where `validator` would; ``members`` are the names of all members in the schema.

    A validator is built only where one of them can make that fail: building takes most of the time.
    """
    if _CAN_FAIL.isdisjoint(members):
        _check_form(schema)
    else:
        validator(schema)


def _check_form(schema: Any) -> None:
    """Check a schema against its meta-schema."""
    try:
        jsonschema_rs.meta.validate(schema, registry=NOTHING_FETCHED)
    except jsonschema_rs.ReferencingError:
        raise Unusable(f"its dialect is not known here: {_first_line(schema.get('$schema'))}") from None
    except (jsonschema_rs.ValidationError, ValueError) as fault:
        raise Unusable(f"it is not a valid JSON Schema: {_first_line(fault)}") from None


def _first_line(fault: object) -> str:
    return str(fault).partition("\n")[0][:200]


Accepts = Callable[[Any], bool]


def acceptance(schema: Any) -> Accepts:
    """Return what says whether a schema accepts an instance.

    A pattern that the validator's engine does not read (look-around) is put, for each
    instance, as the list of the instance's own strings that it is found in.
    Raises `Unusable` with the reason.
    """
    schema = _of_its_dialect(schema)
    try:
        found: Accepts = validator(schema).is_valid
        return found
    except Unusable:
        hard = {pattern for pattern in _patterns(schema) if not is_read(pattern)}
        if not hard or any(matches(pattern, "") is None for pattern in hard):
            raise
        validator(_without(schema, hard, []))  # whatever else is wrong with it is said now
        return lambda instance: bool(
            validator(_without(schema, hard, list(_strings(instance)))).is_valid(instance)
        )


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
        for child in schema.values():
            yield from _patterns(child)
    elif isinstance(schema, list):
        for child in schema:
            yield from _patterns(child)


def _without(schema: Any, hard: set[str], strings: list[str]) -> Any:
    """Return a schema with the patterns that are not read put as lists of strings."""
    if isinstance(schema, list):
        return [_without(child, hard, strings) for child in schema]
    if not isinstance(schema, dict):
        return schema
    found = {name: _without(child, hard, strings) for name, child in schema.items()}
    pattern = schema.get("pattern")
    if isinstance(pattern, str) and pattern in hard:
        del found["pattern"]
        listed = [one for one in strings if matches(pattern, one)]
        allowed = {"anyOf": [{"not": {"type": "string"}}, {"enum": listed} if listed else False]}
        found["allOf"] = [*found.get("allOf", []), allowed]
    return found


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


class Judge:
    """Confirms that an instance is accepted by one schema and refused by the other."""

    def __init__(self, old: Accepts, new: Accepts) -> None:
        self._accepts: dict[Side, Accepts] = {"old": old, "new": new}

    def confirm(self, candidates: Iterable[Any], accepted_by: Side) -> Witness | None:
        """Return the first candidate that proves the gap, or None."""
        refused_by: Side = "new" if accepted_by == "old" else "old"
        for instance in candidates:
            if self._accepts[accepted_by](instance) and not self._accepts[refused_by](instance):
                return Witness(instance, accepted_by, refused_by)
        return None
