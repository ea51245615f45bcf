"""A comparison in few words: groups that lose nothing, sixty lines at most, and what is only written down."""

from __future__ import annotations

import json
import re
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.core.changes import (
    IMPACTS,
    TABLE,
    Change,
    SnapshotComparison,
    base_for,
    compare_snapshots,
    groups_of,
    items_of,
    next_version,
)
from tallshelf.core.changes._locations import Pairing
from tallshelf.core.changes._make import make
from tallshelf.core.formats import schema
from tallshelf.core.reports import (
    change_document,
    change_from,
    comparison_document,
    comparison_markdown,
    comparison_text,
)
from tallshelf.core.snapshot import FORMAT, Snapshot, snapshot_from

TEXT = {"type": "string"}
CHANGES = st.lists(
    st.builds(
        make,
        st.sampled_from(sorted(TABLE)),
        st.sampled_from([f"tool:t{at}" for at in range(30)]),
        st.sampled_from(
            ["`a` is now required", "`b` is now required", "`b`: feet became metres", "it moved"]
        ),
        old_pointer=st.sampled_from([None, "/inputSchema/properties/a", "/outputSchema/x", "/description"]),
        folded=st.booleans(),
    ),
    max_size=90,
)


def tool(name: str = "find_berth", **properties: Any) -> dict[str, Any]:
    return {
        "name": name,
        "description": "Find a berth.",
        "inputSchema": {"type": "object", "properties": properties},
    }


def snap(*tools: dict[str, Any]) -> Snapshot:
    return snapshot_from({"format": FORMAT, "server": {"serverInfo": {"name": "s"}}, "tools": list(tools)})


def changes_of(old: dict[str, Any], new: dict[str, Any]) -> list[Change]:
    """Return what changed of one argument, ``x``, apart from what is folded."""
    comparison = compare_snapshots(snap(tool(x=old)), snap(tool(x=new)))
    return [one for one in comparison.changes if not one.folded]


@settings(max_examples=60)
@given(CHANGES)
def test_every_change_that_somebody_meets_is_in_one_group_and_counted_once(changes):
    told = [one for one in changes if not one.folded]
    grouped = [change for group in groups_of(changes) for change in group.changes]
    assert sorted(map(id, grouped)) == sorted(map(id, told))
    assert sum(sum(one.counts.values()) for one in items_of(changes)) == len(told)
    assert {one.item for one in items_of(changes)} == {one.item for one in told}
    order = [(IMPACTS.index(one.impact), not one.silent) for one in groups_of(changes)]
    assert order == sorted(order)


@settings(max_examples=60)
@given(CHANGES, st.booleans())
def test_sixty_lines_for_any_pair_and_everything_when_asked_for(changes, versions):
    comparison = SnapshotComparison("", "", tuple(changes), (), 3)
    version = next_version("1.0.0" if versions else None, "1.0.1", comparison)
    short, whole = (comparison_text(comparison, version, everything=all_of) for all_of in (False, True))
    assert len(short.splitlines()) <= 60
    assert max(map(len, short.splitlines())) <= 120
    for one in changes:
        assert one.message.replace("`", "") in whole.replace("`", "")
    document = comparison_document(comparison, version)
    assert [change_from(one) for one in document["changes"]] == changes
    assert not re.search(r"\d+ more changes", comparison_markdown(comparison, version, "a", "b"))


def test_the_worst_comes_first_and_the_same_at_many_places_once():
    old = snap(*(tool(f"t{at}", depth=TEXT, width=TEXT) for at in range(40)))
    nullable = {"type": ["string", "null"]}
    tools = [tool(f"t{at}", depth=nullable, width=nullable) for at in range(40)]
    tools[33]["inputSchema"]["required"] = ["depth"]
    del tools[35]["inputSchema"]["properties"]["width"]
    comparison = compare_snapshots(old, snap(*tools))
    version = next_version("1.0.0", "1.1.0", comparison)
    lines = comparison_text(comparison, version).splitlines()
    assert lines[1] == "Declared 1.1.0 (too low), honest 2.0.0: tool:t33 breaks."
    assert lines[3].startswith("◆ tool:t33") and lines[4].startswith("▲̸ tool:t35")
    assert (
        "● 79 arguments now also accept null: `depth` of t0, `width` of t0, `depth` of t1 and 76 more"
        in lines
    )
    assert "    This is answered as if /width were not there:" in lines
    document = comparison_document(comparison, version)
    jsonschema.validate(document, schema("comparison-1"), jsonschema.Draft202012Validator)
    assert document["items"][0] == {
        "item": "tool:t33",
        "impact": "breaking",
        "reach": ["callers"],
        "counts": {"breaking": 1, "compatible": 2},
    }
    assert len(document["groups"][-1]["places"]) == 79
    markdown = comparison_markdown(comparison, version, "a", "b")
    assert "79 arguments now also accept null" in markdown and len(markdown) < 6_000


