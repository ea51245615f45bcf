"""Pairs of schemas that accept the same, by name: rewritings that a release must not be blamed for."""

from __future__ import annotations

from typing import Any

S: dict[str, Any] = {"type": "string"}
N: dict[str, Any] = {"type": "number"}
I: dict[str, Any] = {"type": "integer"}  # noqa: E741
ANY_TYPE = ["null", "boolean", "number", "string", "array", "object"]


def obj(required: list[str] | None = None, **properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, **({"required": required} if required else {})}


def arr(**more: Any) -> dict[str, Any]:
    return {"type": "array", **more}


BERTH = obj(
    ["berth_id"], berth_id={**S, "minLength": 1}, depth={**N, "minimum": 0}, tide={"enum": ["in", "out"]}
)
CLOSED = {**BERTH, "additionalProperties": False}
TREE = {"$defs": {"n": obj(next={"$ref": "#/$defs/n"}, leaf=S)}, "$ref": "#/$defs/n"}

SCALARS: dict[str, tuple[Any, Any]] = {
    "empty and true": ({}, True),
    "false and not anything": (False, {"not": {}}),
    "false and no value": (False, {"enum": []}),
    "false and impossible bounds": (False, {"type": "number", "minimum": 2, "maximum": 1}),
    "false and impossible lengths": (False, {**S, "minLength": 3, "maxLength": 2}),
    "false and two types": (False, {"allOf": [S, N]}),
    "type in a list": (S, {"type": ["string"]}),
    "types in another order": ({"type": ["string", "null"]}, {"type": ["null", "string"]}),
    "types and anyOf": ({"type": ["string", "null"]}, {"anyOf": [S, {"type": "null"}]}),
    "types and oneOf": ({"type": ["string", "null"]}, {"oneOf": [S, {"type": "null"}]}),
    "number takes integer": (N, {"type": ["integer", "number"]}),
    "integer as a multiple": (I, {**N, "multipleOf": 1}),
    "integer twice": (I, {"allOf": [N, I]}),
    "all types named": ({}, {"type": ANY_TYPE}),
    "const and enum": ({"const": "in"}, {"enum": ["in"]}),
    "enum in another order": ({"enum": ["in", "out"]}, {"enum": ["out", "in"]}),
    "enum and consts": ({"enum": ["in", "out"]}, {"anyOf": [{"const": "in"}, {"const": "out"}]}),
    "enum and consts, one of": ({"enum": ["in", "out"]}, {"oneOf": [{"const": "in"}, {"const": "out"}]}),
    "enum with its type": ({"enum": ["in", "out"]}, {**S, "enum": ["in", "out"]}),
    "enum with a value of no type": ({**S, "enum": ["in"]}, {**S, "enum": ["in", 1]}),
    "boolean as values": ({"type": "boolean"}, {"enum": [True, False]}),
    "null as a value": ({"type": "null"}, {"const": None}),
    "whole numbers as values": ({**I, "minimum": 1, "maximum": 3}, {"enum": [1, 2, 3]}),
    "1 and 1.0": ({"const": 1}, {"const": 1.0}),
    "minimum of whole numbers": ({**I, "exclusiveMinimum": 0}, {**I, "minimum": 1}),
    "maximum of whole numbers": ({**I, "exclusiveMaximum": 10}, {**I, "maximum": 9}),
    "a bound between whole numbers": ({**I, "minimum": 0.5}, {**I, "minimum": 1}),
    "a weaker bound beside": ({**N, "minimum": 5}, {"allOf": [{**N, "minimum": 5}, {"minimum": 1}]}),
    "two bounds": ({**N, "minimum": 1, "exclusiveMinimum": 1}, {**N, "exclusiveMinimum": 1}),
    "a single number": ({**N, "minimum": 4, "maximum": 4}, {"const": 4}),
    "multiples of two and three": (
        {**I, "multipleOf": 6},
        {"allOf": [{**I, "multipleOf": 2}, {"multipleOf": 3}]},
    ),
    "a multiple said twice": ({**N, "multipleOf": 4}, {"allOf": [{**N, "multipleOf": 4}, {"multipleOf": 2}]}),
    "tenths": ({**N, "multipleOf": 0.1}, {**N, "multipleOf": 0.10}),
    "whole multiples of a half": ({**I, "multipleOf": 0.5}, I),
    "numbers cut in two": (N, {"anyOf": [{**N, "maximum": 0}, {**N, "minimum": 0}]}),
    "numbers cut in three": (
        {**N, "minimum": 0, "maximum": 9},
        {"anyOf": [{**N, "minimum": a, "maximum": a + 3} for a in (0, 3, 6)]},
    ),
    "whole numbers cut between": (I, {"anyOf": [{**I, "maximum": 4}, {**I, "minimum": 5}]}),
    "minLength 0": (S, {**S, "minLength": 0}),
    "the empty text": ({**S, "maxLength": 0}, {"const": ""}),
    "not empty by a pattern": ({**S, "minLength": 1}, {**S, "pattern": "^[\\s\\S]"}),
    "lengths cut in two": (S, {"anyOf": [{**S, "maxLength": 3}, {**S, "minLength": 4}]}),
    "length by a pattern": (
        {**S, "pattern": "^[a-z]{3}$"},
        {**S, "pattern": "^[a-z][a-z][a-z]$", "minLength": 3},
    ),
    "digits": ({**S, "pattern": "^\\d+$"}, {**S, "pattern": "^[0-9]+$"}),
    "digits, at least one": ({**S, "pattern": "^[0-9]+$"}, {**S, "pattern": "^[0-9][0-9]*$"}),
    "words": ({**S, "pattern": "^\\w*$"}, {**S, "pattern": "^[A-Za-z0-9_]*$"}),
    "a group without a name": ({**S, "pattern": "^(in|out)$"}, {**S, "pattern": "^(?:in|out)$"}),
    "a pattern of two texts": ({**S, "pattern": "^(in|out)$"}, {"enum": ["in", "out"]}),
    "found anywhere": ({**S, "pattern": "B-"}, {**S, "pattern": "^[\\s\\S]*B-[\\s\\S]*$"}),
    "a pattern that takes all": (S, {**S, "pattern": ""}),
    "two patterns as one": (
        {"allOf": [{**S, "pattern": "^B"}, {"pattern": "9$"}]},
        {**S, "pattern": "^B[\\s\\S]*9$"},
    ),
    "a format is a note": (S, {**S, "format": "date"}),
    "content is a note": (S, {**S, "contentMediaType": "application/json"}),
    "titles are notes": (
        S,
        {**S, "title": "T", "description": "d", "default": 1, "examples": [2], "$comment": "c"},
    ),
    "unknown keywords are notes": (S, {**S, "x-order": 3}),
    "bounds of another type": (S, {**S, "minimum": 3, "maxItems": 2}),
}

