"""Reading JSON strictly: what two readers could understand differently is refused."""

from __future__ import annotations

import json
import math
import re
from typing import Any, NoReturn

from tallshelf.core.errors import BadDocument, OverLimit
from tallshelf.core.snapshot.canonical import MOST_EXACT
from tallshelf.core.snapshot.limits import DEFAULT_LIMITS, Limits

_SURROGATE_ESCAPE = re.compile(r"\\u[dD][89a-fA-F]")


def parse_json(data: bytes | str, limits: Limits = DEFAULT_LIMITS) -> Any:
    """Parse one JSON text (RFC 8259) and return plain Python values.

    Raises `BadDocument` when it is not UTF-8 or not JSON, has duplicate keys, NaN or
    infinite numbers, or lone surrogates; `OverLimit` when too large or too deep.
    """
    return read_json(data, limits)[0]


def read_json(data: bytes | str, limits: Limits = DEFAULT_LIMITS) -> tuple[Any, bool]:
    """Parse as `parse_json` does, and say whether the value is plain, as `check_value` does."""
    text = _decode(data, limits)
    try:
        value = json.loads(text, object_pairs_hook=_object, parse_constant=_constant)
    except RecursionError:
        raise _too_deep(limits) from None
    except json.JSONDecodeError as fault:
        raise BadDocument(
            f"not JSON: {fault.msg} at line {fault.lineno}, column {fault.colno}",
            remedy="Check that the whole file was written and holds one JSON value.",
        ) from None
    except ValueError:
        # Python refuses to read integers of thousands of digits.
        raise OverLimit(
            "the document has a number of thousands of digits",
            remedy="Send such a number as a string.",
        ) from None
    return value, check_value(value, limits, strings=_SURROGATE_ESCAPE.search(text) is not None)


def check_value(value: Any, limits: Limits = DEFAULT_LIMITS, *, strings: bool = True) -> bool:
    """Refuse a parsed value that is too deep or holds what JSON text cannot say.

    ``strings`` asks for the search for lone surrogates, which costs a look at every string.
    Returns whether the value is plain: no floats, integers below 2^53, keys in ASCII. The
    canonical form of such a value is just its sorted text.
    """
    level, plain = [value], True
    for _ in range(limits.depth):
        level, plain_level = _children(level, strings)
        plain = plain and plain_level
        if not level:
            return plain
    raise _too_deep(limits)


def _decode(data: bytes | str, limits: Limits) -> str:
    if len(data) > limits.bytes:
        raise OverLimit(
            f"the document has {len(data):,} bytes; at most {limits.bytes:,} are read",
            remedy="Split the server, or raise the limit in the settings.",
        )
    if isinstance(data, str):
        return data
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError as fault:
        raise BadDocument(
            f"not UTF-8: byte {fault.start} cannot be read",
            remedy="Save the document as UTF-8.",
        ) from None


def _children(level: list[Any], strings: bool) -> tuple[list[Any], bool]:
    """Return the values one level down, and whether those of this level are plain."""
    found: list[Any] = []
    plain = True
    for value in level:
        kind = type(value)
        if kind is dict:
            if strings:
                for key in value:
                    _check_string(key)
            plain = plain and "".join(value).isascii()
            found.extend(value.values())
        elif kind is list:
            found.extend(value)
        elif kind is str:
            if strings:
                _check_string(value)
        elif kind is int:
            plain = plain and -MOST_EXACT < value < MOST_EXACT
        elif kind is float:
            plain = False
            if not math.isfinite(value):
                raise BadDocument(
                    "the document has a number that is not finite or too large for a double",
                    remedy="JSON has no NaN or Infinity; send null or a string.",
                )
    return found, plain


def _check_string(text: str) -> None:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        raise BadDocument(
            "the document has a lone surrogate, half of a character",
            remedy="Write the character as UTF-8, or as a full pair of \\u escapes.",
        ) from None


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    value = dict(pairs)
    if len(value) != len(pairs):
        seen: set[str] = set()
        twice = next(key for key, _ in pairs if key in seen or seen.add(key))  # type: ignore[func-returns-value]
        raise BadDocument(
            f"an object has the key {twice[:80]!r} twice",
            remedy="Two readers would keep different values; leave one.",
        )
    return value


def _constant(name: str) -> NoReturn:
    raise BadDocument(f"the document holds {name}, which JSON does not have")


def _too_deep(limits: Limits) -> OverLimit:
    return OverLimit(
        f"the document nests deeper than {limits.depth} levels",
        remedy="Flatten it, or raise the limit in the settings.",
    )
