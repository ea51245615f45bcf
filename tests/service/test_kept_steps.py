"""What releases changed, kept as rows: the timeline says what comparing says, whatever moved, and compares nothing."""

from __future__ import annotations

import copy

import pytest

from tallshelf.run.scenario import player
from tallshelf.run.scenario.player import actor
from tallshelf.service.catalog import comparing, queries, steps
from tallshelf.service.catalog.models import JudgedStep
from tallshelf.service.jobs.models import Job
from tallshelf.service.purging import purge
from tallshelf.service.review import actions as review
from tallshelf.service.review.models import Request
from tests.service.conftest import ended, submission, work


@pytest.fixture
def publish(company):
    """Publish a version with so many tools, the first of which says what is given."""

    def make(version, tools=3, says=""):
        body = submission("1.4.2")
        declared = body["snapshot"]["tools"]
        declared[0]["description"] += says
        more = [{**copy.deepcopy(declared[0]), "name": f"list_quays_{number}"} for number in range(tools)]
        body["snapshot"]["tools"] = [*declared, *more]
        one = review.read_submission(actor("tomas"), body["snapshot"], version, body["launch"])
        found, _ = review.submit(actor("tomas"), "berth-planner", one)
        player.agree(found)
        return review.publish(actor("tomas"), found.pk)

    return make


def timeline():
    return [
        (step["version"], step["since"], step["impact"], step["silent"], step["changes"])
        for step in queries.timeline(actor("runa"), "berth-planner")
    ]


def as_compared():
    """What the timeline must say: compared from the bytes."""
    comparing.forget()
    found = queries.releases(actor("runa"), queries.server("berth-planner"))[::-1]
    told = []
    for before, release in zip([None, *found], found, strict=False):
        if before is None:
            told.append((release.version, None, None, 0, 0))
            continue
        changes = [one for one in queries.comparison(before, release).changes if not one.folded]
        impact = steps.worst(changes)
        silent = sum(one.silent for one in changes)
        told.append((release.version, before.version, impact, silent, len(changes)))
    return told


def test_the_timeline_says_what_comparing_says_and_compares_nothing(publish, monkeypatch):
    publish("2.0.0")
    publish("3.0.0", tools=1)
    publish(
        "2.4.0", tools=2, says=" It answers within a minute."
    )  # comes between, and moves the step after it
    assert timeline() == as_compared() and not JudgedStep.objects.exists()
    work()
    assert JudgedStep.objects.count() == 3
    compared = as_compared()
    assert [one[2] for one in compared] == [None, "breaking", "breaking"]
    publish("3.1.0", tools=4)
    work()
    ended("withdraw", "2.4.0")
    work()
    compared = as_compared()
    monkeypatch.setattr(steps, "compared_releases", lambda *_: pytest.fail("compared anew"))
    assert timeline() == compared and len(compared) == 4


def test_rows_of_another_engine_are_passed_over_and_made_anew(publish, settings):
    publish("2.0.0")
    publish("2.1.0", tools=4)
    work()
    JudgedStep.objects.update(changes=99)
    assert {one[4] for one in timeline()} == {99}
    settings.ENGINE = "tallshelf of tomorrow"
    assert timeline() == as_compared()
    steps.ask_if_moved()
    work()
    assert timeline() == as_compared() and {row.engine for row in JudgedStep.objects.all()} == {
        steps._reader()
    }
    Job.objects.all().delete()
    steps.ask_if_moved()
    assert not Job.objects.exists(), "all is kept"


def test_what_is_ruled_counts_at_once(api, publish):
    publish("2.0.0")
    body = submission("1.4.2")
    body["snapshot"]["tools"][0]["inputSchema"]["properties"]["vessel_length"]["description"] = (
        "Length overall of the vessel, in feet"
    )
    status, request = api("tomas").post("servers/berth-planner/releases", {**body, "version": "3.0.0"})
    assert status == 201, request
    player.agree(Request.objects.get(pk=request["id"]))
    review.publish(actor("tomas"), request["id"])
    work()
    (change,) = [one for one in request["assessment"]["changes"] if one["silent"]]
    assert timeline()[-1][3] == 1
    about = {"pairs": [change["basis"]], "word": "same-meaning", "reason": "it was always so"}
    made = api("ines").post("rulings", {**about, "release": "berth-planner@3.0.0"})[1]
    api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    for _ in range(2):
        assert timeline()[-1][3] == 0 and timeline() == as_compared()
        work()


def test_a_purge_drops_what_was_kept(publish):
    publish("2.0.0")
    publish("2.1.0", tools=4)
    work()
    purge(actor("pell"), "berth-planner", "2.1.0", "tool:list_quays_3", "leaked")
    assert not JudgedStep.objects.exists()
    work()
    assert JudgedStep.objects.count() == 2 and timeline() == as_compared()
