"""The judge, asked by entries alone: handing in, signing, and carrying out."""

from __future__ import annotations

import json
from typing import Any

import pytest
from msgspec.structs import asdict

from tallshelf.core.entitlement.inputs import moved
from tallshelf.core.entitlement.part import behind
from tallshelf.core.entitlement.progress import asked_now, stands
from tallshelf.core.entitlement.replay import read_entry
from tallshelf.core.entitlement.state import moment
from tallshelf.core.snapshot import digest
from tests.core.company import LATER, LATEST, NOW, PERSON, Company, publication, signing
from tests.core.facts import FACTS

SIGNERS: list[tuple[str, dict[str, Any], str | None]] = [
    ("ines", {}, None),
    ("jon", {"answer": "decline"}, None),
    ("mara", {}, "denied"),
    ("tomas", {}, "denied"),
    ("rosa", {}, "denied"),
    ("oskar", {}, "denied"),
    ("gone", {}, "denied"),
    ("ines", {"desk": "security"}, "denied"),
    ("ines", {"release_digest": "other"}, "moved"),
    ("ines", {"assessment_digest": "other"}, "moved"),
    ("ines", {"rule_set": 2}, "moved"),
    ("ines", {"request": 2}, "conflict"),
    ("ines", {"deputy_for": "jon"}, "denied"),
    ("ines", {"despite": [{"gate": "errors", "reason": "r"}]}, "conflict"),
]


@pytest.mark.parametrize(("actor", "body", "kind"), SIGNERS)
def test_who_may_sign(actor, body, kind):
    company = Company()
    company.submit()
    assert company.why("signed-off", actor, **signing(**body)) == kind


def test_who_hands_in_or_made_the_token_that_did_signs_nothing():
    company = Company()
    company.do("token-made", "oskar", **company.token(1, "ci-berths", ["submit"]))
    company.submit("ci-berths", "token:1")
    company.do("desk-joined", "setup", "local", desk="curators", username="oskar", since=NOW)
    act = read_entry(company._row("commented", "ci-berths", "token:1", {}, NOW))
    assert behind(company.state, act) == ("ci-berths", "oskar")
    company.submit("ines", number=2, version="1.1.0")
    assert company.why("signed-off", "ines", **signing(2)) == "denied"
    assert company.why("signed-off", "jon", **signing(2)) is None


def test_part_in_it_outlives_a_request_and_a_number():
    company = Company()
    company.submit("ines")
    company.do("request-taken-back", "ines", server="quay", request=1)
    assert company.state.releases["quay", "1.0.0"].state == "draft"
    company.submit("tomas", number=2, version="1.0.1")
    assert company.why("signed-off", "ines", **signing(2)) == "denied"
    company.do("signed-off", "jon", **signing(2))
    company.do("release-published", "tomas", **publication(2, "1.0.1"))
    company.submit("tomas", number=3, version="1.0.2", base="quay@1.0.1")
    assert company.why("signed-off", "ines", **signing(3)) is None


def test_a_team_member_of_then_is_barred_and_one_of_long_ago_is_not():
    company = Company()
    company.do("person-changed", "oskar", **{**PERSON, "username": "mara", "role": "curator"})
    company.submit()
    assert company.why("signed-off", "mara", **signing()) is None
    company.do(
        "person-changed", "oskar", **{**PERSON, "username": "jon", "role": "curator", "teams": ["berths"]}
    )
    company.do("person-changed", "oskar", **{**PERSON, "username": "jon", "role": "curator"})
    assert company.why("signed-off", "jon", **signing()) == "denied"


