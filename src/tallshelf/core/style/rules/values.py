"""Rules on values: numbers and flags passed as text, defaults that are refused."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import takes
from tallshelf.core.style.rules._judge import refuses
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.flags import is_flag_for_some
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

_COUNTS = word_set(
    "limit count quantity offset max min maximum minimum size total width height length depth weight "
    "age year page percentage latitude longitude"
)
_NUMBER_TEXT = Pattern(
    r"^\W*(?:(?:the |maximum |minimum )?number of (?!the\b|an?\b|one\b|this\b|its\b)|how many\b|numeric\b|integer\b|count of\b)|\bas an? (?:number|integer)\b|\bin (?:metres|meters|feet|seconds|minutes|hours|days|kg|kilograms|tonnes|percent|knots|bytes|euros?|dollars|degrees)\b",
    re.IGNORECASE,
)
_TEXT_ON_PURPOSE = Pattern(
    r"\b(?:decimal|string|text|exact|leading zero|iso|duration|format|such as|e\.g\.|range|expression|free)\b",
    re.IGNORECASE,
)
_QUOTED = Pattern(r"[`'\"“]([\w-]{1,30})[`'\"”]")
_FLAG_TEXT = Pattern(
    r"^\W*whether\b|\btrue\b.{0,20}\bfalse\b|\b[\"'`]?yes[\"'`]?\b.{0,12}\b[\"'`]?no[\"'`]?\b|[\"'`]yes[\"'`].{0,50}[\"'`]no[\"'`]|\bset to [\"'`]?true\b",
    re.IGNORECASE,
)
_NO_FLAG = Pattern(
    r"\bcomma[- ]separated\b|\b(?:multiple|several) values\b|\b(?:options|values) ?:"
    r"|\bthis (?!flag|switch|option|setting|parameter|field|value)(?:\w+ )?\w+ (?:is|will be) used\b",
    re.IGNORECASE,
)
"""What a text says of a value that is neither yes nor no, though it begins with whether."""
_FLAGS = word_set("true false yes no on off 1 0 y n t f")


def _number_as_string(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.fields:
        if parameter.types - {"null"} != {"string"} or parameter.schema.keys() & {"enum", "const", "format"}:
            continue
        text = parameter.text.text
        named = parameter.inside == "takes" and bool(parameter.words) and parameter.words[-1] in _COUNTS
        digits = parameter.schema.get("pattern") in (r"^\d+$", "^[0-9]+$", r"^-?\d+(\.\d+)?$") and named
        if (
            (named and not _TEXT_ON_PURPOSE.search(text))
            or digits
            or (_NUMBER_TEXT.search(text) and not _TEXT_ON_PURPOSE.search(text))
        ) and not _names_words(text):
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.path}` is a number passed as text; make it a number or an integer",
                suggestion=_retyped(parameter, "number"),
            )


def _names_words(text: str) -> bool:
    """Whether a text quotes what may be given, and that are words: `mono` or `dual`."""
    return len([value for value in _QUOTED.findall(text) if value.isalpha()]) > 1


def _names_values(text: str) -> bool:
    """Whether a text quotes values that are neither yes nor no: whether to list local ('local') or all ('all')."""
    return len({value.lower() for value in _QUOTED.findall(text)} - _FLAGS) > 1


def _boolean_as_string(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.fields:
        if not parameter.types <= {"string", "integer", "null"} or parameter.schema.keys() & {
            "format",
            "pattern",
        }:
            continue
        values = parameter.schema.get("enum")
        if isinstance(values, list) and values:
            flags = {str(value).lower() for value in values}
            found = len(flags) == 2 and flags <= _FLAGS
        else:
            switched = parameter.schema.get("default") in ("true", "false")
            said = _FLAG_TEXT.search(parameter.text.text) and not (
                _names_values(parameter.text.text)
                or is_flag_for_some(parameter.text.text)
                or _NO_FLAG.search(parameter.text.text)
            )
            found = "string" in parameter.types and (switched or bool(said))
        if found:
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.path}` is a yes or no passed as text; make it a boolean",
                suggestion=_retyped(parameter, "boolean"),
            )


def _retyped(parameter: Parameter, kind: str) -> tuple[dict[str, Any], ...]:
    """Return the patch that gives a parameter another type, without what only strings have."""
    only_text = ("enum", "pattern", "minLength", "maxLength", "default", "examples")
    kept = {name: value for name, value in parameter.schema.items() if name not in only_text}
    return ({"op": "replace", "path": parameter.pointer, "value": {**kept, "type": kind}},)


def _default_refused(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if "default" in parameter.schema and refuses(parameter.schema, parameter.schema["default"]):
            default = parameter.schema["default"]
            where = f"{parameter.pointer}/default"
            if default is None and not parameter.required:
                patch = ({"op": "remove", "path": where},)
                yield RuleHit(
                    parameter.item.identity,
                    where,
                    f"the default of `{parameter.path}` is null, which it does not take",
                    suggestion=patch,
                )
            else:
                yield RuleHit(
                    parameter.item.identity,
                    where,
                    f"the default {default!r} is refused by the schema of `{parameter.path}`",
                )


RULES = (
    Rule(
        id="number-as-text",
        fix_is_safe=False,
        family="schemas",
        covers=("number-as-string",),
        level="warning",
        reason="A number passed as text is written in many ways, and no bound can hold it.",
        check=_number_as_string,
        bad=takes(limit="How many berths to return"),
        good=takes(
            staff_number="Staff number, such as C-0412", amount="Amount as a decimal text, such as 12.50 EUR"
        ),
    ),
    Rule(
        id="flag-as-text",
        fix_is_safe=False,
        family="schemas",
        covers=("boolean-as-string",),
        level="warning",
        reason="A yes or no passed as text has a dozen spellings.",
        check=_boolean_as_string,
        bad=takes(free={"type": "string", "enum": ["yes", "no"], "description": "Free ones alone"}),
        good=takes(free={"type": "boolean", "description": "Free ones alone"}),
    ),
    Rule(
        id="default-refused",
        family="schemas",
        covers=("default-refused",),
        level="warning",
        reason="A host that fills in the default sends what the schema refuses.",
        check=_default_refused,
        bad=takes(
            limit={"type": "integer", "maximum": 50, "default": 100, "description": "How many at most"}
        ),
        good=takes(
            limit={"type": "integer", "maximum": 50, "default": 20, "description": "How many at most"}
        ),
    ),
)
