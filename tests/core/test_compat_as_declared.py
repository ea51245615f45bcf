"""What a caller may send: accepted, refused or ignored; and what closing the producer leaves."""

from __future__ import annotations

import gc
from typing import Any

import jsonschema
import pytest

from tallshelf.core.compat import compare_schemas, stand_in
from tallshelf.core.compat._confirm import Judge, deciding
from tallshelf.core.compat._outcome import weight

TEXT = {"type": "string"}
FLAG = {"type": "boolean"}


def an_object(required: tuple[str, ...] = (), **properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, "required": list(required)}


def variant(kind: str, **more: Any) -> dict[str, Any]:
    return an_object(("kind",), kind={"const": kind}, **more)


IGNORED = {
    "an optional flag": (an_object(day=TEXT, dry_run=FLAG), an_object(day=TEXT), ["/dry_run"]),
    "a required one": (an_object(("day",), day=TEXT), an_object(), ["/day"]),
    "inside an object": (an_object(f=an_object(a=TEXT, b=TEXT)), an_object(f=an_object(a=TEXT)), ["/f/b"]),
    "inside a list": (
        an_object(f={"type": "array", "items": an_object(a=TEXT, b=TEXT)}),
        an_object(f={"type": "array", "items": an_object(a=TEXT)}),
        ["/f/0/b"],
    ),
    "names by a pattern": (
        {**an_object(a=TEXT), "patternProperties": {"^x_": TEXT}},
        an_object(a=TEXT),
        ["/x_"],
    ),
    "a map that became a record": (
        an_object(m={"type": "object", "additionalProperties": TEXT}),
        an_object(m=an_object(a=TEXT)),
        ["/m/other"],
    ),
    "of one variant": (
        {"oneOf": [variant("A", a=TEXT, b=TEXT), variant("B", b=TEXT)]},
        {"oneOf": [variant("B", b=TEXT), variant("A", a=TEXT)]},
        ["/b"],
    ),
    "of one list of types": (
        an_object(w={"anyOf": [TEXT, an_object(a=TEXT, b=TEXT)]}),
        an_object(w={"anyOf": [an_object(a=TEXT), TEXT]}),
        ["/w/b"],
    ),
    "additionalProperties true declares nothing": (
        an_object(a=TEXT, b=TEXT),
        {**an_object(a=TEXT), "additionalProperties": True},
        ["/b"],
    ),
    "a name with a slash": (an_object(**{"a/b": TEXT}), an_object(), ["/a~1b"]),
}


@pytest.mark.parametrize(("old", "new", "ignored"), IGNORED.values(), ids=IGNORED)
def test_what_is_declared_no_more_and_still_taken_is_ignored(old, new, ignored):
    comparison = compare_schemas(old, new, "input", "as-declared")
    (found,) = (one for one in comparison.differences if one.keyword == "argument-ignored")
    assert comparison.verdict == "compatible"
    assert found.witness.accepted_by == "both" and list(found.witness.ignored) == ignored
    for schema in (old, new):
        jsonschema.Draft202012Validator(schema).validate(found.witness.instance)
    place = found.witness.instance
    for step in (one.replace("~1", "/") for one in ignored[0].split("/")[1:]):
        place = place[int(step)] if isinstance(place, list) else place[step]
    assert stand_in({"inputSchema": old}, {"inputSchema": new}).stands_in is False


READ = {
    "refused, not ignored": (
        an_object(a=TEXT, b=TEXT),
        {**an_object(a=TEXT), "additionalProperties": False},
        "breaking",
    ),
    "declared by a schema for the rest": (
        an_object(a=TEXT, b=TEXT),
        {**an_object(a=TEXT), "additionalProperties": TEXT},
        "compatible",
    ),
    "declared by a pattern": (
        an_object(a=TEXT, b=TEXT),
        {**an_object(a=TEXT), "patternProperties": {"^[a-z]$": {}}},
        "compatible",
    ),
    "declared by another alternative that takes the call": (
        an_object(a=TEXT, b=TEXT),
        {"anyOf": [an_object(a=TEXT), an_object(b=TEXT)]},
        "compatible",
    ),
    "a map stays a map": (
        an_object(m={"type": "object", "additionalProperties": TEXT}),
        an_object(m={"type": "object"}),
        "compatible",
    ),
    "nothing could be given for it": (an_object(a=TEXT, b=False), an_object(a=TEXT), "compatible"),
}


