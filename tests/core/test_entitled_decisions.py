"""The judge, asked by entries alone: waivers, rulings, known findings, styles and rules."""

from __future__ import annotations

from typing import Any

import pytest

from tallshelf.core.routing import rule_set_from
from tests.core.company import LATER, LATEST, RULES, Company
from tests.core.facts import FACTS

WAIVER = {
    "server": "quay",
    "waiver": 1,
    "rule": "no-units",
    "item": "tool:x",
    "pointer": None,
    "until": LATER,
    "fingerprints": ["f"],
}


def test_a_waiver_is_granted_by_another_and_to_what_was_asked():
    company = Company()
    assert company.why("waiver-asked", "signe", **WAIVER) == "denied"
    company.do("waiver-asked", "tomas", **WAIVER)
    assert company.why("waiver-asked", "tomas", **WAIVER) == "conflict"
    for actor, body, kind in (
        ("ines", {}, None),
        ("tomas", {}, "denied"),
        ("mara", {}, "denied"),
        ("rosa", {}, "denied"),
        ("ines", {"rule": "other"}, "conflict"),
        ("ines", {"until": LATEST}, "conflict"),
        ("ines", {"fingerprints": ["f", "g"]}, "conflict"),
        ("ines", {"item": "tool:y"}, "conflict"),
        ("ines", {"waiver": 2}, "conflict"),
        ("ines", {"server": "other"}, "conflict"),
    ):
        assert company.why("waiver-granted", actor, **(WAIVER | body)) == kind, (actor, body)
    company.submit("tomas", facts={**FACTS.document(), "safety_findings": 1})
    assert company.why("waiver-granted", "rosa", **WAIVER) is None  # she may sign there
    assert company.why("waiver-refused", "rosa", **WAIVER) is None
    company.do("waiver-granted", "ines", **WAIVER)
    assert company.state.waived["quay"] == {1}
    assert company.why("waiver-granted", "ines", **WAIVER) == "conflict"
    assert company.why("waiver-ended", "tomas", server="quay", waiver=1) is None
    assert company.why("waiver-ended", "signe", server="quay", waiver=1) == "denied"
    company.do("waiver-ended", "tomas", server="quay", waiver=1)
    assert company.state.waived["quay"] == frozenset()
    assert company.why("waiver-ended", "tomas", server="quay", waiver=1) == "conflict"


Proposing = tuple[str, dict[str, Any], str, dict[str, Any], str]
RULING = {"ruling": 1, "members": ["quay#x", "pier#y"], "word": "distinct", "pairs": ["quay#x|pier#y"]}
KNOWN = {"proposal": 1, "server": "quay", "fingerprints": ["f"], "release_digest": "r"}
PROPOSALS: list[Proposing] = [
    ("ruling-proposed", RULING, "ruling-in-force", RULING, "ruling-declined"),
    ("known-proposed", KNOWN, "known-accepted", KNOWN, "known-declined"),
    (
        "style-proposed",
        {"version": 1, "digest": "d", "replaces": 0, "loosened": ["x"]},
        "style-in-force",
        {"version": 1, "digest": "d"},
        "style-declined",
    ),
]


@pytest.mark.parametrize(("proposing", "proposal", "accepting", "body", "declining"), PROPOSALS)
def test_what_loosens_takes_a_second_curator(proposing, proposal, accepting, body, declining):
    company = Company()
    assert company.why(accepting, "jon", **body) == "conflict"
    assert company.why(proposing, "tomas", **proposal) == "denied"
    company.do(proposing, "ines", **proposal)
    assert company.why(accepting, "ines", **body) == "denied"
    assert company.why(accepting, "tomas", **body) == "denied"
    assert company.why(accepting, "jon", **body) is None
    if accepting != "style-in-force":
        assert company.why(accepting, "mara", **body) == "denied"  # she is of the owner team
    assert company.why(declining, "ines", **body) is None
    assert company.why(declining, "rosa", **body) == "denied"
    company.do(accepting, "jon", **body)
    assert company.why(accepting, "jon", **body) == "conflict"
    assert company.why(declining, "jon", **body) == "conflict"


def test_a_ruling_is_what_was_proposed_and_ends():
    company = Company()
    company.do("ruling-proposed", "ines", **RULING)
    assert company.why("ruling-in-force", "jon", **RULING | {"word": "same"}) == "conflict"
    assert company.why("ruling-in-force", "jon", **RULING | {"members": ["quay#x"]}) == "conflict"
    company.do("ruling-in-force", "jon", **RULING)
    assert company.state.standing == {"quay": {1}, "pier": {1}}
    assert company.why("ruling-ended", "ines", ruling=2) == "conflict"
    assert company.why("ruling-ended", "tomas", ruling=1) == "denied"
    company.do("ruling-ended", "ines", ruling=1)
    assert company.state.standing["quay"] == frozenset()
    assert company.why("ruling-ended", "ines", ruling=1) == "conflict"


def test_known_findings_are_what_was_proposed_and_only_shrink():
    company = Company()
    company.do("known-proposed", "ines", **KNOWN)
    assert company.why("known-proposed", "ines", **KNOWN) == "conflict"
    for other in ({"fingerprints": ["f", "g"]}, {"release_digest": "q"}):
        assert company.why("known-accepted", "jon", **KNOWN | other) == "conflict"
    company.do("known-accepted", "jon", **KNOWN)
    assert company.state.known["quay"] == {"f"}
    assert company.why("known-shrunk", "tomas", server="quay", gone=["g"]) == "conflict"
    assert company.why("known-shrunk", "signe", server="quay", gone=["f"]) == "denied"
    company.do("known-shrunk", "tomas", server="quay", gone=["f"])
    assert company.state.known["quay"] == frozenset()


def _rules(version: int, replaces: int, rules: list[dict[str, Any]]) -> dict[str, Any]:
    digest_ = rule_set_from(rules, version).digest
    return {"version": version, "digest": digest_, "rules": rules, "replaces": replaces}


def test_rules_that_ask_less_take_a_second_curator_and_those_that_ask_more_do_not():
    company = Company()
    rules = RULES
    more = [
        *rules,
        {**rules[1], "name": "more", "when": [{"fact": "errors", "operator": "at-least", "value": 1}]},
    ]
    assert company.why("rules-proposed", "ines", **_rules(2, 1, more) | {"digest": "other"}) == "conflict"
    assert company.why("rules-proposed", "ines", **_rules(1, 1, more)) == "conflict"
    company.do("rules-proposed", "ines", **_rules(2, 1, more))
    assert company.why("rules-changed", "ines", version=2) is None
    company.do("rules-changed", "ines", version=2)
    company.do("rules-proposed", "ines", **_rules(3, 2, rules[:1]))
    company.do("rules-proposed", "ines", **_rules(4, 1, rules))
    assert company.why("rules-changed", "ines", version=3) == "denied"
    assert company.why("rules-changed", "jon", version=3) is None
    assert company.why("rules-changed", "jon", version=4) == "conflict"
    assert company.why("rules-changed", "jon", version=9) == "conflict"
    company.do("rules-declined", "ines", version=3)
    assert company.why("rules-changed", "jon", version=3) == "conflict"
