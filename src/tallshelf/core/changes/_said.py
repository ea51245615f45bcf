"""What a text says and its schema says as well: choices, a default, bounds, a format, what is required."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from tallshelf.core.words.difference import tokens_apart
from tallshelf.core.words.lexicon import verb_share
from tallshelf.core.words.reading import tokens_of, units_of
from tallshelf.core.words.split import split_identifier, word_set

_LEAST = {
    "GE": ("minimum", "minLength", "minItems"),
    "GT": ("exclusiveMinimum",),
}
_MOST = {
    "LE": ("maximum", "maxLength", "maxItems"),
    "LT": ("exclusiveMaximum",),
}
_BOUNDS = {
    **_LEAST,
    **_MOST,
    **dict.fromkeys(["FROM", "LEAST", "first", "between"], _LEAST["GE"]),
    **dict.fromkeys(["MOST", "last"], _MOST["LE"]),
}
_ANY_BOUND = tuple(keyword for keywords in (*_LEAST.values(), *_MOST.values()) for keyword in keywords)
_FORMS = {
    "date": "iso 8601 date",
    "date-time": "iso rfc 8601 3339 date timestamp offset moment",
    "time": "hh time",
    "email": "e mail email address full",
    "uri": "url uri address full",
    "uuid": "uuid",
    "ipv4": "ipv 4 ip address",
    "ipv6": "ipv 6 ip address",
    "hostname": "host hostname name",
}
_CLOCK = re.compile(r"(?:\d[\d:.]*|[-+:]|[tz]|unit:(?:year first|millimetre))")
"""Tokens of a moment that is written out, or of a form for it."""
_FILLING = word_set(
    "value allow accept between format valid or possible form ask something else say otherwise ANY ONLY"
)


def only_says_the_schema(old: str, new: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    """Whether a text gained only what its schema says, or lost only what the schema said and says.

    Also where the schema says it newly, in place of the text.
    """
    gone, came = tokens_apart(old, new)
    if bool(gone) == bool(came):
        return False
    known = frozenset(tokens_of(old if came else new))
    return _says(_schema(now), came or gone, known)


def _schema(place: Mapping[str, Any]) -> Mapping[str, Any]:
    """Return what a text may say of the schema at a place: of a tool's arguments, which of them it needs."""
    inner = place.get("inputSchema")
    if not isinstance(inner, dict):
        return place
    return {keyword: inner[keyword] for keyword in ("properties", "required") if keyword in inner}


def _says(schema: Mapping[str, Any], tokens: Sequence[str], known: frozenset[str]) -> bool:
    """Whether a schema says all that some tokens do; ``known`` are those of the rest of the text."""
    if any(token[:1].isdigit() for token in tokens) and not _bounds_agree(schema, tokens):
        return False
    if not _OTHERWISE.isdisjoint(tokens):  # unless something else is asked for
        tokens = ["UNSET" if token == "NOT" else token for token in tokens]
    left = [token for token in tokens if token not in _FILLING]
    for said in (_of_default, _of_choices, _of_bounds, _of_required, _of_form):
        left = said(schema, left, known)
    return not left and any(token not in _FILLING for token in tokens)


def _of_default(schema: Mapping[str, Any], left: list[str], known: frozenset[str]) -> list[str]:
    if "default" not in schema:
        return left
    default = schema["default"]
    if isinstance(default, bool):
        return _of_switch(default, left, known)
    if "UNSET" not in left:
        return left
    told = {"UNSET", *tokens_of(str(default)), *tokens_of(f"{default} first")}
    if isinstance(default, int | float):
        told |= {f"{unit.measure}:{default * unit.factor:.6g}" for unit in units_of(known) if unit.factor}
    return [token for token in left if token not in told]


