"""Terms of the house count where a second curator agreed to them: in requests, comparisons, find and overlaps."""

from __future__ import annotations

import copy

import pytest

from tallshelf.run.scenario import player
from tallshelf.run.scenario.player import actor
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import linting, overlap, queries, search, steps
from tallshelf.service.catalog.actions import style as style_acts
from tallshelf.service.catalog.models import JudgedStep, StoredProfiles, StoredStyle
from tallshelf.service.review import actions as review
from tallshelf.service.review.models import Request
from tests.service.conftest import submission, work

STYLE = 'name = "pellam"\n[words]\nbanned = { berth = "slip", purge = "tidy" }\n'
NO_WORDS = 'name = "pellam"\n'


def in_force(api, text, by=("ines", "oskar")):
    made = api(by[0]).post("style", {"text": text, "note": "One word for one thing."})[1]
    assert made["state"] == "proposed", made
    return api(by[1]).post(f"styles/{made['version']}/answer", {"answer": "agree"})[1]


def with_slips(version="1.5.0"):
    """The berth planner as it is, with slips where its texts had berths."""
    body = submission("1.4.2")
    for tool in body["snapshot"]["tools"]:
        tool["description"] = tool["description"].replace("berth", "slip")
    return {**body, "version": version}


@pytest.fixture
def planner(company):
    body = submission("1.4.2")
    one = review.read_submission(actor("tomas"), body["snapshot"], "1.4.2", body["launch"])
    found, _ = review.submit(actor("tomas"), "berth-planner", one)
    player.agree(found)
    return review.publish(actor("tomas"), found.pk)


def silent(api, body):
    checked = api("tomas").post("servers/berth-planner/check", body)[1]
    posted = api("tomas").post("comparison", {"old": "berth-planner", "snapshot": body["snapshot"]})[1]
    told = [sum(one["silent"] for one in found["changes"]) for found in (checked["assessment"], posted)]
    assert told[0] == told[1]
    return told[0]


def test_terms_count_once_a_second_curator_agreed(api, planner):
    body = with_slips()
    as_read = silent(api, body)
    made = api("ines").post("style", {"text": STYLE, "note": "n"})[1]
    assert (made["state"], made["loosened"]) == ("proposed", ["read as the same: berth and slip"])
    assert made["read_as_same"] == [] and silent(api, body) == as_read > 0
    agreed = api("oskar").post(f"styles/{made['version']}/answer", {"answer": "agree"})[1]
    assert agreed["read_as_same"] == [["berth", "slip"]]
    assert silent(api, body) == 0
    moved = copy.deepcopy(body)
    length = moved["snapshot"]["tools"][0]["inputSchema"]["properties"]["vessel_length"]
    length["description"] = "Length overall of the vessel, in feet"
    assert silent(api, moved) == 1, "what else moved is told"
    in_force(api, NO_WORDS)
    assert silent(api, body) == as_read


def test_a_style_of_before_reads_nothing_as_the_same_until_it_is_agreed_to(api, planner, monkeypatch):
    body = with_slips()
    as_read = silent(api, body)
    with (
        monkeypatch.context() as before
    ):  # as an older service told of it, when words said nothing of meaning
        before.setattr(style_acts, "loosened", lambda old, new: ())
        assert api("ines").post("style", {"text": STYLE, "note": "n"})[1]["state"] == "in force"
    assert api("ines").get("style")[1]["read_as_same"] == [] and silent(api, body) == as_read > 0
    assert linting.style_in_force().digest == StoredStyle.objects.get().digest
    edited = {"loosened": ["read as the same: berth and slip"], "agreed_by": actor("oskar").id}
    StoredStyle.objects.update(**edited)
    assert api("ines").get("style")[1]["read_as_same"] == [], "a row decides nothing"
    StoredStyle.objects.update(loosened=[], agreed_by=None)
    assert in_force(api, STYLE + "\n")["loosened"] == ["read as the same: berth and slip"]
    assert silent(api, body) == 0


def test_timeline_life_and_requests_follow(api, planner):
    status, request = api("tomas").post("servers/berth-planner/releases", with_slips("2.0.0"))
    assert status == 201 and any(one["silent"] for one in request["assessment"]["changes"])
    in_force(api, STYLE)
    assert "style" in api("ines").get(f"requests/{request['number']}")[1]["moved"]
    work()
    again = api("ines").get(f"requests/{request['number']}")[1]
    assert not any(one["silent"] for one in again["assessment"]["changes"])
    player.agree(Request.objects.get(pk=request["number"]))
    review.publish(actor("tomas"), request["number"])
    work()

    def told():
        life = queries.life(actor("runa"), "berth-planner", "tool:find_free_berth")
        kept = [one["silent"] for one in queries.timeline(actor("runa"), "berth-planner")]
        return sum(kept), sum(change.silent for step in life for change in step.changes)

    assert told() == (0, 0) and JudgedStep.objects.filter(engine=steps._reader()).count() == 2
    in_force(api, NO_WORDS)
    assert min(told()) > 0, "rows read by other terms are passed over"
    work()
    assert JudgedStep.objects.filter(engine=steps._reader()).count() == 2 and min(told()) > 0


def test_find_looks_for_the_other_term_and_for_what_is_spelled_out(api, planner):
    search.rebuild()
    assert api("edda").get("find?q=bollard")[1]["results"] == []
    in_force(
        api,
        'name = "x"\n[words]\nbanned = { bollard = "berth" }\nabbreviations = { loa = "vessel length" }\n',
    )
    assert api("edda").get("find?q=bollard&kind=tool")[1]["results"][0]["item"] == "tool:get_berth_plan"
    spelled = api("edda").get("find?q=loa")[1]
    assert spelled["results"] and not spelled["respelled"]


def test_overlaps_are_read_by_them_by_a_job(api, planner):
    snapshot = {
        "tools": [
            {
                "name": "get_pontoon_plan",
                "description": "Return the pontoon plan of a terminal for a day.",
                "inputSchema": {"type": "object", "properties": {"day": {"type": "string"}}},
            }
        ]
    }
    catalog.enrol_server(actor("mira"), "pontoons", title="Pontoons", team="crew", contact="c")
    made, _ = review.submit(
        actor("mira"), "pontoons", review.read_submission(actor("mira"), snapshot, "1.0.0", [])
    )
    player.agree(made, ("oskar", "runa", "kari"))
    review.publish(actor("mira"), made.pk)
    overlap.catch_up()
    before = overlap.catalog_index().version

    def pairs():
        return {
            (one.a.item, one.b.item, one.cls) for one in overlap.found_overlaps() if one.cls == "same-job"
        }

    asked = api("mira").post("overlaps", {"snapshot": snapshot, "server": "elsewhere"})[1]["overlaps"]
    assert "same-job" not in [one["class"] for one in asked if one["b"]["server"] == "berth-planner"]
    assert not pairs()
    in_force(api, 'name = "x"\n[words]\nbanned = { pontoon = "berth" }\n')
    assert not pairs(), "a reading reads nobody anew"
    work()
    assert {tuple(sorted(pair[:2])) for pair in pairs()} == {("tool:get_berth_plan", "tool:get_pontoon_plan")}
    assert {row.terms for row in StoredProfiles.objects.all()} == {linting.terms_in_force().key}
    asked = api("mira").post("overlaps", {"snapshot": snapshot, "server": "elsewhere"})[1]["overlaps"]
    assert "same-job" in [one["class"] for one in asked if one["b"]["server"] == "berth-planner"]
    in_force(api, NO_WORDS)
    work()
    assert not pairs() and overlap.catalog_index().version == before
