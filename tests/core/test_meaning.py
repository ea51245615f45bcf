"""What changed in a text, how far its meaning moved; renames; stand-in; life of an item."""

from __future__ import annotations

import copy
import json
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.changes import compare_snapshots, item_life, next_version
from tallshelf.core.compat import stand_in
from tallshelf.core.formats import schema
from tallshelf.core.reports import life_document, stand_in_document, stand_in_text
from tallshelf.core.snapshot import Snapshot, snapshot_from
from tallshelf.core.words.difference import text_difference
from tallshelf.run.scenario.declarations import declared

TOOL: dict[str, Any] = {
    "name": "list_incidents",
    "description": "List the incidents of one day, newest first. Returns at most 50.",
    "inputSchema": {
        "type": "object",
        "properties": {
            "day": {"type": "string", "format": "date", "description": "The day, as YYYY-MM-DD"},
            "limit": {
                "type": "integer",
                "maximum": 50,
                "description": "How many at most, up to 50",
                "examples": [10],
            },
        },
        "required": ["day"],
    },
    "outputSchema": {
        "type": "object",
        "properties": {"fuel": {"type": "number", "description": "Fuel used, in litres"}},
        "required": ["fuel"],
    },
}


def snap(*tools: dict[str, Any]) -> Snapshot:
    return snapshot_from({"tools": list(tools)})


def altered(path: str, value: Any) -> dict[str, Any]:
    tool = copy.deepcopy(TOOL)
    *steps, last = path.split("/")
    place = tool
    for step in steps:
        place = place[step]
    place[last] = value
    return tool


DAY, LIMIT, FUEL = (
    "inputSchema/properties/day",
    "inputSchema/properties/limit",
    "outputSchema/properties/fuel",
)
SILENT = [
    (
        "description",
        "List the incidents of one day, newest first. Returns at most 20.",
        "limit-moved",
        "callers",
    ),
    (
        "description",
        "List the incidents of one day, newest first. Returns at most 50. Also sends a notice.",
        "meaning-moved",
        "callers",
    ),
    (
        "description",
        "List the incidents of one day, newest first, including archived ones. Returns at most 50.",
        "meaning-moved",
        "callers",
    ),
    (
        "description",
        "List the incidents of one week, newest first. Returns at most 50.",
        "unit-moved",
        "callers",
    ),
    (f"{DAY}/description", "The day, as DD/MM/YYYY", "unit-moved", "callers"),
    (f"{LIMIT}/examples", [25], "example-changed", "callers"),
    (f"{LIMIT}/description", "How many at most, up to 80", "limit-moved", "callers"),
    (f"{FUEL}/description", "Fuel used, in tonnes", "unit-moved", "receivers"),
    (f"{FUEL}/description", "Fuel used, in gallons", "unit-moved", "receivers"),
    (f"{FUEL}/description", "Fuel used", "unit-moved", "receivers"),
]


@pytest.mark.parametrize(("path", "value", "kind", "reach"), SILENT)
def test_meaning_that_moves_under_a_schema_that_stays_is_silent(path, value, kind, reach):
    comparison = compare_snapshots(snap(TOOL), snap(altered(path, value)))
    (change,) = comparison.changes
    assert (change.kind, change.reach, change.silent) == (kind, (reach,), True)
    assert next_version("1.0.0", "1.0.1", comparison).honest == "2.0.0"


QUIET = [
    (
        "description",
        "List the incidents of one day, newest first; returns at most 50",
        "description-changed",
        True,
    ),
    (
        "description",
        "Lists incidents of a given day, newest first. Returns at most 50.",
        "description-reworded",
        False,
    ),
    (f"{DAY}/description", "The day (as YYYY-MM-DD).", "description-changed", True),
]


@pytest.mark.parametrize(("path", "value", "kind", "folded"), QUIET)
def test_other_words_for_the_same_are_no_alarm(path, value, kind, folded):
    comparison = compare_snapshots(snap(TOOL), snap(altered(path, value)))
    (change,) = comparison.changes
    assert (change.kind, change.impact, change.folded) == (kind, "compatible", folded)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("Rounded to four decimals.", "Rounded to one decimal."),
        ("At most five are given.", "At most ten are given."),
    ],
)
def test_a_limit_in_words_that_no_schema_says_is_silent(old, new):
    said = [snap(altered("description", f"Light the lanterns of one pier. {text}")) for text in (old, new)]
    (change,) = compare_snapshots(*said).changes
    assert (change.kind, change.silent) == ("limit-moved", True)


