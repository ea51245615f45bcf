"""Differences in plain English."""

from __future__ import annotations

from typing import Any

from tallshelf.core.compat._form import Values
from tallshelf.core.compat._gap import Gap
from tallshelf.core.compat.result import Position
from tallshelf.core.snapshot import canonical

_ROOTS: dict[Position, str] = {"input": "the arguments object", "output": "the result"}
_BOUNDS = {
    "minimum": "at least",
    "exclusiveMinimum": "more than",
    "maximum": "at most",
    "exclusiveMaximum": "less than",
}
_ASKING = frozenset({"dependentRequired", "dependentSchemas", "dependencies"})
_COUNTS = {
    "minLength": "at least {} characters",
    "maxLength": "at most {} characters",
    "minItems": "at least {} elements",
    "maxItems": "at most {} elements",
    "minProperties": "at least {} members",
    "maxProperties": "at most {} members",
}


def label(path: tuple[str, ...], position: Position) -> str:
    """Name a place of an instance, such as ```berths[].depth```; a name with a dot in it stands in brackets."""
    text = ""
    for step in path:
        if step != "[]" and any(char in step for char in ".[]"):
            text += f'["{step}"]'
        else:
            text += step if step == "[]" or not text else f".{step}"
    return f"`{text}`" if text else _ROOTS[position]


def sentence(gap: Gap, position: Position, *, narrowed: bool) -> str:
    """Say what a gap means: ``narrowed`` when the new schema refuses what the old one took."""
    subject = label(gap.path, position)
    if gap.keyword == "required":
        return _required(gap, subject, position, narrowed)
    if gap.keyword == "undeclared-member":
        return _undeclared(gap, position, narrowed)
    if gap.keyword == "additionalProperties":
        if position == "output":
            return f"{subject} is {'no longer' if narrowed else 'now'} returned"
        return f"{subject} is no longer accepted" if narrowed else f"{subject} is new and optional"
    old, new = (gap.a_value, gap.b_value) if narrowed else (gap.b_value, gap.a_value)
    if gap.keyword == "enum" and isinstance(gap.a_value, Values):
        few = ", ".join(show(value) for value in gap.a_value[:3])
        return f"{subject} {_verb(position, narrowed)} {len(gap.a_value):,} values, such as {few}"
    if gap.keyword == "enum" and gap.a_value is not None:
        return f"{subject} {_verb(position, narrowed)} {show(gap.a_value)}"
    if gap.keyword == "enum":
        values = ", ".join(show(value) for value in (gap.b_value or ())[:5])
        return f"{subject} is {'now' if narrowed else 'no longer'} one of {values}"
    if gap.keyword == "type":
        return _type(gap, subject, position, narrowed)
    if gap.keyword in _BOUNDS:
        return _limit(subject, "be " + _BOUNDS[gap.keyword] + " {}", old, new, narrowed)
    if gap.keyword in _COUNTS:
        return _limit(subject, "have " + _COUNTS[gap.keyword], old, new, narrowed)
    if gap.keyword == "uniqueItems":
        return f"{subject} {'must now' if narrowed else 'no longer has to'} have no element twice"
    if gap.keyword == "pattern":
        return f"{subject} {'must now' if narrowed else 'no longer has to'} match {show(gap.b_value)}"
    if gap.keyword == "multipleOf":
        return f"{subject} {'must now' if narrowed else 'no longer has to'} be a multiple of {gap.b_value}"
    if gap.keyword == "anyOf" and gap.a_value:
        names = ", ".join(f"`{name}`" for name in gap.a_value)
        return f"one of {names} {'is now' if narrowed else 'is no longer'} required"
    if gap.keyword == "anyOf":
        return f"{subject} {'must now' if narrowed else 'no longer has to'} fit one of several forms"
    if gap.keyword in _ASKING and gap.a_value:
        now = "now asks" if narrowed else "no longer asks"
        return f"{label((*gap.path, str(gap.a_value)), position)} {now} for others beside it"
    return f"{subject} differs in {gap.keyword}"


def show(value: Any, most: int = 80) -> str:
    """Write a JSON value in one short line."""
    text = canonical(value).decode("utf-8")
    return text if len(text) <= most else text[: most - 1] + "…"


def _required(gap: Gap, subject: str, position: Position, narrowed: bool) -> str:
    if position == "output":
        return f"{subject} is now always present" if narrowed else f"{subject} may now be missing"
    if narrowed:
        return f"{subject} is now required" if gap.a_value else f"{subject} is new and required"
    return f"{subject} is no longer required"


def _undeclared(gap: Gap, position: Position, narrowed: bool) -> str:
    if gap.path[-1:] == ("*",):
        where = label(gap.path[:-1], position)
        return f"{where} {'no longer takes' if narrowed else 'now takes'} members that are not declared"
    subject = label(gap.path, position)
    return (
        f"{subject}, which was not declared, is now checked"
        if narrowed
        else f"{subject}, no longer declared, is no longer checked"
    )


def _verb(position: Position, narrowed: bool) -> str:
    if position == "input":
        return "no longer accepts" if narrowed else "now also accepts"
    return "is never any more" if narrowed else "may now be"


def _type(gap: Gap, subject: str, position: Position, narrowed: bool) -> str:
    others = gap.b_value or []
    if len(others) == 1 and "null" not in (gap.a_value, others[0]):
        old, new = (gap.a_value, others[0]) if narrowed else (others[0], gap.a_value)
        return f"{subject} was {old} and is now {new}"
    return f"{subject} {_verb(position, narrowed)} {_article(gap.a_value)}"


def _article(name: Any) -> str:
    return "null" if name == "null" else f"{'an' if str(name)[0] in 'aeio' else 'a'} {name}"


def _limit(subject: str, phrase: str, old: Any, new: Any, narrowed: bool) -> str:
    if new is None or (new == 0 and not narrowed):
        return f"{subject} no longer has to {phrase.format(old)}"
    was = f" (was {old})" if old not in (None, 0) else ""
    return f"{subject} {'must' if narrowed else 'may'} now {phrase.format(new)}{was}"