def test_who_joins_later_or_deputises_later_signs_not():
    company = Company()
    company.do(
        "deputy-named",
        "ines",
        number=1,
        username="ines",
        deputy="signe",
        since="2026-05-01T06:00:00Z",
        until=LATER,
    )
    company.submit()
    company.do("deputy-named", "jon", number=2, username="jon", deputy="rosa", since=LATER, until=LATEST)
    company.do("desk-joined", "oskar", desk="curators", username="rosa", since=NOW)
    assert company.why("signed-off", "rosa", **signing()) == "denied"
    assert (
        company.why("signed-off", "rosa", at="2026-08-01T06:00:00Z", **signing(deputy_for="jon")) == "denied"
    )
    assert company.why("signed-off", "signe", **signing(deputy_for="ines")) is None
    assert company.why("signed-off", "signe", at=LATEST, **signing(deputy_for="ines")) == "denied"
    company.do("deputy-ended", "ines", username="ines", deputy="signe", number=1)
    assert company.why("signed-off", "signe", **signing(deputy_for="ines")) == "denied"


def test_a_deputy_signs_nothing_that_either_has_part_in():
    company = Company()
    for number, (name, deputy) in enumerate((("mara", "signe"), ("jon", "tomas")), 1):
        company.do(
            "deputy-named",
            name,
            number=number,
            username=name,
            deputy=deputy,
            since="2026-05-01T06:00:00Z",
            until=LATER,
        )
    company.submit()
    assert company.why("signed-off", "signe", **signing(deputy_for="mara")) == "denied"
    assert company.why("signed-off", "tomas", **signing(deputy_for="jon")) == "denied"


def test_from_agreed_to_published():
    company = Company()
    company.submit()
    assert company.why("release-published", "tomas", **publication()) == "conflict"
    company.do("signed-off", "ines", **signing())
    assert company.state.requests[1].state == "agreed"
    assert company.why("signed-off", "jon", **signing()) == "conflict"
    for body, actor, kind in (
        ({}, "tomas", None),
        ({}, "ci-berths", None),
        ({}, "signe", "denied"),
        ({}, "rosa", "denied"),
        ({"release_digest": "other"}, "tomas", "moved"),
        ({"snapshot_digest": "other"}, "tomas", "moved"),
        ({"assessment_digest": "other"}, "tomas", "moved"),
        ({"version": "1.0.1"}, "tomas", "moved"),
        ({"request": 7}, "tomas", "conflict"),
    ):
        assert company.why("release-published", actor, **publication(**body)) == kind, body
    company.do("release-published", "tomas", **publication())
    release = company.state.releases["quay", "1.0.0"]
    assert (release.state, release.published, company.state.requests[1].state) == (
        "published",
        company.number,
        "done",
    )
    assert company.why("release-published", "tomas", **publication()) == "conflict"
    assert company.why("release-submitted", "tomas", **company.submission(2)) == "conflict"


def test_what_it_rests_on_must_still_be_in_force():
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("server-edited", "ines", server="quay", after={"data_class": "confidential"})
    assert company.why("release-published", "tomas", **publication()) == "moved"
    again = {"server": "quay", "request": 1, "assessment_digest": "b", "assessed": company.assessed("s1")}
    assert company.why("reassessed", "clock", "clock", **again, differs=False) is None
    assert company.why("reassessed", "clock", "session", **again, differs=False) == "denied"
    assert company.why("reassessed", "ines", **again, differs=False) is None
    other = {**again, "assessed": company.assessed("s1", substance="t")}
    assert company.why("reassessed", "clock", "clock", **other, differs=False) == "conflict"
    company.do("reassessed", "clock", "clock", **again, differs=False)
    assert company.state.requests[1].state == "agreed"
    assert company.why("release-published", "tomas", **publication(assessment_digest="b")) is None
    company.do("reassessed", "clock", "clock", **other | {"assessment_digest": "c"}, differs=True)
    assert company.state.requests[1].state == "open" and not company.state.requests[1].counting


def test_an_agreement_counts_no_more_once_its_giver_has_part():
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("snapshot-replaced", "ines", **company.submission(assessment_digest="a1"))
    assert company.state.requests[1].counting == ()
    assert company.why("signed-off", "ines", **signing()) == "denied"