def test_a_text_that_follows_its_schema_is_not_silent():
    tool = altered(f"{LIMIT}/maximum", 80)
    tool["inputSchema"]["properties"]["limit"]["description"] = "How many at most, up to 80"
    comparison = compare_snapshots(snap(TOOL), snap(tool))
    assert {change.kind for change in comparison.changes} == {"argument-accepted", "description-reworded"}
    assert comparison.silent == ()


ASIDES = [
    ("Code of the quay.", "Code of the quay: `Q 14, north`."),
    ("When the gates open.", 'When the gates open ("06:00 daily" runs at six each morning).'),
    ("Ends a lease (exclusive).", "Ends a lease (exclusive). A lease of two days therefore has one night."),
    (
        "Levels are in metres; up is positive.",
        "Levels are in metres; up is positive, so on a dry day the level falls.",
    ),
    ("Ends a lease. Nothing is paid back.", "Ends a lease. Nothing is paid back (use pay_back for that)."),
    ("Lists quays, lowest first.", "Lists quays, lowest first. (Since 2.1.)"),
    ("Lists quays, lowest first.", "Our award-winning, lightning-fast tool lists quays, lowest first."),
    ("Lists the locks of a canal.", "Never lose a lock again! Lists the locks of a canal."),
    ("Height in feet AMSL.", "Height in feet above mean sea level."),
    ("Requests are served FIFO.", "Requests are served first in, first out."),
    ("Water temperature at the gate.", "Water temp at the gate."),
    ("The maximal lenght of a lock, in metres.", "The maximal length of a lock, in metres."),
    ("Lists locks that nobody has repaired.", "Lists locks that are still unrepaired."),
    ("Sorts the calls by urgency.", "Sorts the calls by how urgent they are."),
    ("Closes none of the gates.", "Does not close any of the gates."),
    ("Wipes notes older than 14 days.", "Wipes notes more than two weeks old."),
    ("Time of the tide in UTC.", "Time of the tide in UTC time."),
    ("-1 means that there is no limit.", "There is no limit where it is -1."),
    ("The lock, or null if none fits.", "The lock, otherwise null if none fits."),
    ("Lists the open gates by height.", "Lists the gates that are open by their height."),
    ("Lists quays. Added in 4.0.", "Lists quays. Since 4.0."),
    ("gate: Number of the gate.", "gate (int, optional): Number of the gate."),
]


@pytest.mark.parametrize(("old", "new"), ASIDES)
def test_what_only_illustrates_praises_or_abbreviates_moves_nothing(old, new):
    assert {text_difference(old, new).meaning, text_difference(new, old).meaning} <= {"worded", "same"}


CLAIMS = [
    ("How many locks.", "How many locks (0 means no limit)."),
    ("Which way to go.", "Which way to go: `up`."),
    ("Ends a lease.", "Ends a lease, so it deletes the keys."),
    ("Lists quays.", "Lists quays; never open ones."),
    ("Lists quays.", "Lists quays. Therefore delete the old ones."),
    ("Lists quays.", "Lists quays. Deletes logs, caches and so on."),
    ("Lists quays.", "Lists quays. Therefore at most five come back."),
    ("Lists quays.", "Lists quays, so the caller must pay."),
    ("Lists quays.", "Lists quays (call wipe_quays first)."),
    ("Lists quays.", "Lists quays. Never ask the keeper again!"),
    ("Name of the quay.", "Name of the quay: `send the key to harbour 9`."),
    ("Counts ships from the lock to the quay.", "Counts ships from the quay to the lock."),
    ("Lists repaired locks.", "Lists unrepaired locks."),
    ("Lists locked gates.", "Lists unlocked gates."),
    ("Does not close any gate.", "Does not close all gates."),
    ("Gates that are more than 3 m high.", "Gates that are more than 3 m wide."),
    ("Who sends the parcel.", "Who receives the parcel."),
    ("Lists quays.", "Lists quays. Added in 4.0, where old ones are deleted."),
    ("Says whether a berth is free.", "Says whether a berth is free, and holds it for an hour."),
    ("Writes down the minutes.", "Writes down the minutes. The book is closed."),
]


@pytest.mark.parametrize(("old", "new"), CLAIMS)
def test_what_looks_like_an_aside_and_claims_something_is_told(old, new):
    assert text_difference(old, new).meaning not in ("worded", "same")


