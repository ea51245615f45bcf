"""Whether a schema refuses a value, by the validator that confirms witnesses."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tallshelf.core.usable import Unusable, validator


def refuses(schema: Mapping[str, Any], value: Any) -> bool:
    """Whether a schema surely refuses a value; one that no validator can use refuses nothing."""
    if "$ref" in schema:
        return False
    try:
        return not validator(dict(schema)).is_valid(value)
    except Unusable:
        return False
