"""Changes between snapshots: kind, impact and reach, and the honest version."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tallshelf.core.changes import TABLE, base_for, compare_snapshots, next_version
from tallshelf.core.snapshot import FORMAT, Snapshot, snapshot_from

TOOL = {
    "name": "find_berth",
    "description": "Find a berth.",
    "inputSchema": {
        "type": "object",
        "properties": {"length": {"type": "number", "description": "in metres", "default": 1}},
    },
    "outputSchema": {"type": "object", "properties": {"id": {"type": "string"}}, "required": ["id"]},
    "annotations": {"readOnlyHint": True},
}
PROMPT = {"name": "plan", "arguments": [{"name": "vessel", "required": False}]}
RESOURCE = {"uri": "berths://today", "name": "today", "mimeType": "text/csv"}


def snap(tool: dict[str, Any] | None = None, **lists: Any) -> Snapshot:
    document = {
        "format": FORMAT,
        "server": {"capabilities": {"tools": {}}, "serverInfo": {"name": "s", "version": "1.0.0"}},
        "tools": [TOOL if tool is None else tool],
        "prompts": [PROMPT],
        "resources": [RESOURCE],
    }
    return snapshot_from({**document, **lists})


def changed(*path: str, value: Any) -> dict[str, Any]:
    tool: dict[str, Any] = json.loads(json.dumps(TOOL))
    place = tool
    for step in path[:-1]:
        place = place[step]
    if value is None:
        del place[path[-1]]
    else:
        place[path[-1]] = value
    return tool


LENGTH = ("inputSchema", "properties", "length")


@pytest.mark.parametrize(
    ("new", "kind", "honest"),
    [
        (snap({**TOOL, "name": "other"}), "item-removed", "2.0.0"),
        (snap(tools=[TOOL, {**TOOL, "name": "other"}]), "item-added", "1.1.0"),
        (snap(changed("inputSchema", "required", value=["length"])), "argument-refused", "2.0.0"),
        (snap(changed(*LENGTH, "type", value=["number", "string"])), "argument-accepted", "1.1.0"),
        (snap(changed("outputSchema", "required", value=None)), "result-widened", "2.0.0"),
        (snap(changed("outputSchema", value=None)), "output-schema-dropped", "2.0.0"),
        (snap(changed(*LENGTH, "description", value="in feet")), "unit-moved", "2.0.0"),
        (snap(changed(*LENGTH, "default", value=2)), "default-changed", "2.0.0"),
        (snap(changed("description", value="Finds some berth.")), "description-changed", "1.0.1"),
        (snap(changed("annotations", value=None)), "consent-tightened", "1.0.1"),
        (snap(changed("inputSchema", value={"type": "objekt"})), "schema-undecided", "2.0.0"),
        (snap(tools=[TOOL, {**TOOL, "title": "again"}]), "declared-twice", "2.0.0"),
        (
            snap(prompts=[{"name": "plan", "arguments": [{"name": "vessel", "required": True}]}]),
            "prompt-argument-required",
            "2.0.0",
        ),
        (snap(resources=[{**RESOURCE, "mimeType": "text/plain"}]), "mime-type-changed", "1.0.1"),
        (snap(server={"capabilities": {}}), "capability-dropped", "2.0.0"),
        (snap({**TOOL, "x-new": 1}), "metadata-changed", "1.0.1"),
    ],
)
def test_each_kind_of_change(new, kind, honest):
    comparison = compare_snapshots(snap(), new)
    found = [change for change in comparison.changes if change.kind == kind]
    assert found, [change.kind for change in comparison.changes]
    assert all(change.impact == TABLE[kind].impact and change.reach for change in found)
    assert next_version("1.0.0", None, comparison).honest == honest


def test_breaking_for_callers_or_receivers_carries_its_proof():
    for new in (snap(changed("inputSchema", "required", value=["length"])), snap(tools=[])):
        for change in compare_snapshots(snap(), new).changes:
            assert change.impact != "breaking" or change.witness or change.proof == "protocol-table"


def test_nothing_at_all_and_typography():
    assert compare_snapshots(snap(), snap()).changes == ()
    quiet = compare_snapshots(snap(), snap(changed("description", value="Find a berth")))
    assert [change.folded for change in quiet.changes] == [True]


def test_texts_in_definitions_are_compared_and_no_change_goes_untold():
    def tool(text: str, **more: Any) -> dict[str, Any]:
        definitions = {"length": {"type": "number", "description": text}}
        schema = {"type": "object", "properties": {"l": {"$ref": "#/$defs/length"}}, "$defs": definitions}
        return {**TOOL, "inputSchema": {**schema, **more}}

    moved = compare_snapshots(snap(tool("in metres")), snap(tool("in feet")))
    assert [change.kind for change in moved.changes] == ["unit-moved"]
    unnamed = compare_snapshots(snap(tool("x")), snap(tool("x", **{"$comment": "y"})))
    assert [change.kind for change in unnamed.changes] == ["metadata-changed"]
    assert unnamed.untouched == 2


def test_a_list_that_was_not_asked_for_is_not_checked():
    bare = snapshot_from({"tools": [TOOL]})
    comparison = compare_snapshots(snap(), bare)
    assert comparison.not_checked == ("resources", "prompts")
    assert not [change for change in comparison.changes if change.kind == "item-removed"]


@pytest.mark.parametrize(
    ("base", "kind", "honest"),
    [("0.3.1", "break", "0.4.0"), ("0.3.1", "add", "0.3.2"), ("1.0.0-rc.1", "break", "1.0.0-rc.2")],
)
def test_versions_where_semver_promises_nothing(base, kind, honest):
    new = snap(tools=[]) if kind == "break" else snap(tools=[TOOL, {**TOOL, "name": "other"}])
    assert next_version(base, None, compare_snapshots(snap(), new)).honest == honest


@pytest.mark.parametrize(
    ("version", "published", "base"),
    [
        ("1.5.0", ["1.4.2", "1.4.1", "2.0.0"], "1.4.2"),
        ("2.0.1", ["1.9.0", "2.0.0", "2.1.0"], "2.0.0"),
        ("3.0.0", ["1.0.0", "2.0.0-rc.1"], "1.0.0"),
        ("1.0.0", ["1.0.0", "1.1.0"], "1.1.0"),
        ("1.0.0", ["1.0.0"], None),
        ("0.9.0", ["1.0.0", "1.1.0"], "1.0.0"),
        ("1.1.0+zz", ["1.0.0", "1.1.0"], "1.1.0"),
    ],
)
def test_the_base_is_the_highest_below_on_the_same_major(version, published, base):
    assert base_for(version, published) == base