def test_questions_and_gates_keep_from_agreeing():
    company = Company()
    gates = [{"gate": "errors", "items": ["tool:x"]}]
    company.submit(gates=gates)
    company.do("commented", "rosa", server="quay", request=1, kind="question", comment=5, answers=None)
    why = {"despite": [{"gate": "errors", "reason": "known"}]}
    assert company.why("signed-off", "ines", **signing(**why)) == "conflict"
    assert company.why("signed-off", "ines", **signing(answer="decline")) is None
    company.do("commented", "tomas", server="quay", request=1, kind="answer", comment=6, answers=5)
    assert company.why("signed-off", "ines", **signing()) == "conflict"
    assert (
        company.why("signed-off", "ines", **signing(despite=[{"gate": "errors", "reason": " "}]))
        == "conflict"
    )
    company.do("signed-off", "ines", **signing(**why))
    assert company.state.requests[1].sign_offs[0].despite == (("errors", "known"),)


def test_safety_findings_are_never_agreed_to():
    company = Company()
    company.submit(gates=[{"gate": "safety-findings", "items": ["tool:x"]}])
    why = {"despite": [{"gate": "safety-findings", "reason": "known"}]}
    assert company.why("signed-off", "ines", **signing(**why)) == "denied"


@pytest.mark.parametrize(("answer", "state"), [("decline", "declined"), ("send-back", "sent-back")])
def test_other_answers_move_a_request_on(answer, state):
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing(answer=answer))
    assert company.state.requests[1].state == state
    declined = {"server": "quay", "version": "1.0.0", "request": 1}
    assert company.why("release-declined", "ines", **declined) == (
        None if state == "declined" else "conflict"
    )
    assert company.why("release-declined", "jon", **declined) == "conflict"
    assert company.why("request-taken-back", "tomas", **declined) == (
        None if state == "sent-back" else "conflict"
    )
    replaced = company.why("snapshot-replaced", "tomas", **company.submission())
    assert replaced == (None if state == "sent-back" else "conflict")


def test_the_second_step_is_asked_once_the_first_agreed():
    company = Company()
    company.submit(facts={**FACTS.document(), "safety_findings": 1})
    found = company.state.requests[1]

    def asked() -> list[str]:
        return [
            one.seat.desk for one in asked_now(stands(company.state, company.state.requests[1], moment(NOW)))
        ]

    assert asked() == ["curators"] and len(found.route.steps) == 2
    assert company.why("signed-off", "rosa", **signing(desk="security")) == "denied"
    company.do("signed-off", "ines", **signing())
    assert asked() == ["security"] and company.state.requests[1].state == "open"
    company.do("signed-off", "rosa", **signing(desk="security"))
    assert company.state.requests[1].state == "agreed"


def _published() -> Company:
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("release-published", "tomas", **publication())
    return company


ASKED: list[tuple[str, str, dict[str, Any], str, dict[str, Any]]] = [
    ("withdraw", "1.0.0", {"reason": "r"}, "release-withdrawn", {"version": "1.0.0", "reason": "r"}),
    ("data-class", "", {"data_class": "public"}, "data-class-changed", {"after": {"data_class": "public"}}),
]


@pytest.mark.parametrize(("kind", "version", "terms", "event", "done"), ASKED)
def test_an_act_is_carried_out_as_it_was_asked_for(kind, version, terms, event, done):
    company = _published()
    server = company.state.servers["quay"]
    asked_class = terms.get("data_class", server.data_class)
    inputs = company.assessed("s1")["inputs"] | {"server": digest(["quay", "berths", asked_class])}
    asked = {
        "server": "quay",
        "version": version,
        "request": 2,
        "kind": kind,
        "item": "",
        "terms": terms,
        "release_digest": "r2",
        "assessment_digest": "a2",
        "opened_at": NOW,
    }
    company.do("request-opened", "tomas", **asked, assessed=company.assessed("s1", inputs=inputs))
    assert moved(company.state, company.state.requests[2], moment(NOW)) == []
    assert company.why("request-opened", "tomas", **asked) == "conflict"
    assert company.why("request-changed", "signe", **asked) == "denied"
    assert company.why("request-changed", "tomas", **asked) is None
    body = {"server": "quay", "request": 2, "item": "", **done}
    assert company.why(event, "tomas", **body) == "conflict"
    company.do("signed-off", "jon", **signing(2))
    for other in (
        {"request": 1},
        {"item": "tool:x"},
        {"version": "9.0.0"},
        {"after": {"data_class": "secret"}},
    ):
        if not (kind == "withdraw" and "after" in other):
            assert company.why(event, "tomas", **body | other) == "conflict", other
    company.do(event, "tomas", **body)
    assert company.state.requests[2].state == "done"
    state, data_class = (
        company.state.releases["quay", "1.0.0"].state,
        company.state.servers["quay"].data_class,
    )
    assert (state, data_class) == (("withdrawn", "internal") if version else ("published", "public"))
    assert company.why(event, "tomas", **body) == "conflict"


