"""Editing what the catalog says about a server, and ending a release with notice."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.test import Client

from tallshelf.core.errors import BadArgument, Denied, NotFound, Outdated
from tallshelf.run.scenario.history import actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions, queries
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actions import SETUP
from tallshelf.service.review import actions as review
from tests.service.conftest import ended


def test_the_owner_team_edits_all_but_the_data_class(api):
    tomas = api("tomas")
    status, found = tomas.call(
        "PATCH", "servers/berth-planner", {"title": "Berths", "tags": ["b", "a", "b"], "source_link": ""}
    )
    assert (status, found["title"], found["tags"]) == (200, "Berths", ["a", "b"])
    assert found["may_edit"] == ["title", "contact", "source_link", "tags", "use"]
    assert tomas.call("PATCH", "servers/berth-planner", {"data_class": "restricted"})[0] == 403
    assert api("ines").call("PATCH", "servers/berth-planner", {"data_class": "restricted"})[0] == 200
    assert api("jonas").get("servers/berth-planner")[1]["may_edit"] == []


def test_an_edit_is_in_the_ledger_and_the_same_again_is_not(company):
    for _ in range(2):
        actions.edit_server(actor("tomas"), "berth-planner", {"contact": "new@pellam.example"})
    (entry,) = Entry.objects.filter(event="server-edited")
    assert '"before":{"contact":"berths@pellam.example"}' in entry.body


@pytest.mark.parametrize(
    "bad",
    [{"source_link": "javascript:alert(1)"}, {"data_class": "secret"}, {"title": "x" * 121}, {"tags": "a"}],
)
def test_a_bad_edit_changes_nothing(api, bad):
    before = api("ines").get("servers/berth-planner")[1]
    assert api("ines").call("PATCH", "servers/berth-planner", {"contact": "c", **bad})[0] == 400
    assert api("ines").get("servers/berth-planner")[1] == before


def test_an_edit_of_what_has_moved_is_refused(company):
    seen = queries.record_digest(queries.server("berth-planner"))
    actions.edit_server(actor("tomas"), "berth-planner", {"title": "One"}, seen=seen)
    with pytest.raises(Outdated, match="changed by someone else"):
        actions.edit_server(actor("ines"), "berth-planner", {"contact": "c"}, seen=seen)
    assert queries.server("berth-planner").contact == "berths@pellam.example"


def test_lowering_the_data_class_takes_more_than_one_person(company):
    for one in (actor("pell"), SETUP):
        with pytest.raises(Denied, match="more than one person"):
            actions.edit_server(one, "berth-planner", {"data_class": "public"})


def test_a_deprecation_says_until_when_and_what_instead(published, api):
    published("1.4.1")
    published("1.4.2")
    until = clock.now() + timedelta(days=30)
    ines = api("ines")
    ended("deprecate", "1.4.1", "old", sunset_at=until, replacement="berth-planner@1.4.2")
    found = ines.get("servers/berth-planner/releases/1.4.1")[1]
    assert (found["state"], found["replacement"]) == ("deprecated", "berth-planner@1.4.2")
    headers = {}
    for path in ("", "/snapshot", "/items", "/connection"):
        address = f"/api/v1/servers/berth-planner/releases/1.4.1{path}"
        headers = Client().get(address, headers=ines.headers).headers
        assert headers["Deprecation"].startswith("@")
        assert headers["Sunset"].endswith("GMT")
        assert headers["Link"] == ('</api/v1/servers/berth-planner/releases/1.4.2>; rel="successor-version"')
    block = ines.get("servers/berth-planner/releases/1.4.1/connection")[1]
    assert f"not to be used after {until:%Y-%m-%d}. Use berth-planner@1.4.2 instead." in block["warning"]
    current = Client().get("/api/v1/servers/berth-planner/releases/1.4.2", headers=ines.headers)
    assert "Deprecation" not in current.headers


@pytest.mark.parametrize(
    ("act", "more", "error"),
    [
        ("deprecate", {"sunset_at": clock.now() - timedelta(days=1)}, BadArgument),
        ("deprecate", {"replacement": "no-such-server"}, NotFound),
        ("deprecate", {"replacement": "berth-planner@9.9.9"}, NotFound),
        ("deprecate", {"replacement": "berth-planner#get_berth_plan"}, BadArgument),
        ("withdraw", {"replacement": "berth-planner"}, BadArgument),
    ],
)
def test_an_ending_that_makes_no_sense_is_refused(published, act, more, error):
    published("1.4.2")
    with pytest.raises(error):
        review.ask(actor("ines"), review.RequestDraft(act, "berth-planner", "r", "1.4.2", **more))
    assert queries.release(actor("ines"), "berth-planner", "1.4.2").state == "published"


def test_acts_happen_at_the_time_of_the_clock(company):
    moment = clock.now() - timedelta(days=100)
    with clock.at(moment):
        actions.suspend(actor("ines"), "berth-planner", "r")
    assert queries.standing_suspensions().get().at == moment
    assert Entry.objects.last().at.startswith(moment.isoformat()[:19])
    assert clock.now() > moment
    with pytest.raises(ValueError, match="time zone"), clock.at(moment.replace(tzinfo=None)):
        pass
