"""Findings as rows: whatever moved them they are what the bytes come to, with their counts; no page shows half."""

from __future__ import annotations

from collections import Counter
from datetime import timedelta

import pytest

from tallshelf.run.scenario import player
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import findings, linting
from tallshelf.service.catalog.models import (
    FindingCount,
    JudgedServer,
    Server,
    ShownFindings,
    StoredFinding,
    StoredKnown,
)
from tallshelf.service.jobs import actions as jobs
from tallshelf.service.review import actions as review
from tests.service.conftest import ended, submission, work

STRICTER = '[levels]\nopen-to-unknown-parameters = "error"\n'
OTHER = STRICTER + 'vague-parameter = "error"\n'


@pytest.fixture
def published(company):
    """Publish a version of a server whose tools say little."""

    def make(version="1.4.2", slug="berth-planner"):
        body = submission("1.4.2")
        for tool in body["snapshot"]["tools"]:
            tool["description"] = "Handles it."
            for one in tool["inputSchema"]["properties"].values():
                one.pop("description", None)
        one = review.read_submission(actor("tomas"), body["snapshot"], version, body["launch"])
        found, _ = review.submit(actor("tomas"), slug, one)
        player.agree(found)
        return review.publish(actor("tomas"), found.pk)

    return make


def rows():
    return [(one.server.slug, one.document) for one in findings.places(actor("ines")).order_by("key")]


def as_linted():
    """What the rows must be: computed from the bytes."""
    found = Server.objects.exclude(current=None).select_related("current__snapshot").order_by("slug")
    return [
        (one.slug, findings.finding_document(each))
        for one in found
        for each in linting.findings_of(one.current)
    ]


def holds():
    assert rows() == as_linted()
    counts = Counter()
    for one in StoredFinding.objects.select_related("server__team"):
        counts[one.under, one.server.team.slug, one.rule, one.level, one.mark] += 1
    kept = FindingCount.objects.exclude(count=0)
    names = ("under", "team__slug", "rule", "level", "mark", "count")
    assert {row[:-1]: row[-1] for row in kept.values_list(*names)} == dict(counts)


def test_whatever_moves_them_rows_are_what_the_bytes_come_to(published, api):
    ines = actor("ines")
    published("1.4.1")
    holds()
    before = rows()
    assert before
    published("1.4.2")
    holds()
    one = next(each for _, each in rows() if each["item"].startswith("tool:"))
    until = clock.now() + timedelta(days=3)
    review.ask_waiver(actor("tomas"), "berth-planner", one["rule"], one["item"], "r", until)
    review.answer_waiver(ines, 1, "grant", "n")
    holds()
    assert "waived" in {row.mark for row in findings.places(ines)}
    with clock.at(until + timedelta(minutes=2)):
        findings.look_after_waivers()
        holds()
        assert "waived" not in {row.mark for row in findings.places(ines)}
    catalog.propose_known(ines, "berth-planner", "r")
    catalog.answer_known(actor("oskar"), StoredKnown.objects.get().pk, "agree")
    holds()
    assert "known" in {row.mark for row in findings.places(ines)}
    api("ines").call("PATCH", "servers/berth-planner", {"data_class": "restricted"})
    holds()
    ended("withdraw", "1.4.2")
    holds()
    summary = findings.summary(ines)
    assert sum(row["counting"] + row["waived"] + row["known"] for row in summary) == len(rows())


def test_a_style_in_force_is_shown_when_all_of_it_is_made_and_a_killed_job_goes_on(
    published, api, monkeypatch
):
    published("1.4.2")
    for slug in ("dry-dock", "tide-tables"):
        catalog.enrol_server(actor("tomas"), slug, title="T", team="berths", contact="c@pellam.example")
        published("1.0.0", slug)
    before = rows()
    api("ines").post("style", {"text": STRICTER, "note": "n"})
    kept = findings._keep
    made = []

    def killed(server, under, style):
        if len(made) == 2:
            raise KeyboardInterrupt
        made.append(server.slug)
        kept(server, under, style)

    monkeypatch.setattr(findings, "_keep", killed)
    with pytest.raises(KeyboardInterrupt):
        work()
    assert rows() == before, "what is half made is not shown"
    status, told = api("ines").get("findings")
    assert (status, told["progress"]) == (200, {"done": 2, "total": 3})
    monkeypatch.setattr(findings, "_keep", lambda *all_: (made.append(all_[0].slug), kept(*all_)))
    with clock.at(clock.now() + jobs.LEASE * 2):
        work()
    assert sorted(made) == sorted(set(made)), "what was made is not made again"
    assert rows() != before
    holds()
    assert findings.progress() is None
    assert StoredFinding.objects.exclude(under=ShownFindings.objects.get().under).count() == 0


def test_a_style_that_comes_while_another_is_made_is_the_one_that_is_shown(published, api):
    published("1.4.2")
    rows()
    ines = api("ines")
    ines.post("style", {"text": STRICTER, "note": "n"})
    ines.post("style", {"text": OTHER, "note": "n"})
    work()
    holds()
    assert ShownFindings.objects.get().version == 2
    assert JudgedServer.objects.count() == 1


def test_places_are_filtered_and_paged_in_the_database(published, api, django_assert_max_num_queries):
    published("1.4.2")
    ines = api("ines")
    whole = ines.get("findings/places?limit=200")[1]["results"]
    assert len(whole) > 3
    paged, cursor = [], ""
    while True:
        page = ines.get(f"findings/places?limit=2{cursor}")[1]
        paged += page["results"]
        if page["next"] is None:
            break
        cursor = f"&cursor={page['next']}"
    assert paged == whole
    rule = whole[0]["finding"]["rule"]
    for asked, wanted in (
        (f"rule={rule}", [one for one in whole if one["finding"]["rule"] == rule]),
        ("level=warning", [one for one in whole if one["finding"]["level"] != "note"]),
        ("team=berths", whole),
        ("team=crew", []),
        ("server=berth-planner", whole),
    ):
        assert ines.get(f"findings/places?{asked}&limit=200")[1]["results"] == wanted, asked
    with django_assert_max_num_queries(9):
        ines.get("findings/places?limit=2")


def test_rows_of_a_style_that_never_was_shown_go_with_the_next_act(published):
    published()
    rows()
    StoredFinding.objects.bulk_create(
        StoredFinding(**{**one, "under": "never shown"})
        for one in StoredFinding.objects.values(
            "server_id", "key", "rule", "family", "level", "rank", "mark", "document"
        )
    )
    findings.keep_findings(Server.objects.get(slug="berth-planner"))
    holds()
    assert set(StoredFinding.objects.values_list("under", flat=True)) == {ShownFindings.objects.get().under}


def test_a_page_says_that_nothing_was_made_yet(published, api, monkeypatch):
    assert api("ines").get("findings")[1] == {"results": [], "progress": None}
    ShownFindings.objects.all().delete()
    published()
    monkeypatch.setattr(findings, "_AT_ONCE", 0)
    assert api("ines").get("findings")[1] == {"results": [], "progress": {"done": 0, "total": 1}}
    work()
    holds()
    assert api("ines").get("findings")[1]["progress"] is None