LOGIC: dict[str, tuple[Any, Any]] = {
    "allOf of one": (BERTH, {"allOf": [BERTH]}),
    "anyOf of one": (BERTH, {"anyOf": [BERTH]}),
    "oneOf of one": (BERTH, {"oneOf": [BERTH]}),
    "anyOf twice": (BERTH, {"anyOf": [BERTH, BERTH]}),
    "anyOf with nothing": (BERTH, {"anyOf": [BERTH, False]}),
    "oneOf with nothing": (BERTH, {"oneOf": [False, BERTH]}),
    "allOf with anything": (BERTH, {"allOf": [True, BERTH, {}]}),
    "allOf in another order": ({"allOf": [S, {"minLength": 2}]}, {"allOf": [{"minLength": 2}, S]}),
    "not not": (BERTH, {"not": {"not": BERTH}}),
    "not a type": ({"not": S}, {"type": [one for one in ANY_TYPE if one != "string"]}),
    "neither": ({"not": {"anyOf": [S, N]}}, {"allOf": [{"not": S}, {"not": N}]}),
    "not both": ({"not": {"allOf": [S, {"minLength": 2}]}}, {"anyOf": [{"not": S}, {**S, "maxLength": 1}]}),
    "not under a bound": ({**N, "not": {"maximum": 3}}, {**N, "exclusiveMinimum": 3}),
    "not a value": ({"enum": ["in", "out", "slack"], "not": {"const": "slack"}}, {"enum": ["in", "out"]}),
    "oneOf of apart types": ({"oneOf": [S, I]}, {"anyOf": [S, I]}),
    "oneOf of apart bounds": (
        {"oneOf": [{**N, "maximum": 0}, {**N, "minimum": 5}]},
        {"anyOf": [{**N, "maximum": 0}, {**N, "minimum": 5}]},
    ),
    "oneOf that overlaps": ({"oneOf": [S, {"type": ["string", "null"]}]}, {"type": "null"}),
    "oneOf by a mark": (
        {"oneOf": [obj(["k", "r"], k={"const": "circle"}, r=N), obj(["k", "w"], k={"const": "box"}, w=N)]},
        {"anyOf": [obj(["k", "w"], k={"const": "box"}, w=N), obj(["k", "r"], k={"const": "circle"}, r=N)]},
    ),
    "a product taken out": (
        {"anyOf": [{**S, "minLength": 2}, {**S, "maxLength": 0}]},
        {**S, "anyOf": [{"minLength": 2}, {"maxLength": 0}]},
    ),
    "a product multiplied": (
        {"allOf": [{"anyOf": [S, N]}, {"anyOf": [S, {"type": "null"}]}]},
        {"anyOf": [S, {"allOf": [N, {"type": "null"}]}]},
    ),
    "absorbed": ({"anyOf": [S, {**S, "minLength": 3}]}, S),
    "if that always holds": ({"if": True, "then": BERTH, "else": False}, BERTH),
    "if that never holds": ({"if": False, "then": False, "else": BERTH}, BERTH),
    "if as anyOf": (
        {"if": S, "then": {"minLength": 1}, "else": N},
        {"anyOf": [{**S, "minLength": 1}, N]},
    ),
    "if without then": ({"if": S, "else": N}, {"type": ["string", "number"]}),
    "if without else": ({"if": S, "then": {"minLength": 2}}, {"anyOf": [{**S, "minLength": 2}, {"not": S}]}),
    "then without if": ({**S, "then": False}, S),
    "if as not": ({"if": {"const": "slack"}, "then": False}, {"not": {"const": "slack"}}),
}

