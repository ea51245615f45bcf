"""Laws of containment: what widens never breaks, what narrows is seen, and readings nest."""

from __future__ import annotations

import copy
from typing import Any

from hypothesis import example, given, settings
from hypothesis import strategies as st

from tallshelf.core.compat import compare_schemas
from tests.core.schemas import SCHEMAS

SETTINGS = settings(max_examples=150)
OBJECTS = st.dictionaries(st.sampled_from("abc"), SCHEMAS, min_size=1, max_size=3).map(
    lambda properties: {"type": "object", "properties": properties}
)


@SETTINGS
@given(SCHEMAS, SCHEMAS)
def test_a_union_takes_all_that_its_members_take(one, other):
    for member in (one, other):
        assert compare_schemas(member, {"anyOf": [one, other]}, "input").verdict != "breaking"
        assert compare_schemas({"anyOf": [one, other]}, member, "output").verdict != "breaking"


@SETTINGS
@given(SCHEMAS, SCHEMAS)
def test_a_conjunction_is_inside_each_of_its_members(one, other):
    for member in (one, other):
        assert compare_schemas({"allOf": [one, other]}, member, "input").verdict != "breaking"


@SETTINGS
@given(SCHEMAS)
def test_everything_takes_anything_and_nothing_takes_nothing(schema):
    assert compare_schemas(schema, True, "input").verdict in ("compatible", "identical")
    assert compare_schemas(False, schema, "input").verdict in ("compatible", "identical")


@SETTINGS
@given(SCHEMAS, SCHEMAS)
def test_positions_mirror_each_other(one, other):
    forth = compare_schemas(one, other, "input")
    back = compare_schemas(other, one, "output")
    assert forth.verdict == back.verdict


@SETTINGS
@given(SCHEMAS, SCHEMAS, st.sampled_from(["input", "output"]))
def test_what_is_safe_as_written_is_safe_as_declared(one, other, position):
    if compare_schemas(one, other, position).verdict in ("compatible", "identical"):
        assert compare_schemas(one, other, position, "as-declared").verdict != "breaking"


@SETTINGS
@given(OBJECTS, SCHEMAS)
def test_a_new_optional_parameter_never_breaks_as_declared(schema, parameter):
    wider = copy.deepcopy(schema)
    wider["properties"]["new"] = parameter
    found = compare_schemas(schema, wider, "input", "as-declared")
    assert found.verdict in ("compatible", "identical")


@SETTINGS
@given(OBJECTS)
def test_a_newly_required_parameter_always_breaks(schema):
    stricter: dict[str, Any] = {**copy.deepcopy(schema), "required": ["new"]}
    stricter["properties"]["new"] = {"type": "string"}
    found = compare_schemas(schema, stricter, "input", "as-declared")
    assert found.verdict == "breaking"
    assert any(one.message == "`new` is new and required" and one.witness for one in found.differences)


@SETTINGS
@given(SCHEMAS)
@example(
    {
        "not": {
            "oneOf": [
                {
                    "type": "object",
                    "properties": {},
                    "additionalProperties": {},
                    "propertyNames": {"pattern": "^a"},
                },
                {"type": "object", "additionalProperties": {}},
            ]
        }
    }
)
def test_annotations_change_nothing(schema):
    if isinstance(schema, dict):
        noted = {**schema, "title": "T", "description": "d", "x-own": [1], "deprecated": True}
        assert compare_schemas(schema, noted, "input").verdict == "identical"