@pytest.mark.parametrize(("old", "new", "verdict"), READ.values(), ids=READ)
def test_what_is_refused_or_still_declared_is_not_ignored(old, new, verdict):
    comparison = compare_schemas(old, new, "input", "as-declared")
    assert comparison.verdict in (verdict, "identical")
    assert [one for one in comparison.differences if one.keyword == "argument-ignored"] == []


def test_results_and_the_literal_reading_know_no_ignored_arguments():
    old, new = an_object(a=TEXT, b=TEXT), an_object(a=TEXT)
    assert {one.keyword for one in compare_schemas(old, new, "output", "as-declared").differences} >= {
        "no-longer-declared"
    }
    for found in (compare_schemas(old, new, "input"), compare_schemas(old, new, "output", "as-declared")):
        assert "argument-ignored" not in {one.keyword for one in found.differences}


SHIP_AND_DAY = {"properties": {"ship": TEXT}, "required": ["ship", "day"]}
CLOSED = {
    "a required name that is not declared": (
        SHIP_AND_DAY,
        {
            "properties": {"ship": {"type": "integer"}, "pilot": TEXT},
            "required": ["ship", "day", "pilot"],
        },
        "breaking",
    ),
    "as the open one has it": (
        SHIP_AND_DAY,
        {**SHIP_AND_DAY, "properties": {"ship": TEXT, "day": TEXT}},
        "breaking",
    ),
    "nobody sends what was never offered": (
        an_object(a=TEXT),
        an_object(a=TEXT, b={"type": "integer"}),
        "compatible",
    ),
    "anyOf of required": (
        {**an_object(a=TEXT), "anyOf": [{"required": ["a"]}, {"required": ["b"]}]},
        {**an_object(a=TEXT, b={"type": "integer"}), "anyOf": [{"required": ["a"]}, {"required": ["b"]}]},
        "breaking",
    ),
    "a dependency": (
        {**an_object(a=TEXT), "dependentRequired": {"a": ["b"]}},
        an_object(a=TEXT, b={"type": "integer"}),
        "breaking",
    ),
    "a condition": (
        {**an_object(a=TEXT), "if": {"properties": {"b": {"const": 1}}}, "then": {"required": ["a"]}},
        an_object(a=TEXT, b=TEXT),
        "breaking",
    ),
    "names that are listed": (
        {**an_object(a=TEXT), "propertyNames": {"enum": ["a", "b"]}},
        an_object(a=TEXT, b=TEXT),
        "breaking",
    ),
    "an object below that declares nothing is free-form": (
        an_object(f={"type": "object"}),
        an_object(f=an_object(a=TEXT)),
        "breaking",
    ),
    "one below with no properties takes none": (
        an_object(f=an_object()),
        an_object(f=an_object(a=TEXT)),
        "compatible",
    ),
}


@pytest.mark.parametrize(("old", "new", "verdict"), CLOSED.values(), ids=CLOSED)
def test_closing_keeps_every_name_that_is_spoken_of(old, new, verdict):
    assert compare_schemas(old, new, "input", "as-declared").verdict == verdict


@pytest.mark.parametrize(
    "old",
    [
        {"type": "object", "minProperties": 1},
        {**an_object(a=TEXT), "minProperties": 2},
        an_object(f={**an_object(a=TEXT), "minProperties": 3}),
        {**an_object(a=TEXT), "propertyNames": {"pattern": "^b"}, "minProperties": 1},
    ],
)
def test_nothing_is_proved_of_nothing(old):
    comparison = compare_schemas(old, _narrower(old), "input", "as-declared")
    assert (comparison.verdict, comparison.reason) == ("undecided", "closed-empty")


def _narrower(schema: dict[str, Any]) -> dict[str, Any]:
    inner = {name: _narrower(one) for name, one in schema.get("properties", {}).items() if "type" in one}
    return {**schema, "properties": inner, "maxProperties": 9} if inner else {**schema, "maxProperties": 9}


