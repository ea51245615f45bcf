"""Facet by facet: a narrower schema and a wider one, in both directions and both positions."""

from __future__ import annotations

from typing import Any

import jsonschema
import pytest

from tallshelf.core.compat import compare_schemas

TEXT: dict[str, Any] = {"type": "string"}
NUMBER: dict[str, Any] = {"type": "number"}
CLOSED = {"type": "object", "additionalProperties": False}
A = {"type": "object", "properties": {"a": TEXT}}

PAIRS: dict[str, tuple[Any, Any]] = {
    "nothing in anything": (False, True),
    "one type in two": (TEXT, {"type": ["string", "null"]}),
    "integer in number": ({"type": "integer"}, NUMBER),
    "integer in a union": ({"type": "integer"}, {"anyOf": [TEXT, NUMBER]}),
    "const in enum": ({"const": 1}, {"enum": [1, 2]}),
    "enum in enum": ({"enum": ["a", None]}, {"enum": [None, "b", "a"]}),
    "enum in type": ({"enum": ["a", "b"]}, TEXT),
    "enum in bounds": ({"enum": [1, 2]}, {"type": "integer", "minimum": 1}),
    "booleans in boolean": ({"const": True}, {"type": "boolean"}),
    "minimum": ({**NUMBER, "minimum": 2}, {**NUMBER, "minimum": 1}),
    "maximum": ({**NUMBER, "maximum": 1}, {**NUMBER, "maximum": 1.5}),
    "exclusive in inclusive": ({**NUMBER, "exclusiveMinimum": 1}, {**NUMBER, "minimum": 1}),
    "inclusive in exclusive": ({**NUMBER, "maximum": 1}, {**NUMBER, "exclusiveMaximum": 1.0001}),
    "both exclusive": ({**NUMBER, "exclusiveMaximum": 3}, {**NUMBER, "exclusiveMaximum": 4}),
    "multiple of a multiple": ({**NUMBER, "multipleOf": 6}, {**NUMBER, "multipleOf": 3}),
    "multiple of a fraction": ({**NUMBER, "multipleOf": 0.3}, {**NUMBER, "multipleOf": 0.1}),
    "no multiple of three": (
        {"type": "integer", "minimum": 1, "multipleOf": 2, "not": {"multipleOf": 3}},
        {"type": "integer", "minimum": 1, "multipleOf": 2},
    ),
    "whole multiples": ({**NUMBER, "multipleOf": 2}, {"type": "integer"}),
    "small range in enum": ({"type": "integer", "minimum": 1, "maximum": 3}, {"enum": [1, 2, 3, 4]}),
    "beyond 2^53": ({"type": "integer", "minimum": 2**53 + 2}, {"type": "integer", "minimum": 2**53 + 1}),
    "minLength": ({**TEXT, "minLength": 3}, {**TEXT, "minLength": 2}),
    "maxLength": ({**TEXT, "maxLength": 3}, {**TEXT, "maxLength": 4}),
    "empty text": ({**TEXT, "maxLength": 0}, {"enum": ["", "x"]}),
    "pattern dropped": ({**TEXT, "pattern": "^B-[0-9]+$"}, TEXT),
    "enum in pattern": ({"enum": ["B-1", "B-2"]}, {**TEXT, "pattern": "^B-[0-9]+$"}),
    "required": ({**A, "required": ["a"]}, A),
    "property narrowed": (
        {"type": "object", "properties": {"a": {"const": "x"}}},
        {"type": "object", "properties": {"a": TEXT}},
    ),
    "closed in open": ({**CLOSED, "properties": {"a": TEXT}}, A),
    "fewer in closed": (CLOSED, {**CLOSED, "properties": {"a": TEXT}}),
    "others narrowed": (
        {"type": "object", "additionalProperties": {"type": "integer"}},
        {"type": "object", "additionalProperties": NUMBER},
    ),
    "names of several kinds": (
        {"type": "object", "propertyNames": {"enum": ["a", "x1"]}},
        {"type": "object", "propertyNames": {"anyOf": [{"enum": ["a", "b"]}, {"pattern": "^x"}]}},
    ),
    "names listed or of any kind": (
        {"type": "object", "propertyNames": {"enum": ["a"]}},
        {"type": "object", "propertyNames": {"anyOf": [{"enum": ["a"]}, {"type": "string"}]}},
    ),
    "names with signs in them": (
        {**CLOSED, "properties": {"a.b": TEXT}},
        {**CLOSED, "properties": {"a.b": TEXT, "c[0]": TEXT, "\U0001f600|": TEXT}},
    ),
    "minProperties": ({"type": "object", "minProperties": 2}, {"type": "object", "minProperties": 1}),
    "maxProperties": ({"type": "object", "maxProperties": 1}, {"type": "object", "maxProperties": 2}),
    "required counts as members": (
        {"type": "object", "required": ["a", "b"]},
        {"type": "object", "minProperties": 2},
    ),
    "minItems": ({"type": "array", "minItems": 1}, {"type": "array"}),
    "maxItems": ({"type": "array", "maxItems": 1}, {"type": "array", "maxItems": 2}),
    "items narrowed": ({"type": "array", "items": {"type": "integer"}}, {"type": "array", "items": NUMBER}),
    "prefix narrowed": (
        {"type": "array", "prefixItems": [{"const": 1}], "items": NUMBER},
        {"type": "array", "prefixItems": [NUMBER], "items": NUMBER},
    ),
    "unique": ({"type": "array", "items": TEXT, "uniqueItems": True}, {"type": "array", "items": TEXT}),
    "a conjunction": ({"allOf": [TEXT, {"minLength": 2}]}, TEXT),
    "a definition": (
        {"$ref": "#/$defs/n", "$defs": {"n": {"type": "integer"}}},
        {"$ref": "#/$defs/m", "$defs": {"m": NUMBER}},
    ),
    "a definition with siblings": (
        {"$ref": "#/$defs/n", "minimum": 2, "$defs": {"n": {"type": "integer"}}},
        {"type": "integer", "minimum": 1},
    ),
    "one of apart": (TEXT, {"oneOf": [TEXT, {"type": "null"}]}),
    "deep": (
        {
            "type": "array",
            "items": {"type": "object", "properties": {"a": {"type": "array", "items": {"const": 1}}}},
        },
        {"type": "array", "items": {"type": "object", "properties": {"a": {"type": "array"}}}},
    ),
}


