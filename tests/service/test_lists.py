"""Lists: every order is whole over its pages, and what changed after a moment is told."""

from __future__ import annotations

import base64
import json
from datetime import timedelta
from urllib.parse import quote

import pytest

from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tests.service.conftest import submission

TITLES = ("Ferries", "berths", "Pilots", "Éclair", "Ferries", "ferries", "Zebra")


def enrol(slug, title="Tide table"):
    ines = history.actor("ines")
    catalog.enrol_server(ines, slug, title=title, team="berths", contact="berths@pellam.example")


def whole(asks, path, limit=2):
    """Return all rows of a list, page by page, and how many pages there were."""
    rows, cursor, pages = [], "", 0
    while True:
        joint = "&" if "?" in path else "?"
        status, page = asks.get(f"{path}{joint}limit={limit}{cursor}")
        assert status == 200, page
        rows, pages = rows + page["results"], pages + 1
        if page["next"] is None:
            return rows, pages
        cursor = f"&cursor={page['next']}"


@pytest.mark.parametrize("sort", ["slug", "title", "team", "changed_at"])
def test_an_order_is_whole_over_its_pages_and_the_other_way_round(api, sort):
    for at, title in enumerate(TITLES):
        enrol(f"server-{at}", title)
    asks = api("ines")
    rows, pages = whole(asks, f"servers?sort={sort}")
    assert pages == 4
    assert len({one["slug"] for one in rows}) == len(rows) == len(TITLES) + 1
    back, _ = whole(asks, f"servers?sort=-{sort}", limit=3)
    assert [one["slug"] for one in back] == [one["slug"] for one in reversed(rows)]
    name = {"team": "team_slug"}.get(sort, sort)
    assert [one[name] for one in rows] == sorted(one[name] for one in rows)


def test_each_act_on_a_server_is_told_to_who_asks_what_changed(api, submitted, monkeypatch):
    enrol("other")
    asks, moment = api("ines"), clock.now()
    for step, act in enumerate(
        (
            lambda: submitted(),
            lambda: asks.post("requests/1/comments", {"text": "why?"}),
            lambda: asks.call("PATCH", "servers/berth-planner", {"title": "Berths"}),
            lambda: asks.post("suspensions", {"server": "berth-planner", "reason": "leaks"}),
        )
    ):
        before, after = (moment + timedelta(hours=step, minutes=minutes) for minutes in (30, 59))
        monkeypatch.setattr(clock, "now", lambda after=after: after)
        told = asks.get(f"servers?changed_after={quote(before.isoformat())}")[1]["results"]
        assert told == []
        act()
        told = asks.get(f"servers?changed_after={quote(before.isoformat())}")[1]["results"]
        assert [one["slug"] for one in told] == ["berth-planner"], step
        requests = asks.get(f"requests?changed_after={quote(before.isoformat())}")[1]["results"]
        assert len(requests) == (step < 2), step


def test_the_ledger_waivers_and_rulings_take_the_same(api, published):
    published()
    asks = api("ines")
    rows, _ = whole(asks, "ledger?sort=number", limit=20)
    assert [one["number"] for one in rows] == list(range(1, len(rows) + 1))
    last = rows[-4]["at"]
    told, _ = whole(asks, f"ledger?changed_after={last}", limit=1)
    assert [one["number"] for one in told] == [one["number"] for one in reversed(rows) if one["at"] > last]
    for path in ("waivers?sort=until", "rulings?sort=-changed_at", "requests?sort=opened_at"):
        assert asks.get(f"{path}&changed_after=2000-01-01T00:00:00%2B02:00")[0] == 200


@pytest.mark.parametrize(
    ("asked", "told"),
    [
        ("sort=colour", "cannot sort by 'colour'"),
        ("sort=--slug", "cannot sort by '--slug'"),
        ("sort=slug__in", "cannot sort by"),
        ("changed_after=yesterday", "no moment with its zone"),
        ("changed_after=2030-01-31T12:00:00", "no moment with its zone"),
        ("cursor=x", "the cursor cannot be read"),
        ("cursor=W10", "the cursor cannot be read"),
        ("cursor=WyJzbHVnIiwge30sIDFd", "the cursor cannot be read"),
        ("changed_after=0001-01-01T00:00:00%2B14:00", "no moment with its zone"),
        ("limit=0", "a number from 1 to 200"),
    ],
)
def test_what_a_list_cannot_do_is_refused(api, asked, told):
    status, problem = api("ines").get(f"servers?{asked}")
    assert (status, told in problem["detail"]) == (400, True), problem


def test_a_cursor_of_another_order_is_refused(api):
    enrol("other")
    asks = api("ines")
    cursor = asks.get("servers?limit=1")[1]["next"]
    status, problem = asks.get(f"servers?limit=1&sort=title&cursor={cursor}")
    assert (status, "sorted by slug" in problem["detail"]) == (400, True)


def test_a_release_that_comes_changes_its_server_alone(api):
    enrol("other")
    before = {one["slug"]: one["changed_at"] for one in api("ines").get("servers")[1]["results"]}
    assert api("tomas").post("servers/berth-planner/releases", submission())[0] == 201
    after = {one["slug"]: one["changed_at"] for one in api("ines").get("servers")[1]["results"]}
    assert {slug for slug in after if after[slug] != before[slug]} == {"berth-planner"}


def test_no_cursor_makes_a_list_fail(api):
    asks = api("ines")
    odd = [2**70, -(2**70), True, "", "x" * 5000, "\0", "9999-99-99", None, [], 1.5]
    for path, sorts in (
        ("servers", ["slug", "changed_at"]),
        ("waivers", ["-number", "until"]),
        ("ledger", ["number"]),
    ):
        for sort in sorts:
            for value in odd:
                cursor = (
                    base64.urlsafe_b64encode(json.dumps([sort, value, value]).encode()).decode().rstrip("=")
                )
                assert asks.get(f"{path}?sort={sort}&cursor={cursor}")[0] in (200, 400), (path, sort, value)


@pytest.mark.parametrize(
    ("asked", "found"),
    [
        ("kind=withdraw", ["withdraw"]),
        ("kind=publish&state=done", ["publish", "publish"]),
        ("q=1.5.0", ["publish"]),
        ("q=berth+1.4", ["withdraw", "publish"]),
        ("q=TOMAS+planner", ["withdraw", "publish", "publish"]),
        ("q=1.5.0+ines", []),
        ("q=%25", []),
        ("team=crew&q=berth", []),
    ],
)
def test_requests_are_found_by_kind_and_by_words(api, published, asked, found):
    published("1.4.2")
    published("1.5.0")
    body = {"kind": "withdraw", "server": "berth-planner", "version": "1.4.2", "reason": "Old."}
    assert api("tomas").post("requests", body)[0] == 201
    _, page = api("ines").get(f"requests?{asked}")
    assert [one["kind"] for one in page["results"]] == found
