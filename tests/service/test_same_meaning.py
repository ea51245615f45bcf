"""Ruling that a silent change does not move the meaning: who may, on what, and what follows from it."""

from __future__ import annotations

import pytest

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.snapshot import snapshot_from
from tallshelf.service.catalog.models import Release, StoredRuling
from tallshelf.service.people import accounts
from tallshelf.service.people import actions as people
from tests.service.conftest import agree_to, submission


def told_otherwise(text):
    """A submission of 1.4.3 in which the vessel's length is told in another way."""
    body = submission("1.4.3")
    body["snapshot"]["tools"][0]["inputSchema"]["properties"]["vessel_length"]["description"] = text
    return body


@pytest.fixture
def silent(api, published):
    """A request of 1.4.3 whose only change is silent, and the basis of that change."""
    published("1.4.2")
    body = told_otherwise("Length overall of the vessel, in feet")
    status, request = api("tomas").post("servers/berth-planner/releases", body)
    assert status == 201, request
    (change,) = [one for one in request["assessment"]["changes"] if one["silent"]]
    assert change["basis"] and not change["ruled"]
    return request["id"], change


def proposed(api, who, change, **more):
    body = {"pairs": [change["basis"]], "word": "same-meaning", "reason": "it was always so"}
    return api(who).post("rulings", {**body, "release": "berth-planner@1.4.3", **more})


def test_two_curators_rule_and_the_honest_version_follows(api, silent):
    number, change = silent
    before = api("ines").get(f"requests/{number}")[1]
    assert before["assessment"]["next_version"]["honest"] == "2.0.0"
    assert before["assessment"]["facts"]["silent_changes"] == 1
    status, made = proposed(api, "ines", change)
    assert (status, made["state"], made["base"]) == (201, "proposed", "1.4.2"), made
    assert made["told"] == [f"{change['item']}: {change['message']}"]
    assert proposed(api, "ines", change)[1]["id"] == made["id"]
    assert api("ines").post(f"rulings/{made['id']}/answer", {"answer": "agree"})[0] == 403
    assert api("ines").get(f"requests/{number}")[1]["moved"] == [], "a proposal settles nothing"
    assert api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})[1]["state"] == "in force"
    assert api("ines").get(f"requests/{number}")[1]["moved"] == ["rulings"]
    after = api("ines").post(f"requests/{number}/assessment")[1]["assessment"]
    assert after["next_version"]["honest"] == "1.4.3" and after["facts"]["silent_changes"] == 0
    (again,) = [one for one in after["changes"] if one["basis"] == change["basis"]]
    assert not again["silent"] and again["impact"] == "caution" and again["ruled"] == "it was always so"
    assert again["message"].endswith("ruled to mean the same")
    compared = api("ines").get("comparison?old=berth-planner@1.4.2&new=berth-planner@1.4.3")[1]
    assert compared["next_version"]["is_honest"] and [
        one["ruled"] for one in compared["changes"] if one["ruled"]
    ]
    ended = api("ines").post(f"rulings/{made['id']}/answer", {"answer": "end", "note": "it is not so"})
    assert ended[1]["state"] == "ended"
    compared = api("ines").get("comparison?old=berth-planner@1.4.2&new=berth-planner@1.4.3")[1]
    assert not compared["next_version"]["is_honest"]


def test_it_holds_for_the_two_texts_that_were_ruled_on(api, silent):
    number, change = silent
    made = proposed(api, "ines", change)[1]
    api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    other = told_otherwise("Length overall of the vessel, in centimetres") | {"request": number}
    api("tomas").post("servers/berth-planner/releases", other)
    after = api("ines").get(f"requests/{number}")[1]["assessment"]
    assert after["facts"]["silent_changes"] == 1 and after["next_version"]["honest"] == "2.0.0"


