"""Canonical JSON and digests.

The form is RFC 8785 (JSON Canonicalization Scheme) with one addition: an integer value
beyond 2^53 is written as its decimal digits, where RFC 8785 would lose precision. Equal
JSON values (1 is 1.0, and is not true) have equal canonical bytes, and the other way round.
"""

from __future__ import annotations

import hashlib
import json
from typing import Any

import orjson
import rfc8785

MOST_EXACT = 2**53
"""Integers below this, and above its negative, are the same in every reader."""


def canonical(value: Any) -> bytes:
    """Return the canonical bytes of a JSON value."""
    if _is_plain(value):
        return canonical_plain(value)
    return "".join(_write(value)).encode("utf-8")


def canonical_plain(value: Any) -> bytes:
    """Return the canonical bytes of a value that is known to be plain."""
    return orjson.dumps(value, option=orjson.OPT_SORT_KEYS)


def digest_of(data: bytes) -> str:
    """Return ``sha256:`` and the hexadecimal SHA-256 of some bytes."""
    return "sha256:" + hashlib.sha256(data).hexdigest()


def digest(value: Any) -> str:
    """Return the digest of a JSON value's canonical form."""
    return digest_of(canonical(value))


def json_equal(left: Any, right: Any) -> bool:
    """Compare by JSON's rules: numbers by value, and a boolean is no number."""
    return canonical(left) == canonical(right)


def _is_plain(value: Any) -> bool:
    """Whether orjson's output is the canonical form: no floats, safe integers, plain keys.

    Keys sort by UTF-8 in orjson and by UTF-16 in RFC 8785; up to U+D7FF these agree.
    """
    level = [value]
    while level:
        below: list[Any] = []
        for one in level:
            kind = type(one)
            if kind is dict:
                keys = "".join(one)
                if not keys.isascii() and max(keys) > "\ud7ff":
                    return False
                below.extend(one.values())
            elif kind is list:
                below.extend(one)
            elif kind is int:
                if not -MOST_EXACT < one < MOST_EXACT:
                    return False
            elif kind is not str and kind is not bool and one is not None:
                return False
        level = below
    return True


def _write(value: Any) -> list[str]:
    out: list[str] = []
    _write_into(value, out)
    return out


def _write_into(value: Any, out: list[str]) -> None:
    if isinstance(value, dict):
        out.append("{")
        for index, key in enumerate(sorted(value, key=_utf16)):
            out.append("," if index else "")
            out.append(_string(key) + ":")
            _write_into(value[key], out)
        out.append("}")
    elif isinstance(value, list):
        out.append("[")
        for index, child in enumerate(value):
            out.append("," if index else "")
            _write_into(child, out)
        out.append("]")
    elif isinstance(value, str):
        out.append(_string(value))
    else:
        out.append(_scalar(value))


def _utf16(key: str) -> bytes:
    return key.encode("utf-16-be")


def _string(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)


def _scalar(value: float | bool | None) -> str:
    if isinstance(value, float) and value.is_integer() and abs(value) >= MOST_EXACT:
        value = int(value)
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) >= MOST_EXACT:
        return str(value)
    return rfc8785.dumps(value).decode("ascii")