def _of_switch(default: bool, left: list[str], known: frozenset[str]) -> list[str]:
    """Leave what a default of a switch does not say: it is on or off, or what it switches is done, or not."""
    told = {"TRUE" if default else "FALSE"}
    plain = known.isdisjoint(("NOT", "or"))  # else what is not done, or instead, may be the other thing
    if (
        plain
        and "UNSET" in left
        and ("TRUE" if not default else "FALSE") not in left
        and ("NOT" in left) != default
    ):
        told |= {"UNSET", "NOT"} | (known - _SIGNS)
    elif "UNSET" in left and told <= set(left):
        told |= {"UNSET"}
    return [token for token in left if token not in told]


def _is_thing(token: str) -> bool:
    return token == "NOT" or (token.islower() and verb_share(token) < 0.5)


_OTHERWISE = frozenset(["else", "otherwise", "other"])
_SIGNS = frozenset(["ONLY", "MUST", "MAY", "ALL", "EACH", "ANY", "REQUIRED", "OPTIONAL", "FOREVER"])


def _of_choices(schema: Mapping[str, Any], left: list[str], known: frozenset[str]) -> list[str]:
    choices = schema.get("enum")
    if not isinstance(choices, list):
        return left
    # The longest first, each as a whole: single words of a choice say nothing of the schema, and one choice alone says
    # that it is the one that counts.
    rest, named = left, 0
    for told in sorted((tokens_of(str(one)) for one in choices if one is not None), key=len, reverse=True):
        without = _without(rest, told)
        named += len(without) < len(rest)
        rest = without
    return rest if named > 1 or len(choices) == 1 else left


def _without(tokens: list[str], told: tuple[str, ...]) -> list[str]:
    """Take some tokens out wherever they stand together, in their order."""
    left, at = [], 0
    while at < len(tokens):
        if told and tuple(tokens[at : at + len(told)]) == told:
            at += len(told)
        else:
            left.append(tokens[at])
            at += 1
    return left


def _bounds_agree(schema: Mapping[str, Any], tokens: Sequence[str]) -> bool:
    """Whether each number after a word for a bound is that bound, and the sides of open and closed ones agree."""
    for sign, number in itertools.pairwise(tokens):
        if number[:1].isdigit() and sign in _BOUNDS and number not in _numbers(schema, _BOUNDS[sign]):
            return False
    return True


def _of_bounds(schema: Mapping[str, Any], left: list[str], known: frozenset[str]) -> list[str]:
    there = _numbers(schema, _ANY_BOUND)
    if there.isdisjoint(left):
        return left
    return [token for token in left if token not in there and token not in _BOUNDS]


def _numbers(schema: Mapping[str, Any], keywords: Iterable[str]) -> set[str]:
    values = (schema.get(keyword) for keyword in keywords)
    return {
        f"{value:g}" for value in values if isinstance(value, int | float) and not isinstance(value, bool)
    }


def _of_required(schema: Mapping[str, Any], left: list[str], known: frozenset[str]) -> list[str]:
    names, needed = schema.get("properties"), schema.get("required")
    if not isinstance(names, dict) or not isinstance(needed, list):
        return left
    for sign, members in (("REQUIRED", needed), ("OPTIONAL", [name for name in names if name not in needed])):
        told = {token for name in members for token in tokens_of(" ".join(split_identifier(str(name))))}
        if sign in left and not told.isdisjoint(left):
            left = [token for token in left if token != sign and token not in told]
    return left


def _of_form(schema: Mapping[str, Any], left: list[str], known: frozenset[str]) -> list[str]:
    form = schema.get("format")
    words = set(_FORMS.get(str(form), "").split())
    if words.isdisjoint(left) and "unit:year first" not in left:
        return left
    if form in ("date", "date-time", "time"):
        return [token for token in left if token not in words and not _CLOCK.fullmatch(token)]
    at = next(at for at, token in enumerate(left) if token in words) if words & set(left) else 0
    rest = [token for token in left if token not in words]
    if "NOT" in left and left.index("NOT") > at and all(map(_is_thing, rest)):
        return []  # what it is not, where the form shuts that out
    return rest