def test_an_empty_object_that_is_the_same_on_both_sides_is_nothing_to_prove():
    never = {**an_object(a=TEXT), "minProperties": 3}
    found = compare_schemas(an_object(f=never), an_object(f=never, b=TEXT), "input", "as-declared")
    assert found.verdict == "compatible"


def _narrowed(keyword: str, size: int) -> tuple[dict[str, Any], dict[str, Any]]:
    values = {
        "maxItems": {"type": "array", "items": TEXT},
        "maxLength": {"type": "string", "pattern": "^([a-f0-9]{2})*$"},
        "maxProperties": {"type": "object", "additionalProperties": TEXT},
    }
    base = values[keyword]
    return an_object(("p",), p={**base, keyword: 2 * size}), an_object(("p",), p={**base, keyword: size})


@pytest.mark.parametrize("keyword", ["maxItems", "maxLength", "maxProperties"])
@pytest.mark.parametrize("size", [100, 101, 400, 1_000, 4_096, 9_999])
def test_bounds_are_decided_by_counting(keyword, size):
    wide, narrow = _narrowed(keyword, size)
    assert compare_schemas(narrow, wide, "input", "as-declared").verdict == "compatible"
    found = compare_schemas(wide, narrow, "input", "as-declared")
    assert found.verdict == "breaking"
    jsonschema.Draft202012Validator(wide).validate(found.witness.instance)
    assert not jsonschema.Draft202012Validator(narrow).is_valid(found.witness.instance)


@pytest.mark.parametrize("size", [10**6, 2**31 - 1, 2**53 - 1])
def test_bounds_beyond_what_is_written_down_are_counted(size):
    wide, narrow = _narrowed("maxItems", size)
    assert compare_schemas(narrow, wide, "input", "as-declared").verdict == "compatible"
    found = compare_schemas(wide, narrow, "input", "as-declared")
    assert (found.verdict, found.witness) == ("breaking", None)
    (one,) = found.differences
    assert one.counted and f"at most {size} elements (was {2 * size})" in one.message


def test_a_bound_met_by_other_elements_each_time():
    wide = an_object(
        ("p",), p={"type": "array", "items": {"type": "integer", "minimum": 5}, "uniqueItems": True}
    )
    narrow = an_object(("p",), p={**wide["properties"]["p"], "maxItems": 700})
    found = compare_schemas(wide, narrow, "input", "as-declared")
    assert len(set(found.witness.instance["p"])) == 701


LOOKING = [
    (r"^(?=.*[A-Z])(?=.*\d).{8,}$", r"^.{8,}$", "compatible"),
    (r"^.{8,}$", r"^(?=.*[A-Z])(?=.*\d).{8,}$", "breaking"),
    (r"^(?!tmp)[a-z]+$", r"^[a-z]+$", "compatible"),
    (r"^[a-z]+$", r"^(?!tmp)[a-z]+$", "breaking"),
    (r"^(?!-)[a-z-]{1,9}(?<!-)$", r"^[a-z]([a-z-]*[a-z])?$", "compatible"),
    (r"^[a-z-]{1,9}$", r"^(?!-)[a-z-]{1,9}(?<!-)$", "breaking"),
    (r"\bpier\b", "pier", "compatible"),
    ("pier", r"\bpier\b", "breaking"),
    (r"^(?:(?!ab).)*$", r"^(?!.*ab).*$", "identical"),
    (r"^(a+)\1$", r"^a", "undecided"),
]


@pytest.mark.parametrize(("old", "new", "verdict"), LOOKING)
def test_patterns_that_look_around_are_decided_where_they_are_regular(old, new, verdict):
    schemas = [an_object(("a", "b"), a={**TEXT, "pattern": one}, b=TEXT) for one in (old, new)]
    found = compare_schemas(*schemas, "input", "as-declared")
    assert found.verdict == verdict


