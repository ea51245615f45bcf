"""What rules make of everyday declarations beyond their own example."""

from __future__ import annotations

import pytest

from tallshelf.core.snapshot import snapshot_from
from tallshelf.core.style import RULES, lint
from tallshelf.core.words.hidden import hidden_spots
from tests.core.everyday import CASES, tool


@pytest.mark.parametrize(
    ("name", "at"), [(name, at) for name, cases in CASES.items() for at in range(len(cases))]
)
def test_a_rule_finds_what_it_means_and_lets_alone_what_is_fine(name, at):
    tools, wanted = CASES[name][at]
    (rule,) = (one for one in RULES if one.id == name)
    found = lint(snapshot_from({"tools": tools}), rules=[rule])
    assert {one.item if "tool:" in "".join(wanted) else one.pointer for one in found} == wanted


def test_a_parameter_that_is_required_and_has_a_default_is_told_once():
    taken = tool("wait", hours={"type": "integer", "description": "Hours, required.", "default": 2})
    taken["inputSchema"]["required"] = ["hours"]
    (rule,) = (one for one in RULES if one.id == "optional-or-required")
    (found,) = lint(snapshot_from({"tools": [taken]}), rules=[rule])
    assert "the default is never used" in found.message


@pytest.mark.parametrize(
    ("declared", "prompts", "tools", "told"),
    [
        (("tools", "prompts", "resources"), [], [tool("moor_ship")], []),
        (("tools", "prompts"), [], [tool("moor_ship")], ["/capabilities/prompts"]),
        (("tools", "prompts", "resources"), [], [], ["/capabilities/prompts", "/capabilities/tools"]),
        (("tools",), [{"name": "brief"}], [tool("moor_ship")], ["/capabilities/prompts"]),
    ],
)
def test_what_common_sdks_declare_by_themselves_is_no_fault(declared, prompts, tools, told):
    document = {
        "server": {"capabilities": {name: {} for name in declared}},
        "tools": tools,
        "prompts": prompts,
    }
    (rule,) = (one for one in RULES if one.id == "contradicting-capabilities")
    found = lint(snapshot_from({**document, "format": "tallshelf.snapshot/1"}), rules=[rule])
    assert sorted(one.pointer for one in found) == told


@pytest.mark.parametrize(
    ("text", "hidden"),
    [
        ("می\u200cروم", 0),  # Persian, as it is spelled
        ("क्\u200dष", 0),  # Devanagari: after a virama
        ("क\u200dष", 1),
        ("a\u200cb", 1),
        ("می\u200c", 1),
        ("\u200cمی", 1),
        ("می\u200bروم", 1),
        ("می\u200dروم", 1),
        ("ship\u200d", 1),
    ],
)
def test_a_joiner_that_a_script_needs_is_not_hidden(text, hidden):
    assert len(hidden_spots(text)) == hidden


@pytest.mark.parametrize(
    ("server", "told"),
    [("harbour", False), ("harbour-mcp", False), ("quays", True), ("other", True)],
)
def test_the_server_that_is_spoken_of_may_be_the_one_that_speaks(server, told):
    said = "Plans a day. Unsafe: what it returns of the harbour server is stale."
    said = said.replace("harbour", server) if server == "other" else said
    body = {
        "format": "tallshelf.snapshot/1",
        "server": {"serverInfo": {"name": server}},
        "tools": [tool("plan_day", said)],
    }
    (rule,) = (one for one in RULES if one.id == "talks-of-other-servers")
    assert bool(lint(snapshot_from(body), rules=[rule])) is told


def test_a_name_that_is_not_there_is_told_once_for_a_text():
    said = "Set quay_no for one quay. Without quay_no, or with quay_no empty, set tide_no."
    found = lint(snapshot_from({"tools": [tool("list_quays", said)]}))
    told = [one.message for one in found if one.rule == "unknown-parameter-named"]
    assert [message.split()[0] for message in told] == ["`quay_no`", "`tide_no`"]


@pytest.mark.parametrize(
    ("said", "rule", "mended"),
    [
        ("Set `ring_way` to ring twice.", "unknown-parameter-named", "Set `RingWay` to ring twice."),
        (
            "Use listRingers to see who is there.",
            "unknown-tool-named",
            "Use list_ringers to see who is there.",
        ),
    ],
)
def test_a_name_spelled_otherwise_is_told_as_it_is_spelled_here(said, rule, mended):
    tools = [tool("ring", said, RingWay={"type": "string"}), tool("list_ringers")]
    (rule_,) = (one for one in RULES if one.id == rule)
    (found,) = lint(snapshot_from({"tools": tools}), rules=[rule_])
    assert found.suggestion[0]["value"] == mended