def test_one_item_with_one_change_needs_no_summary():
    comparison = compare_snapshots(snap(tool(x=TEXT)), snap(tool(x={"type": "integer"})))
    text = comparison_text(comparison, next_version("1.0.0", "2.0.0", comparison))
    assert text.splitlines()[:2] == [
        "1 breaking; 0 items untouched.",
        "Declared 2.0.0, honest 2.0.0: tool:find_berth breaks.",
    ]
    assert "`x` was string and is now integer" in text
    nothing = compare_snapshots(snap(tool()), snap(tool()))
    assert comparison_text(nothing, next_version(None, None, nothing)) == "no changes; 1 item untouched."


WRITTEN = {
    "null as a default of what may be null": (
        {"type": ["string", "null"]},
        {"type": ["string", "null"], "default": None},
        "written-down",
    ),
    "null by an alternative": (
        {"anyOf": [TEXT, {"type": "null"}]},
        {"anyOf": [TEXT, {"type": "null"}], "default": None},
        "written-down",
    ),
    "null where none may come": (TEXT, {**TEXT, "default": None}, "default-changed"),
    "a default that the text said": (
        {**TEXT, "description": "Basin; defaults to north"},
        {**TEXT, "description": "Basin; defaults to north", "default": "north"},
        "written-down",
    ),
    "a truth that the text said": (
        {"type": "boolean", "description": "Default: true"},
        {"type": "boolean", "description": "Default: true", "default": True},
        "written-down",
    ),
    "another than the text said": (
        {**TEXT, "description": "Basin; defaults to north"},
        {**TEXT, "description": "Basin; defaults to north", "default": "south"},
        "default-changed",
    ),
    "a word of the text that is no default": (
        {**TEXT, "description": "Basin north of the pier"},
        {**TEXT, "description": "Basin north of the pier", "default": "north"},
        "default-changed",
    ),
    "a default moved": ({**TEXT, "default": "a"}, {**TEXT, "default": "b"}, "default-changed"),
    "a format that the text said": (
        {**TEXT, "description": "Day, as YYYY-MM-DD"},
        {**TEXT, "description": "Day, as YYYY-MM-DD", "format": "date"},
        "written-down",
    ),
    "a format that it did not": (
        {**TEXT, "description": "Day, as YYYY-MM-DD"},
        {**TEXT, "description": "Day, as YYYY-MM-DD", "format": "uri"},
        "format-changed",
    ),
    "an example added": (TEXT, {**TEXT, "examples": ["a"]}, "written-down"),
    "one more example": ({**TEXT, "examples": ["a"]}, {**TEXT, "examples": ["a", "b"]}, "written-down"),
    "another example": ({**TEXT, "examples": ["a"]}, {**TEXT, "examples": ["b"]}, "example-changed"),
    "examples gone": ({**TEXT, "examples": ["a"]}, TEXT, "example-changed"),
    "choices that the schema has": (
        {"enum": ["low", "high"], "description": "How bad"},
        {"enum": ["low", "high"], "description": "How bad. One of low or high."},
        "description-reworded",
    ),
    "explanations that follow": (
        {"enum": ["low", "high"], "enumDescriptions": ["scratch", "loss"]},
        {"enum": ["low", "mid", "high"], "enumDescriptions": ["scratch", "injury", "loss"]},
        "metadata-changed",
    ),
    "explanations that moved with it": (
        {"enum": ["low", "high"], "enumDescriptions": ["scratch", "loss"]},
        {"enum": ["low", "mid", "high"], "enumDescriptions": ["loss", "injury", "scratch"]},
        "explanation-changed",
    ),
    "an encoding": (TEXT, {**TEXT, "contentEncoding": "base64"}, "encoding-changed"),
    "null by a keyword of others, refused": ({**TEXT, "nullable": True}, TEXT, "nullable-changed"),
    "null by a keyword of others, taken": (TEXT, {**TEXT, "nullable": True}, "metadata-changed"),
    "the same by that keyword": (TEXT, {**TEXT, "nullable": False}, "metadata-changed"),
}


@pytest.mark.parametrize(("old", "new", "kind"), WRITTEN.values(), ids=WRITTEN)
def test_what_is_written_down_is_not_moved(old, new, kind):
    kinds = {one.kind for one in changes_of(old, new)} - {"argument-accepted"}
    assert kinds == {kind}
    assert TABLE["written-down"].impact == "compatible" and not TABLE["written-down"].silent