def test_nobody_with_part_in_it_rules_or_lets_another_rule_for_them(api, silent):
    _, change = silent
    for who in ("tomas", "mira", "ci-berths"):
        assert proposed(api, who, change)[0] == 403, who
    made = proposed(api, "ines", change)[1]
    accounts.change_account(people.SETUP, "ines", {"teams": ["berths"]})
    status, problem = api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    assert status == 403 and "part in request" in problem["detail"]
    status, problem = proposed(api, "ines", change)
    assert status == 201, "what stands already is answered with"
    assert StoredRuling.objects.get(pk=made["id"]).state == "proposed"


def test_a_curator_of_the_owner_team_proposes_nothing(api, silent):
    _, change = silent
    accounts.change_account(people.SETUP, "ines", {"teams": ["berths"]})
    status, problem = proposed(api, "ines", change)
    assert status == 403 and "part in request" in problem["detail"]
    assert not StoredRuling.objects.exists()


@pytest.mark.parametrize(
    ("more", "statuses"),
    [
        ({"release": "berth-planner"}, (400, 422)),
        ({"release": ""}, (400, 422)),
        ({"release": "berth-planner@1.4.2"}, (400, 422)),
        ({"base": "1.0.0"}, (404,)),
        ({"pairs": ["unit-moved|sha256:0|sha256:1"]}, (400, 422)),
        ({"pairs": []}, (400, 422)),
        ({"reason": "  "}, (400, 422)),
        ({"word": "distinct"}, (400, 422)),
    ],
)
def test_what_names_no_silent_change_is_refused(api, silent, more, statuses):
    assert proposed(api, "ines", silent[1], **more)[0] in statuses


def test_who_may_not_see_the_release_sees_no_word_of_the_ruling(api, silent):
    made = proposed(api, "ines", silent[1])[1]
    assert api("edda").get("rulings?word=same-meaning")[1]["results"] == []
    assert [one["id"] for one in api("oskar").get("rulings?word=same-meaning")[1]["results"]] == [made["id"]]
    of = {
        slug: len(api("oskar").get(f"rulings?server={slug}")[1]["results"])
        for slug in ("berth-planner", "berth", "planner", "tide-log", '"')
    }
    assert of == {"berth-planner": 1, "berth": 0, "planner": 0, "tide-log": 0, '"': 0}
    hidden, shown = Release.objects.get(version="1.4.2"), Release.objects.get(version="1.4.3")
    Release.objects.filter(pk=hidden.pk).update(state=shown.state)
    Release.objects.filter(pk=shown.pk).update(state=hidden.state)
    assert api("edda").get("rulings?word=same-meaning")[1]["results"] == [], "it quotes the base too"


def test_an_edited_row_rules_nothing(api, silent):
    number, change = silent
    made = proposed(api, "ines", change)[1]
    StoredRuling.objects.filter(pk=made["id"]).update(state="in force", reason="edited")
    again = api("ines").post(f"requests/{number}/assessment")[1]
    assert api("oskar").post(f"requests/{number}/sign-offs", agree_to(again))[0] in (409, 412)


TOOL = {"name": "log_catch", "description": "Log a catch.", "inputSchema": {"type": "object"}}


def with_properties(**properties):
    return snapshot_from(
        {"tools": [TOOL | {"inputSchema": {"type": "object", "properties": dict(properties)}}]}
    )


@pytest.mark.parametrize(
    ("old", "new", "ruled_on"),
    [
        ({"mass": {"type": "number", "description": "Mass in kg."}}, {"description": "Mass in lb."}, True),
        ({"mass": {"type": "number", "default": 1}}, {"default": 2}, True),
        ({"mass": {"type": "number"}}, None, False),
    ],
    ids=["a unit", "a default", "an ignored argument"],
)
def test_ignored_arguments_cannot_be_ruled_on(old, new, ruled_on):
    later = {"mass": {**old["mass"], **new}} if new else {}
    changes = compare_snapshots(with_properties(**old), with_properties(**later)).changes
    (silent,) = [one for one in changes if one.silent]
    assert bool(silent.basis) is ruled_on
