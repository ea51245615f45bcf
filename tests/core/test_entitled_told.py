"""What an entry tells of a request, a waiver or the tables of before, and what it leaves as it was."""

from __future__ import annotations

import gc
from typing import Any

import pytest
from msgspec.structs import replace

from tallshelf.core.entitlement import State, advance
from tallshelf.core.entitlement.inputs import in_force_digest, moved
from tallshelf.core.entitlement.part import handed_in
from tallshelf.core.entitlement.progress import asked_now, stands
from tallshelf.core.entitlement.proof import _agreed, _judged, _leads
from tallshelf.core.entitlement.records import HandedIn
from tallshelf.core.entitlement.replay import uncollected
from tallshelf.core.routing import DEFAULT_RULES
from tallshelf.core.style import DEFAULT_STYLE
from tests.core.company import LATER, NOW, Company
from tests.core.test_entitled_decisions import WAIVER

RULING = {"ruling": 1, "members": ["quay#x", "quay#y"], "pairs": ["quay#x|quay#y"]}


def tell(company: Company, event: str, actor: str = "setup", **body: Any) -> None:
    """Take an entry in, whoever was entitled to it."""
    advance(company.state, company._row(event, actor, "local", body, NOW))
    company.number += 1


@pytest.fixture
def asked() -> Company:
    company = Company()
    company.submit()
    return company


def test_a_question_is_open_until_an_answer_to_it_comes(asked):
    tell(asked, "commented", "ines", request=1, comment=7, kind="question")
    tell(asked, "commented", "ines", request=1, comment=8, kind="objection")
    tell(asked, "commented", "tomas", request=1, comment=9, kind="comment", answers=7)
    tell(asked, "commented", "tomas", request=1, comment=10, kind="answer", answers=99)
    tell(asked, "commented", "tomas", request=44, comment=11, kind="question")
    assert asked.state.requests[1].questions == {7, 8}
    tell(asked, "commented", "tomas", request=1, comment=12, kind="answer", answers=7)
    assert asked.state.requests[1].questions == {8}
    assert asked.state.comments[11]["by"] == "tomas"


def test_a_request_that_was_declined_is_no_longer_asked_for(asked):
    tell(asked, "request-declined", "ines", server="quay", request=1)
    assert asked.state.requests[1].state == "declined"


def test_a_waiver_holds_to_the_texts_that_it_was_bound_to_last(asked):
    tell(asked, "waiver-asked", "tomas", **WAIVER)
    tell(asked, "waiver-bound", server="quay", waiver=1, fingerprints=["g", "h"])
    assert asked.state.waivers[1].fingerprints == ("g", "h")


def test_a_waiver_is_refused_by_who_might_grant_it_and_no_other(asked):
    asked.do("waiver-asked", "tomas", **WAIVER)
    assert asked.why("waiver-refused", "tomas", **WAIVER) == "denied"
    assert asked.why("waiver-refused", "ines", **WAIVER) is None
    assert asked.why("waiver-refused", "ines", **WAIVER | {"waiver": 5}) == "conflict"


def test_what_excuses_a_change_takes_a_curator_who_has_no_part_in_it(asked):
    same, apart = RULING | {"word": "same-meaning"}, RULING | {"word": "distinct"}
    for who, word, kind in (
        ("rosa", same, "denied"), ("rosa", apart, "denied"), ("mara", same, "denied"),
        ("mara", apart, None), ("ines", same, None),
    ):  # fmt: skip
        assert asked.why("ruling-proposed", who, **word) == kind


def test_tables_of_before_add_what_their_entries_did_not_tell(asked):
    state = asked.state
    tell(
        asked, "deputy-named", "ines", deputy_id=1, username="ines", deputy="rosa", since=NOW, until=LATER,
    )  # fmt: skip
    token = {
        "token": 4,
        "username": "ines",
        "scopes": ["read"],
        "expires_at": LATER,
        "hash": "x",
        "ended": False,
    }
    deputy = {"number": 2, "username": "jon", "deputy": "rosa", "since": NOW, "until": LATER, "ended": False}
    tell(
        asked, "tables-taken", tokens=[token],
        people=[{"username": "ines", "password": "p", "subject": "s"}],
        invitations=[{"code": "c", "username": "rosa"}],
        desks=[{"desk": "security", "owner_team_excluded": False}], deputies=[deputy],
        requests=[{"request": 1, "item": "tool:moor", "opened_at": LATER}],
        rules=[{"version": 1, "digest": "d", "rules": []}],
    )  # fmt: skip
    assert (
        state.tokens[4].owner == "ines" and state.passwords["ines"] == "p" and state.subjects["ines"] == "s"
    )
    assert not state.desks["security"].owner_team_excluded and state.desks["curators"].owner_team_excluded
    assert set(state.deputies) == {2} and not state.deputies_of["ines"]
    request = state.requests[1]
    assert request.item == "tool:moor" and request.opened_at.month == 7 and request.state == "open"
    assert state.rules[1].body["digest"] == "d" and state.rules[1].body["replaces"] is None
    assert state.rule_sets[1].rules == ()


