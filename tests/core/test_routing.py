"""Routes, state tables and the assessment that ties them together."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.errors import BadArgument, BadDocument, Conflict
from tallshelf.core.overlap import MemoryIndex, entries_of
from tallshelf.core.reports import assessment_document, assessment_text, escape
from tallshelf.core.routing import (
    DEFAULT_RULES,
    FALLBACK_DESK,
    RELEASE_STATES,
    REQUEST_KINDS,
    REQUEST_STATES,
    RuleSet,
    facts_from,
    faults,
    loosened,
    next_release_state,
    next_request_state,
    parse_routing,
    routing_text,
    rule_set_from,
    try_rules,
)
from tallshelf.core.snapshot import Item, snapshot_from
from tests.core.facts import FACTS

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
    facts = replace(FACTS, errors=errors, undecided=undecided)
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


@given(RULES, st.booleans(), st.sampled_from(REQUEST_KINDS))
def test_nothing_undecided_or_taken_back_is_approved_by_itself_by_default(documents, undecided, kind):
    facts = replace(FACTS, undecided=undecided, kind=kind)
    route = rule_set_from(documents).route(facts)
    unaware = [one for one in documents if all(test["fact"] != "undecided" for test in one["when"])]
    if kind in ("lift", "data-class") or (undecided and unaware == documents):
        assert route.steps and not route.approved_by
    if route.approved_by:
        assert not route.steps
        assert any(not one["sign_offs"] for one in documents)


@given(RULES, RULES)
def test_adding_rules_never_removes_a_desk_that_a_rule_names(first, more):
    def desks(rules: RuleSet) -> set[str]:
        named = {rule.desk for rule in rules.rules if rule.matches(FACTS) and rule.sign_offs}
        return named & {seat.desk for step in rules.route(FACTS).steps for seat in step.seats}

    assert desks(rule_set_from(first)) <= desks(rule_set_from([*first, *more]))


@given(RULES)
def test_rules_are_written_and_read_back_the_same(documents):
    rules = rule_set_from(documents)
    if documents:
        assert parse_routing(routing_text(rules)).digest == rules.digest


@given(RULES)
def test_the_same_rules_loosen_nothing_and_move_nothing(documents):
    named = {one["name"]: one for one in documents}
    rules = rule_set_from(named.values())
    assert loosened(rules, rules) == ()
    tried = try_rules(rules, rules, [(1, FACTS), (2, replace(FACTS, errors=2))])
    assert tried.requests == 2 and tried.moved == ()
    assert all(one.requests_before == one.requests_after for one in tried.desks)


def rule(**changed):
    whole = {"name": "r", "when": [], "desk": "security", "sign_offs": 2, "step": 1, "due_hours": 24}
    return {**whole, "reason": "because", **changed}


@pytest.mark.parametrize(
    ("changed", "told"),
    [
        ({"desk": "curators"}, "asks curators instead"),
        ({"sign_offs": 1}, "needs 1 sign-offs instead of 2"),
        ({"sign_offs": 0}, "approves by itself"),
        ({"due_hours": 48}, "due in 48 hours"),
        ({"when": [{"fact": "errors", "operator": "at-least", "value": 1}]}, "other conditions"),
        ({"name": "other"}, "is taken out"),
        ({"sign_offs": 3, "due_hours": 2}, ""),
    ],
)
def test_what_asks_less_is_named(changed, told):
    found = loosened(rule_set_from([rule()]), rule_set_from([rule(**changed)]))
    assert bool(found) == bool(told)
    assert told in "; ".join(found)


def condition(fact, operator, value):
    return {"fact": fact, "operator": operator, "value": value}


@pytest.mark.parametrize(
    ("rules", "told"),
    [
        ([rule()], ""),
        ([rule(), rule()], "two rules are called 'r'"),
        ([rule(desk="nobody")], "is not there"),
        ([rule(sign_offs=4)], "where 3 sit"),
        ([rule(sign_offs=0, desk="nobody")], ""),
        ([rule(when=[condition("errors", "at-least", 3), condition("errors", "equals", 1)])], "never fire"),
        ([rule(when=[condition("errors", "at-least", 3), condition("errors", "equals", 5)])], ""),
        ([rule(when=[condition("worst_impact", "equals", "terrible")])], "never fire"),
        ([rule(when=[condition("transports", "contains", "pigeon")])], "never fire"),
        (
            [rule(when=[condition("undecided", "equals", True), condition("undecided", "equals", False)])],
            "never",
        ),
        (
            [
                rule(
                    when=[
                        condition("team", "one-of", ["crew", "berths"]),
                        condition("team", "equals", "crew"),
                    ]
                )
            ],
            "",
        ),
    ],
)
def test_rules_that_cannot_be_in_force_are_told(rules, told):
    found = "; ".join(faults(rule_set_from(rules), {"security": 3}))
    assert bool(found) == bool(told)
    assert told in found


@pytest.mark.parametrize(
    "text",
    [
        "rules = 3",
        "[[rules]]\nname = 'a'\nmood = 1\n",
        "[[rules]]\nname = 'a'\ndesk = 'd'\nreason = 'r'\nstep = 'two'\n",
        "[[rules]]\nname = 'a'\ndesk = 'd'\nreason = 'r'\nwhen = [{ fact = 'errors' }]\n",
        "[[rules]]\nname = 'a'\ndesk = 'd'\nreason = 'r'\nwhen = [{ fact = 'errors', equals = 'x' }]\n",
        "[[rules]]\nname = 'a'\ndesk = 'd'\nreason = 'r'\nwhen = [{ fact = 'team', at_least = 1 }]\n",
        "[[rules]",
    ],
)
def test_routing_in_toml_that_cannot_be_is_refused(text):
    with pytest.raises((BadArgument, BadDocument)):
        parse_routing(text)


def test_facts_of_before_are_read_with_what_was_known():
    old = {name: value for name, value in FACTS.document().items() if name != "token_growth"}
    assert facts_from(old) == FACTS
    assert facts_from({**old, "gone": 1}) == FACTS


def test_a_trial_counts_desks_and_names_the_requests_that_move():
    now = rule_set_from([rule(desk="curators", sign_offs=1)])
    wanted = rule_set_from(
        [rule(desk="curators", sign_offs=1), rule(name="s", when=[condition("errors", "at-least", 1)])]
    )
    tried = try_rules(now, wanted, [(7, FACTS), (8, replace(FACTS, errors=1))])
    (moved,) = tried.moved
    assert (moved.request, moved.added, moved.dropped) == (8, ("security",), ())
    security = next(one for one in tried.desks if one.desk == "security")
    assert (security.requests_before, security.requests_after, security.sign_offs_after) == (0, 1, 2)


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
        "carry-out",
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
    assert {part.split(":")[0] for part in alone.not_checked} == {
        "changes",
        "overlaps",
        "launch records",
        "route",
    }
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
