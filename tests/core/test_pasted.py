"""What a tool takes and returns, held against what it says: what is missing, or is another's, is found."""

from __future__ import annotations

from typing import Any

import pytest

from tallshelf.core.snapshot import snapshot_from
from tallshelf.core.style import lint
from tallshelf.core.style.rules._examples import tool

_DEPTH = {"type": "number", "description": "Depth in metres."}
_BESIDE = tool("get_refund", "Get one refund.", ("refund_no",), refund_no="Number of the refund")


def _fields(**said: str) -> dict[str, Any]:
    return {name: {"type": "string", "description": text} for name, text in said.items()}


def _of(rules: str, *bodies: dict[str, Any]) -> list[str]:
    """Return what some rules say of the first of some tools."""
    found = lint(snapshot_from({"tools": list(bodies)}))
    mine = f"tool:{bodies[0]['name']}"
    return [one.message for one in found if one.rule in rules.split() and one.item == mine]


RESULTS: list[tuple[str, str, dict[str, Any], str]] = [
    (
        "get_quay",
        "Returns the quay's depth, its owner and its length.",
        {"depth": _DEPTH, **_fields(owner="Owner.")},
        "its length",
    ),
    (
        "get_quay",
        "Returns the owner of a quay and the hour at which it closes.",
        _fields(owner="Owner."),
        "the hour",
    ),
    (
        "get_quay",
        "Returns the owner of a quay and the hour at which it closes.",
        _fields(owner="Owner.", shuts_at="Time."),
        "",
    ),
    (
        "get_quay",
        "Returns the quay's proprietor and its depth.",
        {"depth": _DEPTH, **_fields(owner="Owner.")},
        "",
    ),
    (
        "get_quay",
        "Returns the quay's depth, its owner and its length.",
        _fields(summary="All of it as text."),
        "",
    ),
    ("get_quay", "Returns whether a quay is open, closed or flooded.", {"depth": _DEPTH}, ""),
    ("get_quay", "Returns the quay and its depth.", {"depth": _DEPTH}, ""),
    (
        "find_crates",
        "Finds crates. Returns them with the number of all.",
        _fields(crates="One line a crate."),
        "how many",
    ),
    ("find_crates", "Finds crates. Returns them with the number of all.", {"total": {"type": "integer"}}, ""),
    (
        "list_crates",
        "Lists all crates of a pier.",
        _fields(crate_no="Number of the crate."),
        "declared as one",
    ),
    ("list_crates", "Lists all crates of a pier.", _fields(crates="The crates."), ""),
    (
        "list_crates",
        "Lists all crates of a pier.",
        {"found": {"type": "array", "items": {"type": "string"}}},
        "",
    ),
    (
        "get_pier",
        "Returns a pier with its cranes and its ladders.",
        _fields(staff_no="Staff number.", rank="Rank."),
        "its result tells of",
    ),
    (
        "get_pier",
        "Shows when a pier opens.",
        _fields(maker="Maker of the crate.", wood="Wood of the crate."),
        "its result tells of",
    ),
    ("get_pier", "Shows when a pier opens.", _fields(maker="Maker.", wood="Wood."), ""),
]
TAKES: list[tuple[dict[str, Any], str]] = [
    (tool("get_level", "Level of a basin between two times.", basin="The basin"), "two ends"),
    (tool("get_level", "Level of a basin between two times.", basin="The basin", since="First", until="Last"), ""),
    (tool("get_level", "Level of a basin between two times.", basin="The basin", period="Such as P1D"), ""),
    (tool("compare_crates", "Compares two crates.", crate="Number of the crate"), "takes one"),
    (tool("compare_crates", "Compares two crates.", crates={"type": "array", "items": {"type": "string"}}), ""),
    (tool("compare_crates", "Compares two crates.", crate="One crate", other="Another crate"), ""),
    (tool("get_flow", "Flow of a pump at a given pressure.", pump="Name of the pump"), "given pressure"),
    (tool("get_flow", "Flow of a pump at a given pressure.", pump="Name of the pump", pressure="In bar"), ""),
    (tool("get_flow", "Flow of a pump at a given time.", pump="Name of the pump", at="Such as 06:00"), ""),
    (tool("list_payouts", "List what was paid for one refund.", year="Year of it"), "one refund"),
    (tool("list_payouts", "List what was paid for one refund.", refund="The refund"), ""),
    (tool("list_payouts", "List what was paid for one sailing.", year="Year of it"), ""),
    (tool("set_lamp", "Set the light of a lamp.", lamp="Number of the lamp to read"), "which is not what"),
    (tool("get_lamp", "Get the light of a lamp.", lamp="Number of the lamp to read"), ""),
    (tool("found_crew", "Founds a crew.", crew="Name of the crew to get"), "which is not what"),
    (tool("search_quays", "Search quays by name.", query="What to look for"), ""),
    (tool("get_cell", "Get a cell by its zero-based place.", at="Where it is"), ""),
]  # fmt: skip


@pytest.mark.parametrize(("name", "text", "returns", "said"), RESULTS)
def test_a_result_is_held_against_what_is_told_of_it(name, text, returns, said):
    found = _of("result-not-as-told", tool(name, text, returns=returns))
    assert (len(found), said in "".join(found)) == (bool(said), True), found


@pytest.mark.parametrize(("body", "said"), TAKES)
def test_parameters_are_held_against_what_is_told_of_them(body, said):
    found = _of("promise-without-parameter pasted-schema", body, _BESIDE)
    assert (len(found), said in "".join(found)) == (bool(said), True), found
