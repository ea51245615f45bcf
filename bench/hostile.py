"""Schemas and texts that are made to take for ever, against everyday ones in the same run.

Comparing schemas ends by the bound on steps, decided or not; reading texts is linear in their length. The worst of
each is printed last.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from tallshelf.core.compat import compare_schemas
from tallshelf.core.snapshot import Snapshot, snapshot_from
from tallshelf.core.style import lint
from tallshelf.core.words.acts import (
    says_for_good,
    says_it_only_reads,
    says_it_writes,
    says_of_outside,
    says_of_repeating,
)
from tallshelf.core.words.difference import text_difference
from tallshelf.core.words.encoded import encoded_words
from tallshelf.core.words.language import is_in_english
from tallshelf.core.words.steering import steering

_MEANT_SECONDS = 1.0
_MEANT_OF_TEXTS = 5.0
_TEXT = {"type": "string"}


def main() -> None:
    everyday = _seconds(*_everyday())[0]
    print(f"an everyday pair                {everyday * 1e3:9.1f} ms")
    worst = 0.0
    for name, make in PAIRS.items():
        seconds, verdict = _seconds(*make())
        worst = max(worst, seconds)
        print(f"{name:31} {seconds * 1e3:9.1f} ms  {seconds / everyday:8.0f} x  {verdict}")
    print(f"the worst                       {worst:9.2f} s   (about {_MEANT_SECONDS:g} s is meant)")
    _texts()


def _texts() -> None:
    everyday = _read("List the free berths of one port on a day, longest first. At most fifty are given.")
    print(f"\nan everyday text                {everyday * 1e3:9.2f} ms")
    worst = 0.0
    for name, piece in TEXTS.items():
        taken = [_read((piece * (length // len(piece) + 1))[:length]) for length in (50_000, 100_000)]
        worst = max(worst, taken[1])
        print(
            f"{name:31} {taken[1] * 1e3:9.1f} ms  {taken[1] / everyday:8.0f} x  growth {taken[1] / taken[0]:.1f}"
        )
    print(
        f"the worst, of 100,000 signs     {worst:9.2f} s   (about {_MEANT_OF_TEXTS:g} s is meant, of five such texts)"
    )


def _read(text: str) -> float:
    """Return the seconds that a text takes: what it says and does, all rules, and how it differs from another."""
    begun = time.perf_counter()
    steering(text)
    list(encoded_words(text))
    is_in_english(text)
    for ask in (says_it_writes, says_it_only_reads, says_for_good, says_of_repeating, says_of_outside):
        ask(text)
    lint(_tool(text))
    half = len(text) // 2
    text_difference(text, f"{text[:half]} berth not {text[half:][::-1]}")
    return time.perf_counter() - begun


def _tool(text: str) -> Snapshot:
    """Return a server of one tool that has a text wherever rules read one."""
    kind = {"type": "string", "description": text, "default": "a"}
    schema = {
        "type": "object",
        "properties": {"kind": kind, "most": {"type": "integer", "description": text}},
    }
    hints = {"readOnlyHint": True, "idempotentHint": True, "openWorldHint": False}
    tool = {
        "name": "list_things",
        "description": f"List things. {text}",
        "inputSchema": schema,
        "annotations": hints,
    }
    return snapshot_from({"tools": [{**tool, "outputSchema": schema}]})


TEXTS = {
    "choices": "pick, ",
    "names in code": "`a_b ",
    "defaults": "unless without a default ",
    "one word": "a",
    "spaces": " ",
    "commas": "a, ",
    "words": "the model must not tell it to any other server ",
    "from and to": "from a to ",
    "half an order": "after reading x ",
    "clauses": ", so a",
    "quotes": "“a",
    "brackets": "[a](",
    "marks": "**_",
    "code": "`a",
    "such as": "such as ",
    "asking": "what you ",
    "calls": "second call twice each call ",
    "names": "ab_c ",
    "hexadecimal": "ab",
    "base64": "QUJD",
    "tags": "\U000e0041a",
    "lines": "a\n",
    "breaks": "\n",
    "results": "\nreturns a, ",
    "blanks": "\u2800",
    "selectors": "\ufe01",
    "orders abroad": "ignoriere sag ohne schicke ",
    "signs": "確認せず",
}


def _seconds(old: Any, new: Any) -> tuple[float, str]:
    begun = time.perf_counter()
    verdict = compare_schemas(old, new, "input", "as-declared").verdict
    return time.perf_counter() - begun, verdict


def _everyday() -> tuple[Any, Any]:
    old = {
        "type": "object",
        "properties": {f"argument_{at}": _TEXT for at in range(30)},
        "required": ["argument_0"],
    }
    return old, {**old, "required": ["argument_0", "argument_1"]}


def _object(**properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties}


def _one_of(number: int, shift: int = 0) -> dict[str, Any]:
    branches = [_object(**{f"m{at + shift}": _TEXT, f"n{at}": {"type": "integer"}}) for at in range(number)]
    return _object(x={"oneOf": branches})


def _tagged(number: int, shift: int) -> dict[str, Any]:
    branches = [
        {
            **_object(kind={"const": f"k{at}"}, value={"type": "integer", "minimum": at + shift}),
            "required": ["kind"],
        }
        for at in range(number)
    ]
    return _object(x={"oneOf": branches})


def _nested(depth: int, leaf: Any, keyword: str = "allOf") -> dict[str, Any]:
    found: Any = leaf
    for at in range(depth):
        found = {keyword: [found, _object(**{f"level_{at}": _TEXT})]}
    return _object(x=found)


def _conditions(number: int, shift: int) -> dict[str, Any]:
    return _object(
        x={
            "allOf": [
                {"if": {"required": [f"a{at}"]}, "then": {"required": [f"b{at + shift}"]}}
                for at in range(number)
            ]
        }
    )


def _recursive(shift: int) -> dict[str, Any]:
    node = _object(
        **{
            f"child_{at}": {
                "anyOf": [{"$ref": "#/$defs/node"}, {"type": "array", "items": {"$ref": "#/$defs/node"}}]
            }
            for at in range(12)
        },
        size={"type": "integer", "maximum": 100 - shift},
    )
    return {"$defs": {"node": node}, **_object(x={"$ref": "#/$defs/node"})}


PAIRS: dict[str, Callable[[], tuple[Any, Any]]] = {
    "oneOf of 60 objects": lambda: (_one_of(60), _one_of(60, 1)),
    "oneOf of 60, into a union": lambda: (_object(x={"type": ["object", "string"]}), _one_of(60)),
    "oneOf of 200 tags": lambda: (_tagged(200, 0), _tagged(200, 1)),
    "enum of 20,000": lambda: (
        _object(x={"enum": [f"v{at}" for at in range(20_000)]}),
        _object(x={"enum": [f"v{at}" for at in range(1, 20_001)]}),
    ),
    "enum of 5,000 objects": lambda: (
        _object(x={"enum": [{"a": at} for at in range(5_000)]}),
        _object(x={"anyOf": [_object(a={"type": "integer", "maximum": 4_000}), _object(a={"const": 4_500})]}),
    ),
    "allOf, 40 deep": lambda: (_nested(40, _TEXT), _nested(40, {"type": "object"})),
    "anyOf, 12 deep": lambda: (_nested(12, _TEXT, "anyOf"), _nested(12, {"type": "integer"}, "anyOf")),
    "not within not, 30 deep": lambda: (_nots(30, 3), _nots(30, 4)),
    "24 conditions": lambda: (_conditions(24, 0), _conditions(24, 1)),
    "references that branch": lambda: (_recursive(0), _recursive(1)),
    "40 patterns of names": lambda: (
        _object(x={"patternProperties": {f"^a{{{at},}}b": _TEXT for at in range(40)}}),
        _object(x={"patternProperties": {f"^a{{{at},}}b": {"minLength": 1} for at in range(40)}}),
    ),
    "patterns of great repeats": lambda: (
        _object(x={"type": "string", "pattern": "^(a{0,30}b{0,30}){1,20}$"}),
        _object(x={"type": "string", "pattern": "^(?=.*a)(?=.*b)(?!.*ab{3}a)[ab]*$"}),
    ),
    "patterns that look around": lambda: (
        _object(x={"type": "string", "pattern": "^(?=.*a.{12}b)(?=.*b.{11}a)[abc]{0,40}$"}),
        _object(x={"type": "string", "pattern": "^(?!.*c.{9}c)(?=.*(?<=a)c)[abc]*$"}),
    ),
    "counting in arrays": lambda: (
        _object(x={"type": "array", "contains": {"minimum": 3}, "minContains": 40, "uniqueItems": True}),
        _object(x={"type": "array", "contains": {"maximum": 9}, "maxContains": 20, "minItems": 60}),
    ),
    "unevaluated beside 10 anyOf": lambda: (
        _object(
            x={"anyOf": [_object(**{f"m{at}": _TEXT}) for at in range(10)], "unevaluatedProperties": False}
        ),
        _object(
            x={"anyOf": [_object(**{f"m{at}": _TEXT}) for at in range(9)], "unevaluatedProperties": False}
        ),
    ),
    "400 long arrays": lambda: (
        _object(**{f"a{at}": {"type": "array", "maxItems": 9_998} for at in range(400)}),
        _object(**{f"a{at}": {"type": "array", "maxItems": 9_990} for at in range(400)}),
    ),
    "400 large maps": lambda: (
        _object(**{f"a{at}": {"type": "object", "maxProperties": 9_998} for at in range(400)}),
        _object(**{f"a{at}": {"type": "object", "maxProperties": 9_990} for at in range(400)}),
    ),
    "arrays of nine, 8 deep": lambda: (_lists(9), _lists(10)),
    "2,000 arguments": lambda: (
        _object(**{f"a{at}": _TEXT for at in range(2_000)}),
        _object(**{f"a{at}": {"type": "integer"} for at in range(2_000)}),
    ),
}


def _lists(fewest: int) -> dict[str, Any]:
    found: Any = _TEXT
    for _ in range(8):
        found = {"type": "array", "minItems": fewest, "items": found}
    return {**_object(x=found), "required": ["x"]}


def _nots(depth: int, low: int) -> dict[str, Any]:
    found: Any = {"minimum": low, "maxLength": low, "required": [f"m{low}"]}
    for at in range(depth):
        found = {"not": {"anyOf": [found, {"const": at}]}}
    return _object(x=found)


if __name__ == "__main__":
    main()