def _tagged(tag: str, **properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": {"kind": {"const": tag}, **properties}}


PAIRED = [
    ([TEXT, {"type": "null"}], [{"type": "null"}, TEXT], [(0, 1), (1, 0)]),
    (
        [_tagged("a", x=TEXT, y=TEXT), _tagged("b", z=TEXT)],
        [_tagged("n", x=TEXT, y=TEXT), _tagged("b", q=TEXT), _tagged("a", x=TEXT)],
        [(0, 2), (1, 1)],
    ),
    (
        [{"properties": {"a": TEXT, "b": TEXT}}, {"properties": {"c": TEXT, "d": TEXT}}],
        [
            {"properties": {"e": TEXT}},
            {"properties": {"c": TEXT, "d": {}}},
            {"properties": {"a": {}, "b": {}}},
        ],
        [(0, 2), (1, 1)],
    ),
    ([{"$ref": "#/$defs/a"}], [{"$ref": "#/$defs/b"}, {"$ref": "#/$defs/a"}], [(0, 1)]),
    ([True, TEXT], [{"type": "integer"}], []),
    (
        [{"const": at} for at in range(60)],
        [{"const": at} for at in range(59, -1, -1)],
        [(at, 59 - at) for at in range(60)],
    ),
]


@pytest.mark.parametrize(("old", "new", "pairs"), PAIRED)
def test_alternatives_are_paired_by_tag_or_content_never_by_place(old, new, pairs):
    assert Pairing().paired(old, new) == pairs


def test_where_too_many_alternatives_moved_only_the_same_are_paired():
    pairing = Pairing()
    old, new = ([{"properties": {f"{side}{at}": TEXT}} for at in range(80)] for side in "ab")
    assert pairing.paired([TEXT, *old], [*new, TEXT]) == [(0, 80)]
    assert pairing.paired([TEXT, {"minimum": 1}], [{"minimum": 2}, TEXT]) == [(0, 1)]  # the bound is for all


def test_alternatives_in_another_order_change_nothing():
    first = {
        "anyOf": [
            {**TEXT, "description": "A name"},
            {"type": "integer", "description": "A number", "default": 3},
        ]
    }
    turned = {"anyOf": [{"type": "null"}, *reversed(first["anyOf"])]}
    assert {one.kind for one in changes_of(first, turned)} == {"argument-accepted"}


def test_a_witness_that_is_ignored_survives_its_document():
    (change,) = changes_of(
        {"type": "object", "properties": {"a": TEXT}}, {"type": "object", "properties": {}}
    )
    document = json.loads(json.dumps(change_document(change)))
    assert document["witness"] == {
        "instance": {"x": {"a": "text"}},
        "accepted_by": "both",
        "ignored": ["/x/a"],
    }
    assert change_from(document) == change and change.silent and change.kind == "argument-ignored"


def test_arguments_are_objects_whatever_a_schema_says_of_other_types():
    broken = {**tool(), "inputSchema": {"$schema": "http://json-schema.org/draft-07/schema#"}}
    for old in (broken, {**tool(), "inputSchema": {"type": ["object", "null"]}}):
        found = compare_snapshots(snap(old), snap(tool(x=TEXT))).changes
        assert [one.message for one in found if not one.folded] == ["`x` is new and optional"]
        required = {**tool(x=TEXT), "inputSchema": {**tool(x=TEXT)["inputSchema"], "required": ["x"]}}
        (one,) = (one for one in compare_snapshots(snap(old), snap(required)).changes if not one.folded)
        assert (one.message, one.witness.instance) == ("`x` is new and required", {})


@pytest.mark.parametrize(
    ("name", "hint", "value", "kind"),
    [
        ("create_berth", "destructiveHint", False, "consent-loosened"),
        ("delete_berth", "destructiveHint", False, "consent-misplaced"),
        ("create_berth", "readOnlyHint", True, "consent-misplaced"),
        ("find_berth", "readOnlyHint", True, "consent-loosened"),
        ("delete_berth", "openWorldHint", False, "consent-loosened"),
        ("delete_berth", "idempotentHint", True, "consent-loosened"),
    ],
)
def test_a_hint_is_held_against_what_the_name_says(name, hint, value, kind):
    old = {**tool(name), "description": "Of a quay."}
    (one,) = compare_snapshots(snap(old), snap({**old, "annotations": {hint: value}})).changes
    assert one.kind == kind
    (back,) = compare_snapshots(snap({**old, "annotations": {hint: value}}), snap(old)).changes
    assert (back.kind, back.impact) == ("consent-tightened", "compatible")


BASES = [
    ("1.5.0", ["1.4.0", "1.5.0-rc.1"], "1.4.0"),
    ("1.5.0-rc.2", ["1.4.0", "1.5.0-rc.1"], "1.4.0"),
    ("1.0.0", ["1.0.0-rc.1"], "1.0.0-rc.1"),
    ("2.0.1", ["1.9.0", "2.0.0-rc.1", "3.0.0"], "1.9.0"),
]


@pytest.mark.parametrize(("version", "published", "base"), BASES)
def test_a_version_is_held_against_the_last_stable_one(version, published, base):
    assert base_for(version, published) == base


@pytest.mark.parametrize(
    ("declared", "is_honest"),
    [
        ("2.0.0-rc.1", True),
        ("2.0.0", True),
        ("1.9.0-rc.1", False),
        ("1.9.9", False),
        ("3.0.0-a", True),
        (None, False),
    ],
)
def test_a_pre_release_is_honest_by_its_core(declared, is_honest):
    comparison = compare_snapshots(snap(tool(x=TEXT)), snap(tool(x={"type": "integer"})))
    assert next_version("1.4.0", declared, comparison).is_honest is is_honest