@pytest.mark.parametrize("name", PAIRS)
def test_narrower_and_wider(name):
    narrow, wide = PAIRS[name]
    assert compare_schemas(narrow, wide, "input").verdict == "compatible"
    assert compare_schemas(wide, narrow, "output").verdict == "compatible"
    for found in (compare_schemas(wide, narrow, "input"), compare_schemas(narrow, wide, "output")):
        assert found.verdict == "breaking"
        assert found.witness is not None
        assert jsonschema.Draft202012Validator(wide).is_valid(found.witness.instance)
        assert not jsonschema.Draft202012Validator(narrow).is_valid(found.witness.instance)


SAME: dict[str, tuple[Any, Any]] = {
    "types as a union": ({"type": ["string", "null"]}, {"anyOf": [TEXT, {"type": "null"}]}),
    "nullable by enum": ({"enum": [None]}, {"type": "null"}),
    "true and empty": (True, {}),
    "order of required": ({**A, "required": ["a", "b"]}, {**A, "required": ["b", "a"]}),
    "order of enum": ({"enum": [1, "a"]}, {"enum": ["a", 1.0]}),
    "bounds said twice": ({**NUMBER, "minimum": 1}, {"allOf": [NUMBER, {"minimum": 1}, {"minimum": 0}]}),
    "a definition inlined": ({"$ref": "#/$defs/t", "$defs": {"t": TEXT}}, TEXT),
    "integer by step": ({"type": "integer"}, {"type": "number", "multipleOf": 1}),
    "formats do not validate": ({**TEXT, "format": "date"}, {**TEXT, "format": "uri"}),
    "booleans spelt out": ({"type": "boolean"}, {"enum": [True, False]}),
}


@pytest.mark.parametrize("name", SAME)
def test_other_words_for_the_same(name):
    old, new = SAME[name]
    for position in ("input", "output"):
        assert compare_schemas(old, new, position).verdict == "identical"  # type: ignore[arg-type]
        assert compare_schemas(new, old, position).verdict == "identical"  # type: ignore[arg-type]


DRAFT_07 = {"$schema": "http://json-schema.org/draft-07/schema#"}
ASKING = [
    ({"dependentRequired": {"a": ["b"]}}, {"dependentRequired": {"a": ["b", "c"]}}, "breaking"),
    ({"dependentRequired": {"a": ["b", "c"]}}, {"dependentRequired": {"a": ["b"]}}, "compatible"),
    ({"dependentRequired": {"a": ["b"]}}, {"dependentSchemas": {"a": {"required": ["b"]}}}, "identical"),
    (
        {"dependentSchemas": {"a": {"maxProperties": 3}}},
        {"dependentSchemas": {"a": {"maxProperties": 2}}},
        "breaking",
    ),
    ({"not": {"required": ["a"]}}, {"properties": {"a": False}}, "compatible"),
    ({"not": {"type": "string"}}, {"type": ["number", "object", "array", "null", "boolean"]}, "identical"),
    ({"not": {}}, False, "identical"),
    ({"enum": [1, 2]}, {"not": {"enum": [3]}}, "compatible"),
    ({"enum": [1, 3]}, {"not": {"enum": [3]}}, "breaking"),
    (
        {"$defs": {"n": {"$anchor": "num", "type": "integer"}}, "$ref": "#num"},
        {"type": "integer"},
        "identical",
    ),
    ({"$id": "https://pellam.example/s", "type": "integer"}, {"type": "number"}, "compatible"),
    (
        {"type": "object", "dependencies": {"a": ["b"]}},
        {"type": "object", "dependencies": {"a": ["c"]}},
        "identical",
    ),
    (
        {**DRAFT_07, "type": "object", "dependencies": {"a": ["b"]}},
        {**DRAFT_07, "type": "object", "dependencies": {"a": ["b", "c"]}},
        "breaking",
    ),
    (
        {**DRAFT_07, "definitions": {"x": {"type": "string"}}, "$ref": "#/definitions/x", "minLength": 9},
        {"type": "string"},
        "identical",
    ),
    (
        {**DRAFT_07, "items": [{"type": "string"}], "additionalItems": False},
        {"prefixItems": [{"type": "string"}], "items": False},
        "identical",
    ),
]


@pytest.mark.parametrize(("old", "new", "verdict"), ASKING)
def test_what_the_presence_of_a_member_asks_for_and_the_older_dialect(old, new, verdict):
    comparison = compare_schemas(old, new, "input")
    assert comparison.verdict == verdict
    if verdict == "breaking":
        keywords = {one.keyword for one in comparison.differences if one.witness}
        assert keywords - {"anyOf"}
