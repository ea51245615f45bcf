"""The independent validator that every witness must convince."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import jsonschema_rs

from tallshelf.core.compat.result import Side, Witness


class Unusable(Exception):
    """A schema that the validator cannot use, with the reason."""


def _refuse(uri: str) -> Any:
    raise LookupError(f"{uri} is not fetched")


def validator(schema: Any) -> Any:
    """Build a validator by the dialect that a schema declares (default 2020-12).

    Strangers' patterns run in a linear-time engine, nothing is fetched, formats do not
    validate. Raises `Unusable` with the reason.
    """
    try:
        jsonschema_rs.meta.validate(schema)
    except (jsonschema_rs.ValidationError, ValueError) as fault:
        raise Unusable(f"it is not a valid JSON Schema: {_first_line(fault)}") from None
    try:
        return jsonschema_rs.validator_for(
            schema,
            validate_formats=False,
            retriever=_refuse,
            pattern_options=jsonschema_rs.RegexOptions(),
        )
    except (jsonschema_rs.ValidationError, ValueError, jsonschema_rs.ReferencingError) as fault:
        raise Unusable(f"it cannot be used: {_first_line(fault)}") from None


def _first_line(fault: Exception) -> str:
    return str(fault).partition("\n")[0][:200]


class Judge:
    """Confirms that an instance is accepted by one schema and refused by the other."""

    def __init__(self, old: Any, new: Any) -> None:
        self._validators: dict[Side, Any] = {"old": old, "new": new}

    def confirm(self, candidates: Iterable[Any], accepted_by: Side) -> Witness | None:
        """Return the first candidate that proves the gap, or None."""
        refused_by: Side = "new" if accepted_by == "old" else "old"
        for instance in candidates:
            if self._validators[accepted_by].is_valid(instance) and not self._validators[refused_by].is_valid(
                instance
            ):
                return Witness(instance, accepted_by, refused_by)
        return None