def test_the_chain_is_keyed_from_the_first_entry_that_names_subjects():
    company, state = Company(), State()
    rows = [company._row("team-added", "setup", "local", {"team": "t", "title": "T"}, NOW)] * 3
    for number, subjects in enumerate((None, ["t"], []), 1):
        advance(state, {**rows[0], "number": number, "hash": f"h{number}", "subjects": subjects})
        assert state.keyed == (0 if number == 1 else 2)


def test_garbage_is_left_alone_meanwhile_and_looked_for_again():
    with uncollected():
        assert not gc.isenabled()
        with uncollected():
            pass
        assert not gc.isenabled()
    assert gc.isenabled()


def test_before_any_was_put_in_force_the_rules_and_the_style_are_those_that_ship():
    state = State()
    assert in_force_digest(state, "rules") == DEFAULT_RULES.digest
    assert in_force_digest(state, "style") == DEFAULT_STYLE.digest


def test_a_request_of_which_no_inputs_are_told_has_moved_whole(asked):
    request = asked.state.requests[1]
    assert moved(asked.state, request, request.opened_at) == []
    other = replace(request, snapshot="other")
    assert moved(asked.state, other, request.opened_at) == ["snapshot"]
    untold = replace(request, assessed=replace(request.assessed, facts={}))
    assert moved(asked.state, untold, request.opened_at) == ["engine"]


@pytest.mark.parametrize(("kind", "done", "concerned"), [
    ("publish", 0, {1}), ("use", 0, {3, 4}), ("use", 101, {4}), ("use", 102, set()),
])  # fmt: skip
def test_what_was_handed_in_of_one_kind_is_no_part_of_another(asked, kind, done, concerned):
    state = asked.state
    acts = [
        HandedIn(100 + number, (f"p{number}",), number, "use", "", "") for number in (3, 4)
    ]  # fmt: skip
    acts[0] = replace(acts[0], entry=101)
    acts[1] = replace(acts[1], entry=102)
    state.put(
        state.servers,
        "quay",
        replace(state.servers["quay"], handed_in=(*state.servers["quay"].handed_in, *acts)),
    )
    publishing = state.requests[1]
    for number in (3, 4):
        state.put(
            state.requests,
            number,
            replace(publishing, number=number, kind="use", done=done if number == 3 else 0),
        )
    request = publishing if kind == "publish" else replace(publishing, number=9, kind="use")
    assert {act.request for act in handed_in(state, request)} == concerned


def test_who_sits_at_a_desk_and_stands_in_for_another_there_signs_once(asked):
    tell(
        asked,
        "deputy-named",
        "jon",
        deputy_id=1,
        username="jon",
        deputy="ines",
        since="2026-05-01T00:00:00Z",
        until=LATER,
    )
    request = asked.state.requests[1]
    (desk,) = asked_now(stands(asked.state, request, request.opened_at))
    assert dict(desk.places) == {"ines": "", "jon": ""}


def entry(number: int, event: str, **body: Any) -> dict[str, Any]:
    return {"number": number, "event": event, "hash": f"h{number}", "body": {"request": 1, **body}}


def test_the_agreements_of_a_proof_are_those_since_the_last_that_voids_them():
    published = entry(9, "release-published")
    agree = entry(2, "signed-off", answer="agree")
    for after, count in (
        ([], 1), ([entry(3, "signed-off", answer="send-back")], 0),
        ([entry(3, "release-submitted")], 0), ([entry(3, "snapshot-replaced")], 0),
        ([entry(3, "reassessed", differs=True)], 0), ([entry(3, "reassessed", differs=False)], 1),
        ([entry(3, "reassessed")], 0), ([entry(3, "commented")], 1),
        ([entry(3, "signed-off", answer="agree", request=2)], 1), ([entry(10, "signed-off", answer="agree")], 1),
        ([entry(3, "signed-off", answer="agree")], 2),
    ):  # fmt: skip
        assert len(_agreed([agree, *after], published)) == count, after
    assert _agreed([agree], None) == []


def test_a_chain_leads_to_what_was_signed_and_holds_the_entries_that_are_shown():
    rows = [{"number": number, "hash": f"h{number}"} for number in (1, 2)]
    signed = {"number": 2, "hash": "h2"}
    assert list(_leads(rows, [entry(2, "x"), entry(5, "x")], signed)) == []
    assert len(list(_leads(rows[:1], [], signed))) == 1 and len(list(_leads([], [], signed))) == 1
    assert "not that of the entries" in next(_leads(rows, [entry(1, "x") | {"hash": "other"}], signed))


def test_an_entry_that_can_matter_must_be_shown():
    def faults(event: str, subjects: list[str] | None, body: str | None) -> list[str]:
        row = {
            "number": 1, "hash": "h1", "at": NOW, "event": event, "actor": "ines", "via": "session",
            "subjects": subjects, "body": body,
        }  # fmt: skip
        return list(
            _judged([row], {"server": "quay", "version": "1.0.0", "state": "published", "digest": "d"})
        )

    hidden = "an entry that can matter is not shown"
    assert hidden in faults("commented", ["quay"], None) and hidden in faults("commented", None, None)
    assert hidden not in faults("commented", ["pier"], None)
    assert faults("commented", ["pier"], None) == ["by the chain it is not there, not published"]