def test_a_pattern_that_nobody_reads_leaves_the_other_arguments_decided():
    odd = {**TEXT, "pattern": r"^(a+)\1$"}
    old = an_object(("a", "b"), a=odd, b=TEXT)
    assert (
        compare_schemas(old, an_object(("a",), a=odd, b=TEXT), "input", "as-declared").verdict == "compatible"
    )
    broken = compare_schemas(
        an_object(b=TEXT, a=odd), an_object(b={"type": "integer"}, a=odd), "input", "as-declared"
    )
    assert broken.verdict == "breaking" and broken.witness is not None


def test_a_text_too_long_to_be_searched_is_no_witness_by_itself():
    decides = deciding({"type": "string", "pattern": "^(?!tmp)"})
    assert (decides("pier"), decides("tmp1"), decides("pier" * 1_000)) == (True, False, None)
    turned = deciding({"not": {"type": "string", "pattern": "^(?!tmp)"}})
    assert (turned("pier"), turned("tmp1"), turned("pier" * 1_000)) == (False, True, None)


def test_a_name_with_a_dot_hides_nothing():
    old = an_object(a=an_object(b=TEXT), **{"a.b": TEXT})
    new = an_object(a=an_object(b={"type": "integer"}), **{"a.b": {"type": "integer"}})
    found = compare_schemas(old, new, "input", "as-declared").differences
    assert {one.old_pointer for one in found} == {
        "/properties/a/properties/b/type",
        "/properties/a.b/type",
    }
    assert {one.message for one in found} == {
        "`a.b` was string and is now integer",
        '`["a.b"]` was string and is now integer',
    }


@pytest.mark.parametrize(("number", "untold"), [(250, 0), (1_200, 200)])
def test_nothing_is_dropped_without_a_word(number, untold):
    old = an_object(**{f"p{at}": TEXT for at in range(number)})
    new = an_object(**{f"p{at}": {"type": ["string", "null"]} for at in range(number)})
    found = compare_schemas(old, new, "input", "as-declared")
    assert (len(found.differences), found.untold) == (number - untold, untold)


def test_where_the_bound_on_steps_is_met_it_is_said():
    old = an_object(**{f"p{at}": TEXT for at in range(2_500)})
    new = an_object(**{f"p{at}": {"type": "integer"} for at in range(2_500)})
    found = compare_schemas(old, new, "input", "as-declared")
    assert found.verdict == "breaking"
    assert "within the bound on steps" in found.differences[-1].message or found.untold >= 1_500


def _many(keyword: str, size: int, **more: Any) -> dict[str, Any]:
    return an_object(**{f"a{at}": {**more, keyword: size} for at in range(300)})


HOSTILE = [
    ("maxItems", {"type": "array", "items": TEXT}),
    ("maxItems", {"type": "array", "items": TEXT, "uniqueItems": True}),
    ("maxProperties", {"type": "object", "additionalProperties": TEXT}),
    ("maxLength", TEXT),
]


@pytest.mark.parametrize(("keyword", "more"), HOSTILE)
def test_large_instances_cost_steps_and_no_result_holds_many(keyword, more):
    size = 99_990 if keyword == "maxLength" else 9_990
    found = compare_schemas(
        _many(keyword, size + 5, **more), _many(keyword, size, **more), "input", "as-declared"
    )
    assert found.verdict == "breaking" and found.witness is not None
    witnesses = [one.witness.instance for one in found.differences if one.witness]
    assert sum(map(weight, witnesses)) <= 5_000 + 2 * 10_001
    assert len(found.differences) < 300 and "within the bound on steps" in str(found.differences)


def test_instances_that_grow_by_nesting_are_not_made():
    def nested(fewest: int) -> dict[str, Any]:
        schema: dict[str, Any] = TEXT
        for _ in range(8):
            schema = {"type": "array", "minItems": fewest, "items": schema}
        return an_object(("a",), a=schema)

    assert compare_schemas(nested(9), nested(10), "input", "as-declared").verdict == "undecided"
    assert compare_schemas(nested(2), nested(1), "input", "as-declared").verdict == "compatible"


def test_a_comparison_leaves_nothing_behind():
    compare_schemas(an_object(a=TEXT), an_object(a={"type": "integer"}), "input", "as-declared")
    gc.collect()
    assert not [one for one in gc.get_objects() if type(one) is Judge]