OBJECTS: dict[str, tuple[Any, Any]] = {
    "properties in another order": (obj(a=S, b=N), obj(b=N, a=S)),
    "required in another order": (obj(["a", "b"], a=S, b=N), obj(["b", "a"], a=S, b=N)),
    "required of none": (obj(a=S), {**obj(a=S), "required": []}),
    "others are welcome": (obj(a=S), {**obj(a=S), "additionalProperties": True}),
    "others are anything": (obj(a=S), {**obj(a=S), "additionalProperties": {}}),
    "no others, said with not": (CLOSED, {**BERTH, "additionalProperties": {"not": {}}}),
    "closed by unevaluated": (CLOSED, {**BERTH, "unevaluatedProperties": False}),
    "closed around allOf": (
        {**obj(a=S, b=N), "additionalProperties": False},
        {"allOf": [obj(a=S), obj(b=N)], "unevaluatedProperties": False},
    ),
    "closed around a reference": (
        {**obj(a=S, b=N), "additionalProperties": False},
        {**obj(b=N), "$ref": "#/$defs/x", "unevaluatedProperties": False, "$defs": {"x": obj(a=S)}},
    ),
    "closed by names": (
        {"type": "object", "properties": {"a": True, "b": True}, "additionalProperties": False},
        {"type": "object", "propertyNames": {"enum": ["a", "b"]}},
    ),
    "names by a pattern": (
        {"type": "object", "propertyNames": {"pattern": "^x-"}},
        {"type": "object", "patternProperties": {"^x-": True}, "additionalProperties": False},
    ),
    "a pattern for one name": (obj(a=S), {"type": "object", "patternProperties": {"^a$": S}}),
    "a pattern for two names": (obj(a=S, b=S), {"type": "object", "patternProperties": {"^(a|b)$": S}}),
    "a pattern for all names": (
        {"type": "object", "additionalProperties": N},
        {"type": "object", "patternProperties": {"": N}},
    ),
    "a property of anything": ({"type": "object"}, obj(a=True, b={})),
    "required on its own": (obj(["a"], a=S), {"allOf": [obj(a=S), {"required": ["a"]}]}),
    "split over allOf": (obj(["a"], a=S, b=N), {"allOf": [obj(["a"], a=S), obj(b=N)]}),
    "a member that may not be": (
        {"type": "object", "properties": {"a": False}},
        {"type": "object", "not": {"required": ["a"]}},
    ),
    "no member at all": ({"type": "object", "maxProperties": 0}, {"const": {}}),
    "not empty": ({"type": "object", "minProperties": 1}, {"type": "object", "not": {"maxProperties": 0}}),
    "required counts": (obj(["a", "b"], a=S, b=S), {**obj(["a", "b"], a=S, b=S), "minProperties": 2}),
    "closed counts": (CLOSED, {**CLOSED, "maxProperties": 3}),
    "dependentRequired as anyOf": (
        {"type": "object", "dependentRequired": {"a": ["b"]}},
        {"type": "object", "anyOf": [{"not": {"required": ["a"]}}, {"required": ["a", "b"]}]},
    ),
    "dependentRequired as if": (
        {"type": "object", "dependentRequired": {"a": ["b"]}},
        {"type": "object", "if": {"required": ["a"]}, "then": {"required": ["b"]}},
    ),
    "dependentSchemas as dependentRequired": (
        {"type": "object", "dependentRequired": {"a": ["b"]}},
        {"type": "object", "dependentSchemas": {"a": {"required": ["b"]}}},
    ),
    "either of two": (
        {**obj(a=S, b=S), "anyOf": [{"required": ["a"]}, {"required": ["b"]}]},
        {**obj(a=S, b=S), "not": {"allOf": [{"not": {"required": ["a"]}}, {"not": {"required": ["b"]}}]}},
    ),
    "exactly one of two": (
        {"type": "object", "oneOf": [{"required": ["a"]}, {"required": ["b"]}]},
        {
            "type": "object",
            "anyOf": [
                {"required": ["a"], "properties": {"b": False}},
                {"required": ["b"], "properties": {"a": False}},
            ],
        },
    ),
    "an optional member cut in two": (
        obj(a={"enum": ["x", "y"]}),
        {"anyOf": [obj(a={"const": "x"}), obj(a={"const": "y"})]},
    ),
    "a required member cut in two": (
        obj(["a"], a={"type": ["string", "null"]}, b=N),
        {"anyOf": [obj(["a"], a=S, b=N), obj(["a"], a={"type": "null"}, b=N)]},
    ),
    "a deep member": (obj(a=obj(b=obj(c=I))), obj(a=obj(b=obj(c={**N, "multipleOf": 1})))),
}

ARRAYS: dict[str, tuple[Any, Any]] = {
    "elements of anything": (arr(), arr(items={})),
    "no element": (arr(maxItems=0), {"const": []}),
    "no element, by items": (arr(maxItems=0), arr(items=False)),
    "a tuple that ends": (arr(prefixItems=[S, N], items=False), arr(prefixItems=[S, N], maxItems=2)),
    "a tuple like its rest": (arr(items=S), arr(prefixItems=[S], items=S)),
    "a tuple and unevaluated": (
        arr(prefixItems=[S], items=False),
        arr(prefixItems=[S], unevaluatedItems=False),
    ),
    "unevaluated as items": (arr(items=N), arr(unevaluatedItems=N)),
    "not empty by contains": (arr(minItems=1), arr(contains={})),
    "contains of any number": (arr(), arr(contains=S, minContains=0)),
    "contains as not": (arr(contains=S), arr(**{"not": {"items": {"not": S}}})),
    "contains none": (arr(items={"not": S}), arr(**{"not": {"contains": S}})),
    "contains at most none": (arr(items={"not": S}), arr(contains=S, minContains=0, maxContains=0)),
    "minContains is minItems": (arr(minItems=2), arr(contains=True, minContains=2)),
    "maxContains is maxItems": (arr(maxItems=2), arr(contains=True, minContains=0, maxContains=2)),
    "one element is unlike itself": (arr(maxItems=1), arr(maxItems=1, uniqueItems=True)),
    "uniqueItems false": (arr(items=S), arr(items=S, uniqueItems=False)),
    "unlike values are few": (
        arr(items={"enum": ["a", "b"]}, uniqueItems=True),
        arr(items={"enum": ["a", "b"]}, uniqueItems=True, maxItems=2),
    ),
    "lengths cut in two": (arr(items=S), {"anyOf": [arr(items=S, maxItems=1), arr(items=S, minItems=2)]}),
    "elements in allOf": (
        arr(items={**S, "minLength": 1}),
        {"allOf": [arr(items=S), arr(items={"minLength": 1})]},
    ),
    "first element in allOf": (
        arr(prefixItems=[S, N]),
        {"allOf": [arr(prefixItems=[S]), arr(prefixItems=[{}, N])]},
    ),
}

REFERENCES: dict[str, tuple[Any, Any]] = {
    "inlined": (obj(a=S), {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": S}}),
    "definitions moved": (
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": S}},
        {**obj(a={"$ref": "#/definitions/t"}), "definitions": {"t": S}},
    ),
    "definitions renamed": (
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": S}},
        {**obj(a={"$ref": "#/$defs/u"}), "$defs": {"u": S}},
    ),
    "definitions not used": (obj(a=S), {**obj(a=S), "$defs": {"t": N}}),
    "by an anchor": (obj(a=S), {**obj(a={"$ref": "#t"}), "$defs": {"t": {"$anchor": "t", **S}}}),
    "by an identifier": (
        obj(a=S),
        {"$id": "https://s.example/root", **obj(a={"$ref": "t"}), "$defs": {"t": {"$id": "t", **S}}},
    ),
    "through two": (
        obj(a=S),
        {**obj(a={"$ref": "#/$defs/t"}), "$defs": {"t": {"$ref": "#/$defs/u"}, "u": S}},
    ),
    "beside a constraint": (
        obj(a={**S, "minLength": 2}),
        {**obj(a={"$ref": "#/$defs/t", "minLength": 2}), "$defs": {"t": S}},
    ),
    "an escaped name": (obj(a=S), {**obj(a={"$ref": "#/$defs/x~1y%25"}), "$defs": {"x/y%": S}}),
    "a dynamic reference": (
        obj(a=S),
        {**obj(a={"$dynamicRef": "#t"}), "$defs": {"t": {"$dynamicAnchor": "t", **S}}},
    ),
    "recursion unrolled": (TREE, {**obj(next={"$ref": "#/$defs/n"}, leaf=S), "$defs": TREE["$defs"]}),
    "recursion through the root": (obj(next={"$ref": "#"}, leaf=S), TREE),
    "recursion with two names": (
        TREE,
        {
            "$defs": {
                "a": obj(next={"$ref": "#/$defs/b"}, leaf=S),
                "b": obj(next={"$ref": "#/$defs/a"}, leaf=S),
            },
            "$ref": "#/$defs/a",
        },
    ),
}

_07 = "http://json-schema.org/draft-07/schema#"
DIALECTS: dict[str, tuple[Any, Any]] = {
    "the dialect named": (BERTH, {"$schema": "https://json-schema.org/draft/2020-12/schema", **BERTH}),
    "another dialect, same words": (BERTH, {"$schema": _07, **BERTH}),
    "a tuple of draft-07": (
        arr(prefixItems=[S, N], items=False),
        {"$schema": _07, **arr(items=[S, N], additionalItems=False)},
    ),
    "dependencies of draft-07": (
        {"type": "object", "dependentRequired": {"a": ["b"]}, "dependentSchemas": {"c": {"required": ["d"]}}},
        {"$schema": _07, "type": "object", "dependencies": {"a": ["b"], "c": {"required": ["d"]}}},
    ),
    "beside a reference of draft-07": (
        {"$schema": _07, **obj(a={"$ref": "#/definitions/t", "minLength": 9}), "definitions": {"t": S}},
        obj(a=S),
    ),
    "dependencies say nothing in 2020-12": (
        {"type": "object"},
        {"type": "object", "dependencies": {"a": ["b"]}},
    ),
    "additionalItems say nothing in 2020-12": (
        arr(prefixItems=[S]),
        arr(prefixItems=[S], additionalItems=False),
    ),
}

PAIRS = {
    f"{family}: {name}": pair
    for family, pairs in (
        ("scalars", SCALARS),
        ("logic", LOGIC),
        ("objects", OBJECTS),
        ("arrays", ARRAYS),
        ("references", REFERENCES),
        ("dialects", DIALECTS),
    )
    for name, pair in pairs.items()
}
