"""Rewritings accept the same; widenings break receivers alone; narrowings and traps are seen, with a witness."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import jsonschema
import pytest

from tallshelf.core.compat import Comparison, compare_schemas
from tests.core.equivalents import ARRAYS, LOGIC, OBJECTS, PAIRS, SCALARS, I, N, S, arr, obj

POSITIONS = ("input", "output")
AROUND: dict[str, Callable[[Any], Any]] = {
    "a member": lambda schema: obj(["a"], a=schema, b=S),
    "an element": lambda schema: obj(rows=arr(items=schema, maxItems=5)),
    "a member that may be null": lambda schema: obj(a={"anyOf": [{"type": "null"}, schema]}),
    "a definition": lambda schema: {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": obj(["v"], v=schema)}},
    "all others": lambda schema: {"type": "object", "additionalProperties": schema},
    "by pattern": lambda schema: {"type": "object", "patternProperties": {"^x-": schema}},
    "under a condition": lambda schema: {"type": "object", "if": {"required": ["k"]}, "then": obj(a=schema)},
    "under two negations": lambda schema: {"not": {"not": obj(["a"], a=schema)}},
}
INNER = {
    name: pair for name, pair in {**SCALARS, **LOGIC, **OBJECTS, **ARRAYS}.items() if "$ref" not in str(pair)
}
ODD = {"§": ["§", 0.125]}


def accepts(schema: Any, instance: Any) -> bool:
    validator = jsonschema.validators.validator_for(schema, jsonschema.Draft202012Validator)
    return bool(validator(schema).is_valid(instance))


def proved(found: Comparison, old: Any, new: Any, position: str) -> bool:
    """Whether a comparison is breaking, with a witness that the oracle confirms."""
    producer, consumer = (old, new) if position == "input" else (new, old)
    witness = found.witness
    return (
        found.verdict == "breaking"
        and witness is not None
        and accepts(producer, witness.instance)
        and not accepts(consumer, witness.instance)
    )


@pytest.mark.parametrize("name", PAIRS)
def test_a_rewriting_is_identical(name):
    one, other = PAIRS[name]
    for position in POSITIONS:
        assert compare_schemas(one, other, position).verdict == "identical"
        assert compare_schemas(other, one, position).verdict == "identical"


@pytest.mark.parametrize("place", AROUND)
def test_a_rewriting_inside_a_tool_breaks_nothing(place):
    around = AROUND[place]
    for name, (one, other) in INNER.items():
        found = compare_schemas(around(one), around(other), "input")
        assert found.verdict in ("identical", "compatible"), (name, found.reason)


@pytest.mark.parametrize("place", AROUND)
def test_a_widening_inside_a_tool_breaks_receivers_and_not_callers(place):
    around = AROUND[place]
    for name, (one, other) in INNER.items():
        if accepts(one, ODD):
            continue
        old, new = around(one), around({"anyOf": [other, {"const": ODD}]})
        assert compare_schemas(old, new, "input").verdict == "compatible", name
        found = compare_schemas(old, new, "output")
        assert proved(found, old, new, "output"), (name, found)
        assert proved(compare_schemas(new, old, "input"), new, old, "input"), name


TRAPS: dict[str, tuple[Any, Any]] = {
    "a widening under not narrows": ({"not": {"maximum": 3}}, {"not": {"maximum": 4}}),
    "a hole in a union": (
        {**N, "minimum": 0, "maximum": 9},
        {"anyOf": [{**N, "minimum": 0, "maximum": 4}, {**N, "minimum": 5, "maximum": 9}]},
    ),
    "a hole in a product": (
        {"allOf": [{"anyOf": [{**N, "maximum": 1}, {**N, "minimum": 3}]}, {"maximum": 5}]},
        {"allOf": [{"anyOf": [{**N, "maximum": 1}, {**N, "minimum": 4}]}, {"maximum": 5}]},
    ),
    "two members cut apart": (
        obj(["a", "b"], a={"enum": [1, 2]}, b={"enum": [1, 2]}),
        {
            "anyOf": [
                obj(["a", "b"], a={"const": 1}, b={"enum": [1, 2]}),
                obj(["a", "b"], a={"const": 2}, b={"const": 2}),
            ]
        },
    ),
    "oneOf gains an overlap": ({"oneOf": [S, N]}, {"oneOf": [S, N, I]}),
    "a reference to another": (
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": S, "u": {**S, "maxLength": 3}}},
        {**obj(a={"$ref": "#/$defs/u"}), "$defs": {"t": S, "u": {**S, "maxLength": 3}}},
    ),
    "what a reference names changed": (
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": S}},
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": {**S, "minLength": 1}}},
    ),
    "an anchor moved": (
        {**obj(a={"$ref": "#t"}), "$defs": {"x": {"$anchor": "t", **S}, "y": N}},
        {**obj(a={"$ref": "#t"}), "$defs": {"x": S, "y": {"$anchor": "t", **N}}},
    ),
    "recursion narrowed deep below": (
        {"$defs": {"n": obj(next={"$ref": "#/$defs/n"}, v=S)}, "$ref": "#/$defs/n"},
        {
            "$defs": {"n": obj(next={"$ref": "#/$defs/m"}, v=S), "m": obj(next={"$ref": "#/$defs/n"}, v=I)},
            "$ref": "#/$defs/n",
        },
    ),
    "dependencies wake up in draft-07": (
        {"type": "object", "dependencies": {"a": ["b"]}},
        {
            "$schema": "http://json-schema.org/draft-07/schema#",
            "type": "object",
            "dependencies": {"a": ["b"]},
        },
    ),
    "beside a reference wakes up in 2020-12": (
        {
            "$schema": "http://json-schema.org/draft-07/schema#",
            **obj(a={"$ref": "#/$defs/t", "maxLength": 2}),
            "$defs": {"t": S},
        },
        {**obj(a={"$ref": "#/$defs/t", "maxLength": 2}), "$defs": {"t": S}},
    ),
    "a condition met more often": (
        {"type": "object", "if": {"required": ["a", "b"]}, "then": {"required": ["c"]}},
        {"type": "object", "if": {"required": ["a"]}, "then": {"required": ["c"]}},
    ),
    "else turned stricter": (
        {"if": S, "then": True, "else": N},
        {"if": {**S, "minLength": 2}, "then": True, "else": N},
    ),
    "unevaluated after a branch lost a name": (
        {"anyOf": [obj(a=S), obj(b=S)], "unevaluatedProperties": False},
        {"anyOf": [obj(a=S), obj(c=S)], "unevaluatedProperties": False},
    ),
    "what stands under not is not evaluated": (
        {**obj(a=S), "unevaluatedProperties": S},
        {"not": {"not": obj(a=S)}, "unevaluatedProperties": False},
    ),
    "what two references count is evaluated once and for all": (
        {
            **arr(anyOf=[{"allOf": [{"$ref": "#/$defs/c"}, {"$ref": "#/$defs/c"}]}], unevaluatedItems=False),
            "$defs": {"c": {"contains": {"const": 1}}},
        },
        arr(maxItems=0),
    ),
    "contains more": (arr(contains=I), arr(contains=I, minContains=2)),
    "contains something narrower": (arr(contains=N), arr(contains=I)),
    "names bound": (
        {"type": "object", "propertyNames": {"pattern": "^[a-z]"}},
        {"type": "object", "propertyNames": {"pattern": "^[a-z]+$"}},
    ),
    "a pattern catches a declared name": (
        {**obj(ab=S), "patternProperties": {"^x": S}},
        {**obj(ab=S), "patternProperties": {"^a": {"maxLength": 2}}},
    ),
    "beyond 2^53": ({**I, "maximum": 2**60 + 1}, {**I, "maximum": 2**60}),
    "tenths are not thirds": ({**N, "multipleOf": 0.3}, {**N, "multipleOf": 0.2}),
    "a pattern loses a letter": (
        {**S, "pattern": "^[A-Z]{2}-\\d{3}$"},
        {**S, "pattern": "^[A-Y]{2}-\\d{3}$"},
    ),
    "look-around in the pattern": (
        {**S, "pattern": "^(?!x)[a-z]+$"},
        {**S, "pattern": "^(?!x)[a-z]+$", "maxLength": 3},
    ),
    "look-around elsewhere": (
        obj(["m"], m={**S, "pattern": "^(?=.*@)[a-z@]+$", "examples": ["a@b"]}, n=I),
        obj(["m", "n"], m={**S, "pattern": "^(?=.*@)[a-z@]+$", "examples": ["a@b"]}, n=I),
    ),
    "unlike elements": (arr(items=I), arr(items=I, uniqueItems=True)),
    "a tuple that ends": (arr(prefixItems=[S]), arr(prefixItems=[S], items=False)),
    "required by another": (
        {"type": "object", "dependentRequired": {"a": ["b"]}},
        {"type": "object", "dependentRequired": {"a": ["b", "c"]}},
    ),
    "required by another, where it decides what is evaluated": tuple(
        {
            "if": {"dependentRequired": {"a": [name]}, "properties": {"a": True}},
            "then": {"properties": {"a": True, "b": True, "z": True}},
            "unevaluatedProperties": False,
        }
        for name in ("b", "z")
    ),
}


@pytest.mark.parametrize("name", TRAPS)
def test_a_trap_is_breaking_with_a_witness(name):
    old, new = TRAPS[name]
    assert proved(compare_schemas(old, new, "input"), old, new, "input")
    for around in (AROUND["a member"], AROUND["an element"], AROUND["by pattern"]):
        if "$defs" in str(old) or "$schema" in str(new) or "$schema" in str(old):
            continue
        a, b = around(old), around(new)
        assert proved(compare_schemas(a, b, "input"), a, b, "input")
        assert compare_schemas(b, a, "output").verdict == "breaking"


def test_members_that_only_together_cover_are_enough():
    day = obj(["from", "to"], **{"from": {"enum": ["mon", "tue"]}, "to": {"enum": ["mon", "tue"]}})
    cut = {
        "anyOf": [
            obj(["from", "to"], **{"from": {"const": one}, "to": {"const": other}})
            for one in ("mon", "tue")
            for other in ("mon", "tue")
        ]
    }
    assert compare_schemas(day, cut, "input").verdict == "identical"
