"""Routes, state tables and the assessment that ties them together."""

from __future__ import annotations

import dataclasses
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.overlap import MemoryIndex, entries_of
from tallshelf.core.reports import assessment_document, assessment_text, escape
from tallshelf.core.routing import (
    DEFAULT_RULES,
    FALLBACK_DESK,
    RELEASE_STATES,
    REQUEST_STATES,
    Facts,
    RuleSet,
    next_release_state,
    next_request_state,
    rule_set_from,
)
from tallshelf.core.snapshot import Item, snapshot_from

FACTS = Facts(
    first_release=False,
    worst_impact=None,
    undecided=False,
    silent_changes=0,
    version_honest=True,
    errors=0,
    warnings=0,
    safety_findings=0,
    same_job_overlaps=0,
    writing_tools=0,
    newly_writing_tools=0,
    data_class="internal",
    transports=("stdio",),
    origin="handed in by a person",
    pinned=True,
    tokens=10,
    team="berths",
)
RULES = st.lists(
    st.fixed_dictionaries(
        {
            "name": st.just("r"),
            "when": st.lists(
                st.sampled_from(
                    [
                        {"fact": "errors", "operator": "at-least", "value": 1},
                        {"fact": "undecided", "operator": "equals", "value": True},
                        {"fact": "data_class", "operator": "one-of", "value": ["internal"]},
                        {"fact": "transports", "operator": "contains", "value": "stdio"},
                    ]
                ),
                max_size=2,
            ),
            "desk": st.sampled_from(["security", "data", "curators"]),
            "sign_offs": st.integers(0, 2),
            "step": st.integers(1, 3),
            "due_hours": st.integers(1, 99),
            "reason": st.just("because"),
        }
    ),
    max_size=5,
)


@given(RULES, st.integers(0, 2), st.booleans())
def test_routes_name_every_desk_in_order_and_nobody_is_a_gate_by_accident(documents, errors, undecided):
    facts = dataclasses.replace(FACTS, errors=errors, undecided=undecided)
    rules = rule_set_from(documents)
    route = rules.route(facts)
    asked = {(step.number, seat.desk): seat for step in route.steps for seat in step.seats}
    for rule in rules.rules:
        if rule.matches(facts) and rule.sign_offs:
            assert asked[rule.step, rule.desk].sign_offs >= rule.sign_offs
    numbers = [step.number for step in route.steps]
    assert numbers == sorted(set(numbers))
    assert route.steps or route.approved_by
    if not any(rule.matches(facts) for rule in rules.rules):
        assert [seat.desk for step in route.steps for seat in step.seats] == [FALLBACK_DESK]


@given(RULES, RULES)
def test_adding_rules_never_removes_a_desk_that_a_rule_names(first, more):
    def desks(rules: RuleSet) -> set[str]:
        named = {rule.desk for rule in rules.rules if rule.matches(FACTS) and rule.sign_offs}
        return named & {seat.desk for step in rules.route(FACTS).steps for seat in step.seats}

    assert desks(rule_set_from(first)) <= desks(rule_set_from([*first, *more]))


@pytest.mark.parametrize(
    "document",
    [
        {},
        {"name": "r", "when": [{"fact": "mood", "operator": "equals", "value": 1}]},
        {"name": "r", "when": [{"fact": "errors", "operator": "like", "value": 1}]},
    ],
)
def test_a_rule_set_that_cannot_be_read_is_refused(document):
    whole = {"desk": "d", "sign_offs": 1, "step": 1, "due_hours": 1, "reason": "x", **document}
    with pytest.raises(BadArgument):
        rule_set_from([whole])


def test_states_change_only_by_the_acts_of_their_table():
    requests, releases = 0, 0
    for act in (
        "submit",
        "agree",
        "publish",
        "decline",
        "take-back",
        "resubmit",
        "reassess",
        "deprecate",
        "lift",
    ):
        for state in REQUEST_STATES:
            try:
                assert next_request_state(state, act) in REQUEST_STATES
                assert state not in ("done", "declined", "taken-back")
                requests += 1
            except Conflict as refused:
                assert act in refused.reason
        for state in RELEASE_STATES:
            try:
                assert next_release_state(state, act) in RELEASE_STATES
                assert state not in ("withdrawn", "declined")
                releases += 1
            except Conflict as refused:
                assert state in refused.reason
    assert (requests, releases) == (11, 5)


def tool(name: str, description: str, **parameters: str) -> Item:
    schema = {"type": "object", "properties": {key: {"type": value} for key, value in parameters.items()}}
    return Item("tool", name, {"name": name, "description": description, "inputSchema": schema})


CREW = tool("find_crew_member", "Find one crew member by staff number.", staff_number="string")
SAME = tool("lookup_crew_member", "Look up one crew member by staff number.", staff_number="string")


def test_an_assessment_is_the_same_everywhere_and_names_its_inputs():
    snapshot = snapshot_from({"tools": [dict(SAME.body)]})
    base = Base("crew@1.0.0", "1.0.0", snapshot_from({"tools": [dict(CREW.body)]}))
    context = Context(
        version="1.0.1", base=base, index=MemoryIndex(entries_of("roster", [CREW])), rules=DEFAULT_RULES
    )
    one, two = assess(snapshot, context), assess(snapshot, context)
    assert json.dumps(assessment_document(one)) == json.dumps(assessment_document(two))
    assert not one.passed
    assert any("honest" in reason for reason in one.because)
    assert any("same-job" in reason for reason in one.because)
    assert one.inputs["waivers"] == "not given"
    alone = assess(snapshot, Context())
    assert alone.inputs["base"] == "not given"
    assert {part.split(":")[0] for part in alone.not_checked} == {"changes", "overlaps", "route"}
    assert "not checked" in assessment_text(alone, "x")
    undecided = assess(
        snapshot_from({"tools": [{**CREW.body, "inputSchema": {"type": "objekt"}}]}),
        Context(version="2.0.0", base=base, rules=DEFAULT_RULES),
    )
    assert undecided.facts.undecided
    assert undecided.route is not None
    assert undecided.route.steps


def test_untrusted_text_is_shown_escaped():
    assert escape("a\x1b[31mb\u202ec\nd") == "a\\u{001b}[31mb\\u{202e}c d"
