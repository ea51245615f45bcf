"""Written down is not moved: what a schema says now, and its text said before."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from tallshelf.core.snapshot import json_equal

_DEFAULT = re.compile(
    r"\b(defaults?|defaulting|otherwise|omitted|unless|left out|not given|not set)\b", re.IGNORECASE
)
_FORMATS = {
    "date": r"yyyy-mm-dd|\biso[ -]?8601\b|\bdate\b",
    "date-time": r"\biso[ -]?8601\b|\brfc[ -]?3339\b|\btimestamp\b|hh:mm",
    "time": r"\bhh:mm\b|\btime\b",
    "email": r"\be-?mail\b",
    "uri": r"\bur[li]s?\b|https?://",
    "uuid": r"\buuid\b",
    "ipv4": r"\bipv4\b|\bip address\b",
    "ipv6": r"\bipv6\b|\bip address\b",
    "hostname": r"\bhost ?name\b",
}
_WORD = re.compile(r"[\w.:/+-]*\w")


def is_written_down(field: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    """Whether a default, format or example came or went, and callers were told the same before and after."""
    if field in ("examples", "example"):
        return field not in was or (field in now and _more_examples(was[field], now[field]))
    if (field in was) == (field in now):
        return False
    value = was[field] if field in was else now[field]
    text = str((now if field in was else was).get("description", ""))
    if field == "default":
        return (value is None and _takes_null(now)) or (_says(text, value) and bool(_DEFAULT.search(text)))
    return isinstance(value, str) and bool(re.search(_FORMATS.get(value, r"(?!)"), text, re.IGNORECASE))


def explanations_follow(keyword: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    """Whether explanations follow their ``enum``: it changed, and each value that stayed kept its own."""
    if keyword not in was:
        return "enum" not in was and "enum" in now
    before, after = (_explained(side, side.get(keyword)) for side in (was, now))
    if before is None or after is None or json_equal(was.get("enum"), now.get("enum")):
        return False
    return all(after[value] == text for value, text in before.items() if value in after)


def _explained(schema: Mapping[str, Any], notes: Any) -> dict[str, str] | None:
    if isinstance(notes, dict):
        return {str(value): str(text) for value, text in notes.items()}
    values = schema.get("enum")
    if isinstance(notes, list) and isinstance(values, list) and len(notes) == len(values):
        return {str(value): str(text) for value, text in zip(values, notes, strict=True)}
    return None


def _more_examples(was: Any, now: Any) -> bool:
    both = isinstance(was, list) and isinstance(now, list) and len(was) < len(now)
    return both and all(any(json_equal(one, other) for other in now) for one in was)


def _takes_null(schema: Mapping[str, Any]) -> bool:
    types = schema.get("type")
    if types == "null" or (isinstance(types, list) and "null" in types) or schema.get("nullable") is True:
        return True
    if isinstance(schema.get("enum"), list) and None in schema["enum"]:
        return True
    alternatives = [*_list(schema.get("anyOf")), *_list(schema.get("oneOf"))]
    return any(isinstance(alternative, dict) and _takes_null(alternative) for alternative in alternatives)


def _says(text: str, value: Any) -> bool:
    if isinstance(value, dict | list) or value is None:
        return False
    literal = str(value).lower() if isinstance(value, bool) else str(value)
    return literal.casefold() in {word.casefold() for word in _WORD.findall(text)}


def _list(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []
