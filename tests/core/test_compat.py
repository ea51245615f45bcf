"""Containment of schemas: laws, a table of sentences, and what must stay undecided."""

from __future__ import annotations

import copy
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.core.compat import compare_schemas
from tallshelf.core.errors import BadArgument
from tests.core.schemas import INSTANCES, REFERRING, SCHEMAS

POSITIONS = st.sampled_from(["input", "output"])


def accepts(schema: Any, instance: Any) -> bool:
    return jsonschema.Draft202012Validator(schema).is_valid(instance)


@settings(max_examples=600)
@given(
    st.one_of(SCHEMAS, REFERRING),
    st.one_of(SCHEMAS, REFERRING),
    POSITIONS,
    st.lists(INSTANCES, min_size=10, max_size=30),
)
def test_a_verdict_agrees_with_validating_instances(old, new, position, instances):
    before = copy.deepcopy((old, new))
    found = compare_schemas(old, new, position)
    assert (old, new) == before
    producer, consumer = (old, new) if position == "input" else (new, old)
    if found.verdict == "breaking":
        assert found.witness is not None
        assert accepts(producer, found.witness.instance)
        assert not accepts(consumer, found.witness.instance)
        return
    assert found.witness is None
    for instance in instances:
        if found.verdict == "compatible":
            assert not accepts(producer, instance) or accepts(consumer, instance)
        if found.verdict == "identical":
            assert accepts(producer, instance) == accepts(consumer, instance)


@settings(max_examples=100)
@given(SCHEMAS, POSITIONS, st.sampled_from(["as-written", "as-declared"]))
def test_a_schema_is_identical_to_itself_in_any_order_of_keys(schema, position, reading):
    def reordered(value: Any) -> Any:
        if isinstance(value, dict):
            return {key: reordered(value[key]) for key in reversed(value)}
        return [reordered(one) for one in value] if isinstance(value, list) else value

    assert compare_schemas(schema, reordered(schema), position, reading).verdict == "identical"


def obj(required: list[str] | None = None, **properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, **({"required": required} if required else {})}


TEXT = {"type": "string"}
NUMBER = {"type": "number"}


@pytest.mark.parametrize(
    ("old", "new", "position", "verdict", "message"),
    [
        (obj(a=TEXT), obj(["a"], a=TEXT), "input", "breaking", "`a` is now required"),
        (obj(a=TEXT), obj(["b"], a=TEXT, b=TEXT), "input", "breaking", "`b` is new and required"),
        (obj(["a"], a=TEXT), obj(a=TEXT), "input", "compatible", "`a` is no longer required"),
        (obj(["a"], a=TEXT), obj(a=TEXT), "output", "breaking", "`a` may now be missing"),
        (obj(a=TEXT), obj(a=TEXT, b=TEXT), "input", "compatible", "`b` is new and optional"),
        (obj(a=TEXT, b=TEXT), obj(a=TEXT), "input", "compatible", "`b` is no longer declared"),
        (
            obj(u={"enum": ["metres", "fathoms"]}),
            obj(u={"enum": ["metres"]}),
            "input",
            "breaking",
            '`u` no longer accepts "fathoms"',
        ),
        (obj(u={"enum": ["m"]}), obj(u={"enum": ["m", "ft"]}), "output", "breaking", '`u` may now be "ft"'),
        (obj(n=NUMBER), obj(n={"type": "integer"}), "input", "breaking", "`n` was number and is now integer"),
        (
            obj(n={"type": "number", "minimum": 1}),
            obj(n={"type": "number", "minimum": 5}),
            "input",
            "breaking",
            "`n` must now be at least 5 (was 1)",
        ),
        (obj(s={"type": ["string", "null"]}), obj(s=TEXT), "input", "breaking", "`s` no longer accepts null"),
        (obj(s=TEXT), obj(s={"type": "string", "maxLength": 3}), "input", "breaking", "at most 3 characters"),
        (
            obj(rows={"type": "array", "items": obj(["d"], d=NUMBER)}),
            obj(rows={"type": "array", "items": obj(d=NUMBER)}),
            "output",
            "breaking",
            "`rows[].d` may now be missing",
        ),
        (
            {**obj(a=TEXT, b=TEXT), "additionalProperties": False},
            {**obj(a=TEXT), "additionalProperties": False},
            "input",
            "breaking",
            "`b` is no longer accepted",
        ),
    ],
)
def test_differences_are_told_in_plain_english(old, new, position, verdict, message):
    found = compare_schemas(old, new, position, reading="as-declared")
    assert found.verdict == verdict
    assert message in "; ".join(one.message for one in found.differences)
    assert all(one.witness for one in found.differences if one.verdict == "breaking")


def test_a_new_optional_parameter_breaks_only_as_written():
    old, new = obj(a=TEXT), obj(a=TEXT, b=TEXT)
    assert compare_schemas(old, new, "input", "as-written").verdict == "breaking"
    declared = compare_schemas(old, new, "input", "as-declared")
    assert declared.verdict == "compatible"
    assert "undeclared-member" in {one.keyword for one in declared.differences}


def test_closing_stops_at_constraints_that_may_name_members():
    old = {"type": "object", "patternProperties": {"^x": NUMBER}}
    assert compare_schemas(old, obj(x1=TEXT), "input", "as-declared").verdict != "compatible"


def test_recursion_is_followed_and_ends():
    def tree(leaf: dict[str, Any]) -> dict[str, Any]:
        return {"$ref": "#/$defs/n", "$defs": {"n": obj(next={"$ref": "#/$defs/n"}, leaf=leaf)}}

    assert compare_schemas(tree(TEXT), tree({"type": ["string", "null"]}), "input").verdict == "compatible"
    found = compare_schemas(tree(TEXT), tree({"type": "string", "maxLength": 2}), "input")
    assert found.verdict == "breaking"


@pytest.mark.parametrize(
    ("old", "new", "reason"),
    [
        ({"type": "strin"}, TEXT, "not a valid JSON Schema"),
        ({"$ref": "https://elsewhere.example/s"}, TEXT, "cannot be used"),
        ({"$ref": "#/$defs/gone"}, TEXT, "cannot be used"),
        ({"$schema": "http://json-schema.org/draft-04/schema#"}, TEXT, "draft-04"),
        (
            {"type": "string", "pattern": "^(a|b)*a(a|b){30}$"},
            {"type": "string", "pattern": "^(b|a)*a(b|a){30}$"},
            "pattern",
        ),
        (
            {"anyOf": [{"anyOf": [{"minLength": i * 9 + j} for j in range(20)]} for i in range(20)]},
            {"allOf": [{"anyOf": [{"type": t} for t in ("string", "null", "array")]}] * 9},
            "anyOf",
        ),
    ],
)
def test_what_is_not_decided_says_why(old, new, reason):
    found = compare_schemas(old, new, "input")
    assert found.verdict == "undecided"
    assert reason in found.reason


def test_numbers_are_compared_exactly_and_true_is_not_one():
    big = 2**53
    assert compare_schemas({"const": big}, {"const": big + 1}, "input").verdict == "breaking"
    assert compare_schemas({"const": 1}, {"const": 1.0}, "input").verdict == "identical"
    assert compare_schemas({"const": 1}, {"const": True}, "input").verdict == "breaking"


def test_an_unknown_position_is_refused():
    with pytest.raises(BadArgument):
        compare_schemas({}, {}, "sideways")  # type: ignore[arg-type]
