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
_FILLING = frozenset(
    """
    a an and are as at be between by can defaults default either format from if in is it least may most must
    of omitted one only or possible the them these this to unless up value values allowed with
    """.split()  # noqa: SIM905
)
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


def only_says_the_schema(removed: str, added: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    """Whether a text gained only what its schema says, or lost only what the schema said and says: choices, default,
    bounds, format.
    """
    gone, come = ([word.casefold() for word in _WORD.findall(text)] for text in (removed, added))
    if come[: len(gone)] == gone:
        return _is_said(come[len(gone) :], now)
    if gone[: len(come)] == come:
        return _is_said(gone[len(come) :], was) and _is_said(gone[len(come) :], now)
    return False


def _is_said(words: list[str], schema: Mapping[str, Any]) -> bool:
    """Whether words say what a schema does, and nothing else; a bound must be told as the bound that it is."""
    said = _literals(schema)
    for ends, keywords in ((("most", "up"), _LOWER), (("least",), _UPPER)):
        if any(end in words for end in ends):
            said -= {str(schema.get(keyword)) for keyword in keywords}
    return any(word in said for word in words) and all(word in said or word in _FILLING for word in words)


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


_LOWER = ("minimum", "minLength", "minItems")
_UPPER = ("maximum", "maxLength", "maxItems")
_SWITCHED = {True: ("true", "yes", "on", "enabled"), False: ("false", "no", "off", "disabled")}
_FORM_WORDS = {
    "date": "yyyy-mm-dd iso 8601 iso-8601 iso8601",
    "date-time": "iso 8601 iso-8601 iso8601 rfc 3339 rfc3339",
    "time": "hh:mm hh:mm:ss",
    "email": "e-mail email address",
    "uri": "uri url address",
    "ipv4": "ip address",
    "ipv6": "ip address",
    "hostname": "host name hostname",
}


def _literals(schema: Mapping[str, Any]) -> set[str]:
    """Return the words by which a text would say what a schema does, in lower case."""
    values = [*_list(schema.get("enum")), schema.get("const"), schema.get("default"), schema.get("format")]
    values += [schema.get(one) for one in (*_LOWER, *_UPPER)]
    said = {str(value).casefold() for value in values if value is not None and not isinstance(value, bool)}
    for switch in (value for value in values if isinstance(value, bool)):
        said.update(_SWITCHED[switch])
    return said | set(_FORM_WORDS.get(str(schema.get("format")), "").split())


def _list(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []
