"""Whether a schema can be used at all, and the validator for one: nothing is fetched, and patterns take linear time.

Left to itself, jsonschema-rs fetches an unknown ``$schema`` or a remote ``$ref`` over HTTP and from files.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

import jsonschema_rs


def refuse(uri: str) -> Any:
    """Stand for the fetching of a document, and never fetch it. Raises `LookupError`."""
    raise LookupError(f"{uri} is not fetched")


NOTHING_FETCHED = jsonschema_rs.Registry([("urn:tallshelf:nothing", {})], retriever=refuse)
"""The registry for checks against a meta-schema: the published dialects, and nothing fetched."""


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