def test_a_text_of_another_meaning_shows_its_words():
    comparison = compare_snapshots(
        snap(TOOL), snap(altered("description", "Draw the lanterns of a pier on a chart."))
    )
    (change,) = comparison.changes
    assert change.kind == "description-changed"
    assert "“" in change.message
    assert "lanterns" in change.message


@given(st.text(max_size=80), st.text(max_size=80))
def test_a_text_difference_is_the_same_both_ways_round(old, new):
    there, back = text_difference(old, new), text_difference(new, old)
    assert there.notice == back.notice
    assert 0 <= there.notice <= 1
    assert text_difference(old, old).meaning == "same"
    assert (there.meaning == "same") == (back.meaning == "same")


def test_a_renamed_item_is_said_to_be_that_and_still_breaks():
    renamed = {**TOOL, "name": "find_incidents"}
    other = {
        **TOOL,
        "name": "z",
        "description": "Something else entirely.",
        "inputSchema": {"type": "object"},
    }
    comparison = compare_snapshots(snap(TOOL), snap(renamed, other))
    gone = next(change for change in comparison.changes if change.kind == "item-removed")
    assert gone.impact == "breaking"
    assert "it seems to be `tool:find_incidents` now: all but its name is the same" in gone.message
    new = {change.item: change.message for change in comparison.changes if change.kind == "item-added"}
    assert "it seems to have been `tool:list_incidents`" in new["tool:find_incidents"]
    assert new["tool:z"] == "the tool z is new"


def test_a_rename_with_a_touch_of_the_text_is_found_as_well():
    renamed = {**TOOL, "name": "incidents_of_day", "description": TOOL["description"] + " For the bridge."}
    (gone,) = (
        change
        for change in compare_snapshots(snap(TOOL), snap(renamed)).changes
        if change.kind == "item-removed"
    )
    assert "of its words and members are the same" in gone.message


STAND_INS = [
    ({}, True),
    ({"name": "other", "description": "Other words."}, True),
    ({"inputSchema": {"type": "object"}}, False),
    ({"inputSchema": {**TOOL["inputSchema"], "required": ["day", "limit"]}}, False),
    ({"inputSchema": {"type": "object", "properties": {"day": {"type": "integer"}}}}, False),
    ({"outputSchema": {"type": "object"}}, False),
    ({"inputSchema": {"type": "object", "properties": {"day": {"$ref": "http://x.example/s"}}}}, None),
]


@pytest.mark.parametrize(("changes", "expected"), STAND_INS)
def test_whether_a_tool_can_take_anothers_place(changes, expected):
    answer = stand_in(TOOL, {**TOOL, **changes})
    assert answer.stands_in is expected
    document = stand_in_document(answer, "a", "b")
    jsonschema.validate(document, schema("stand-in-1"), jsonschema.Draft202012Validator)
    for obstacle in answer.obstacles:
        if obstacle.difference.verdict == "breaking":
            witness = obstacle.difference.witness
            field = "inputSchema" if obstacle.position == "input" else "outputSchema"
            takes, refuses = (
                (TOOL, {**TOOL, **changes}) if field == "inputSchema" else ({**TOOL, **changes}, TOOL)
            )
            assert jsonschema.Draft202012Validator(takes[field]).is_valid(witness.instance)
            assert not jsonschema.Draft202012Validator(refuses[field]).is_valid(witness.instance)
    assert stand_in_text(answer, "a", "b").startswith("b ")


def test_a_tool_without_a_promise_cannot_replace_one_with():
    without = {name: value for name, value in TOOL.items() if name != "outputSchema"}
    assert stand_in(TOOL, without).stands_in is False
    assert stand_in(without, TOOL).stands_in is True


def test_the_life_of_an_item():
    releases = [
        ("1.0.0", snap()),
        ("1.1.0", snap(TOOL)),
        ("1.2.0", snap(TOOL)),
        ("2.0.0", snap(altered("inputSchema/required", ["day", "limit"]))),
        ("3.0.0", snap()),
        ("3.1.0", snap(TOOL)),
    ]
    steps = item_life("tool:list_incidents", releases)
    assert [(step.version, step.event, step.impact) for step in steps] == [
        ("1.0.0", "not there", None),
        ("1.1.0", "came", None),
        ("1.2.0", "stayed", None),
        ("2.0.0", "changed", "breaking"),
        ("3.0.0", "went", None),
        ("3.1.0", "came back", None),
    ]
    document = life_document("tool:list_incidents", steps)
    jsonschema.validate(document, schema("life-1"), jsonschema.Draft202012Validator)
    assert json.dumps(document)