def test_a_suspension_is_lifted_by_a_request_only():
    company = _published()
    company.do("suspended", "tomas", server="quay", item="tool:x")
    assert company.why("suspended", "tomas", server="quay", item="tool:x") == "conflict"
    lifting = {"server": "quay", "item": "tool:x", "request": 2}
    assert company.why("suspension-lifted", "ines", **lifting) == "conflict"
    asked = lifting | {
        "version": "",
        "kind": "lift",
        "terms": {},
        "release_digest": "r2",
        "assessment_digest": "a2",
    }
    company.do("request-opened", "tomas", **asked, assessed=company.assessed("s1"))
    company.do("signed-off", "ines", **signing(2))
    assert company.why("suspension-lifted", "tomas", **lifting | {"item": ""}) == "conflict"
    company.do("suspension-lifted", "tomas", **lifting)
    assert company.state.suspended == {}


def test_steps_are_taken_back_to_what_stood_before():
    company = _published()
    before = {name: dict(value) for name, value in asdict(company.state).items() if isinstance(value, dict)}
    number, head = company.state.number, company.state.head
    company.do("person-changed", "oskar", **{**PERSON, "active": False})
    company.do("desk-left", "oskar", desk="security", username="rosa")
    company.do("suspended", "tomas", server="quay", item="")
    for _ in range(3):
        assert company.state.rewind()
    assert {name: value for name, value in asdict(company.state).items() if isinstance(value, dict)} == before
    assert (company.state.number, company.state.head) == (number, head)


def test_equal_texts_of_two_entries_are_kept_once():
    company = Company()
    row = company._row("commented", "ines", "token:1", {"text": ["said once and again"]}, NOW)
    text = json.dumps(row["body"]) if not isinstance(row["body"], str) else row["body"]
    (first,), (second,) = (read_entry(row | {"body": text}).body["text"] for _ in range(2))
    assert first is second


def test_an_item_is_deprecated_and_kept_by_its_own_request_only():
    company = _published()
    ends = {"reason": "no use", "sunset_at": None, "replacement": ""}
    for number, (kind, event, terms) in enumerate(
        [("deprecate-item", "item-deprecated", ends), ("keep-item", "item-kept", {"reason": "of use"})], 2
    ):
        body = {"server": "quay", "item": "tool:x", "request": number, **terms}
        assert company.why(event, "tomas", **body) == "conflict"
        asked = {"server": "quay", "item": "tool:x", "version": "", "kind": kind, "terms": terms}
        digests = {"request": number, "release_digest": f"r{number}", "assessment_digest": f"a{number}"}
        company.do("request-opened", "tomas", **asked, **digests, assessed=company.assessed("s1"))
        assert company.why(event, "tomas", **body) is not None
        company.do("signed-off", "ines", **signing(number))
        for other in ({"item": "tool:y"}, {"item": ""}, {"reason": "other"}, {"request": 1}):
            assert company.why(event, "tomas", **body | other) == "conflict", other
        company.do(event, "tomas", **body)
        assert bool(company.state.ending) == (kind == "deprecate-item")
        assert company.why(event, "tomas", **body) == "conflict"
