"""The shelf: which servers are asked for, as rows and as a picture counted by team."""

from __future__ import annotations

import pytest

from tallshelf.run.scenario import history
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import shelf
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.people.models import Team


@pytest.fixture
def shelved(published, submitted):
    """A server in use that has one more release in review, an empty one, one that was used, and one that is stopped."""
    published("1.4.2")
    ines = history.actor("ines")
    for slug, team, tags in (("quay-lights", "berths", ["dock"]), ("crew-rota", "crew", ["dock", "ünit 1"])):
        about = {"title": slug.title(), "contact": "c@pellam.example", "tags": tags}
        catalog.enrol_server(ines, slug, team=team, data_class="restricted", **about)
    used, copied = Server.objects.get(slug="crew-rota"), Release.objects.get()
    copied.pk, copied.server, copied.state, copied.item_count = None, used, "deprecated", 400
    copied.save()
    catalog.suspend(ines, "quay-lights", "It blinks.")
    submitted("1.5.0")


ASKED = {
    "": "berth-planner crew-rota quay-lights",
    "state=published": "berth-planner",
    "state=in-review": "berth-planner",
    "state=deprecated": "crew-rota",
    "state=suspended": "quay-lights",
    "state=empty": "quay-lights",
    "state=adopted": "",
    "tag=dock": "crew-rota quay-lights",
    "tag=doc": "",
    "tag=ünit 1": "crew-rota",
    "team=crew": "crew-rota",
    "data_class=restricted": "crew-rota quay-lights",
    "transport=stdio": "berth-planner",
    "transport=http%2Bsse": "",
    "q=QUAY": "quay-lights",
    "q=crew dock": "crew-rota",
    "q=%25": "",
}


@pytest.mark.parametrize("asked", ASKED)
def test_rows_and_picture_are_of_the_servers_that_are_asked_for(shelved, api, asked):
    rows = api("runa").get(f"servers?{asked}")[1]["results"]
    assert [one["slug"] for one in rows] == ASKED[asked].split()
    drawn = api("runa").get(f"shelf?{asked}")[1]
    assert sorted(drawn["rows"], key=lambda one: one["slug"]) == rows
    assert (drawn["servers"], drawn["on_shelf"]) == (len(rows), 3)
    assert drawn["tools"] == sum(one["current_tools"] or 0 for one in rows)
    assert {one["team"]: one["servers"] for one in drawn["bays"]} == {
        team: sum(row["team_slug"] == team for row in rows) for team in {row["team_slug"] for row in rows}
    }


@pytest.mark.parametrize(("who", "waits"), {"kari": "", "tomas": "", "ines": "berth-planner"}.items())
def test_what_waits_for_whoever_looks_is_a_state_of_their_own(shelved, api, who, waits):
    rows = api(who).get("servers?state=waits-for-me")[1]["results"]
    assert " ".join(one["slug"] for one in rows) == waits
    inbox = api(who).get("requests?mine=true")[1]["results"]
    assert {one["server"] for one in inbox} == set(waits.split())


def test_what_there_is_not_is_refused_with_what_there_is(shelved, api):
    for asked, named in (("state=gone", "published"), ("transport=pigeon", "stdio")):
        status, problem = api("runa").get(f"shelf?{asked}")
        assert status == 400 and named in problem["remedy"]


def test_the_picture_counts_each_bay_and_filters_move_neither_its_place_nor_any_size(shelved, api):
    drawn = api("runa").get("shelf")[1]
    berths, crew = drawn["bays"]
    items = Release.objects.get(server__slug="berth-planner", state="published").item_count
    assert berths == {
        "team": "berths", "title": Team.objects.get(slug="berths").title, "place": 0, "servers": 2,
        "items": items, "waiting": 1, "suspended": 1, "deprecated": 0, "edges": [items, 0],
    }  # fmt: skip
    assert (crew["items"], crew["deprecated"], crew["edges"]) == (400, 1, [400])
    assert drawn["largest"]["items"] == 400 and drawn["tags"] == ["dock", "ünit 1"]
    filtered = api("runa").get("shelf?team=crew")[1]
    assert filtered["bays"] == [crew] and filtered["largest"] == drawn["largest"]
    assert filtered["teams"] == drawn["teams"]


def test_of_many_servers_only_counts_come_and_each_bay_is_asked_for(shelved, api, monkeypatch):
    monkeypatch.setattr(shelf, "ROOMY", 2)
    drawn = api("runa").get("shelf")[1]
    assert drawn["rows"] == [] and [one["servers"] for one in drawn["bays"]] == [2, 1]
    assert len(api("runa").get("shelf?team=berths")[1]["rows"]) == 2


@pytest.mark.parametrize("sort", ["items", "-items", "tokens", "-tokens"])
def test_what_has_no_size_comes_last_either_way_over_its_pages(shelved, api, sort):
    whole = [one["slug"] for one in api("runa").get(f"servers?sort={sort}")[1]["results"]]
    assert whole[0] == "berth-planner"
    seen, cursor = [], ""
    while cursor is not None:
        page = api("runa").get(f"servers?sort={sort}&limit=1{cursor and '&cursor=' + cursor}")[1]
        seen, cursor = seen + [one["slug"] for one in page["results"]], page["next"]
    assert seen == whole and sorted(seen) == ["berth-planner", "crew-rota", "quay-lights"]