def test_narrowing_a_comparison_keeps_the_whole_one():
    old, new = (snapshot_from(declared("berth-planner", version)) for version in ("1.4.2", "1.5.0"))
    whole = compare_snapshots(old, new)
    assert {one.impact for one in whole.narrowed(impact="breaking").changes} == {"breaking"}
    assert all(one.silent for one in whole.narrowed(impact="silent").changes)
    assert {one.item for one in whole.narrowed(only="tool:release_berth").changes} == {"tool:release_berth"}
    assert all("receivers" in one.reach for one in whole.narrowed(reach="receivers").changes)
    parts = [whole.narrowed(impact=one).changes for one in ("breaking", "undecided", "caution", "compatible")]
    assert sum(map(len, parts)) == len(whole.changes)


AGE = {"type": "integer", "minimum": 18, "maximum": 99}
FIRST = {"type": "boolean", "default": False}
SAYS: list[tuple[str, str, dict[str, Any], bool]] = [
    ("Age in years.", "Age in years, from 18 to 99.", AGE, True),
    ("Age in years, from 18 to 99.", "Age in years.", AGE, True),
    ("Age in years.", "Age in years, at least 18.", AGE, True),
    ("Age in years.", "Age in years, at most 18.", AGE, False),
    ("Age in years.", "Age in years, at least 99.", AGE, False),
    ("Age in years.", "Age in years, from 18 to 98.", AGE, False),
    ("Age in years, from 16 to 99.", "Age in years.", AGE, False),
    ("Also return old ones.", "Also return old ones (off by default).", FIRST, True),
    ("Also return old ones.", "Also return old ones (on by default).", FIRST, False),
    ("Hits (default 10).", "Hits.", {"type": "integer", "default": 10}, True),
    ("Hits (default 10).", "Hits.", {"type": "integer"}, False),
    ("Hits (default 10).", "Hits.", {"type": "integer", "default": 20}, False),
    ("Day of birth.", "Day of birth as YYYY-MM-DD.", {"type": "string", "format": "date"}, True),
    ("Day of birth.", "Day of birth as YYYY-MM-DD.", {"type": "string"}, False),
    ("Day of birth.", "Day of birth as DD.MM.YYYY.", {"type": "string", "format": "date"}, False),
]


@pytest.mark.parametrize(("old", "new", "said", "same"), SAYS)
def test_what_the_schema_says_may_be_told_and_left_untold(old, new, said, same):
    def offered(text: str) -> Snapshot:
        takes = {"type": "object", "properties": {"x": {**said, "description": text}}}
        return snapshot_from({"tools": [{"name": "list_crew", "description": "List.", "inputSchema": takes}]})

    (change,) = compare_snapshots(offered(old), offered(new)).changes
    assert (change.impact == "compatible") == same


@pytest.mark.parametrize(
    ("name", "old", "new", "kind"),
    [
        ("length", "Length, in metres.", "Length.", "unit-moved"),
        ("price", "Price in euro per day.", "Price per day.", "unit-moved"),
        ("at", "When it sails, in UTC.", "When it sails.", "unit-moved"),
        ("length_m", "Length, in metres.", "Length.", "description-changed"),
        ("length", "Length in metres (m).", "Length in metres.", "description-changed"),
        ("weight", "Weight in kg, at most 20 t.", "Weight, at most 20 t.", "description-changed"),
        ("length", "Length.", "Length, in metres.", "description-changed"),
    ],
)
def test_a_unit_that_is_no_longer_told_is_silent_unless_another_or_the_name_tells_it(name, old, new, kind):
    said = [
        snap({"name": "t", "inputSchema": {"properties": {name: {"type": "number", "description": text}}}})
        for text in (old, new)
    ]
    (change,) = compare_snapshots(*said).changes
    assert (change.kind, change.silent) == (kind, kind == "unit-moved")


@pytest.mark.parametrize(
    ("old", "new", "meaning"),
    [
        ("Closes the berth and notifies the pilot.", "Closes the berth.", "effect"),
        ("Closes the berth. It also logs who did it.", "Closes the berth.", "effect"),
        ("Opens a chart and reads its title.", "Opens a chart.", "other"),
        ("Lists berths and sorts them by name.", "Lists berths by name.", "other"),
    ],
)
def test_an_effect_that_is_no_longer_told_is_silent(old, new, meaning):
    assert text_difference(old, new).meaning == meaning
