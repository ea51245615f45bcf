"""What is found running, and what is due: told once, to whom it concerns."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import Denied
from tallshelf.core.snapshot import snapshot_from
from tallshelf.run.scenario import history
from tallshelf.run.scenario.declarations import declared
from tallshelf.service import clock, scheduler
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.models import Release
from tallshelf.service.kits import actions as kits
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tallshelf.service.telling import due
from tallshelf.service.telling.models import Notice
from tallshelf.service.verifying import verify
from tests.service.conftest import KIT, altered, submission

SLUG = "berth-planner"


def events(*kinds: str) -> list[str]:
    return [one for one in Entry.objects.order_by("number").values_list("event", flat=True) if one in kinds]


def look(version: str | None, who: str = "tomas", environment: str = "production"):
    standing = "reached" if version else "not reached"
    snapshot = snapshot_from(declared(SLUG, version)) if version else None
    return catalog.report_look(history.actor(who), SLUG, environment, standing, snapshot, "no answer")


def test_drift_is_told_when_it_is_new_and_when_it_is_over(published):
    published("1.4.1")
    kits.put_kit(history.actor("tomas"), KIT)
    told = []
    for version in ("1.4.1", "1.5.0", "1.5.0", None, "1.5.0", "1.4.2", "1.4.1", "1.4.1"):
        found = look(version)
        told.append((found.standing, len(events("drift-seen")), len(events("drift-over"))))
    assert told == [
        ("as approved", 0, 0),
        ("drifted", 1, 0),
        ("drifted", 1, 0),
        ("not reached", 1, 0),
        ("drifted", 1, 0),
        ("drifted", 2, 0),
        ("as approved", 2, 1),
        ("as approved", 2, 1),
    ]
    assert verify().holds and not Notice.objects.filter(person__username="tomas", type="server.drifted")


def test_kits_and_pages_show_what_drifted_until_another_release_is_current(published, api):
    published("1.4.1")
    kits.put_kit(history.actor("tomas"), KIT)
    look("1.5.0")
    status, page = api("edda").get(f"servers/{SLUG}/looks")
    assert status == 200 and page["results"][0]["standing"] == "drifted"
    assert "tool:find_free_berth" in page["results"][0]["differing"]
    problems = api("edda").get("kits/berth-helper")[1]["problems"]
    assert [one["kind"] for one in problems] == ["drifted"]
    assert api("edda").post("kit-check", {"text": KIT})[1]["passed"]
    look(None)  # that it is not reached now does not say that it is as approved
    assert [one["kind"] for one in api("edda").get("kits/berth-helper")[1]["problems"]] == ["drifted"]
    look("1.4.1")
    assert api("edda").get("kits/berth-helper")[1]["problems"] == []


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"environment": "nowhere", "standing": "not reached"}, 400),
        ({"environment": "production", "standing": "reached"}, 400),
        ({"environment": "production", "standing": "not reached", "snapshot": {"tools": []}}, 400),
        ({"environment": "production", "standing": "as approved"}, 400),
        ({"environment": "production", "standing": "reached", "snapshot": {"tools": 3}}, 422),
        ({"environment": "production", "standing": "reached", "snapshot": {"tools": []}}, 200),
    ],
)
def test_a_look_says_what_was_found_or_that_nothing_was(published, api, body, status):
    published("1.4.1")
    assert api("ci-berths").post(f"servers/{SLUG}/looks", body)[0] == status


def test_another_team_reports_nothing(published):
    published("1.4.1")
    with pytest.raises(Denied):
        look("1.5.0", "jonas")


def test_a_last_day_is_told_at_each_stage_once_and_the_nearest_alone(published):
    published("1.4.1")
    published("1.4.2")
    kits.put_kit(history.actor("tomas"), KIT.replace('"^1.4"', '"1.4.1"'))
    now = clock.now()
    Release.objects.filter(version="1.4.1").update(state="deprecated", sunset_at=now + timedelta(days=40))
    stages = []
    for days in (0, 9, 11, 12, 34, 34.5, 39.5, 39.6, 41):
        with clock.at(now + timedelta(days=days)):
            due.remind_of_what_is_due()
        stages.append(len(events("last-day-nears")))
    assert stages == [0, 0, 1, 1, 2, 2, 3, 3, 3]
    told = Notice.objects.filter(type="release.last-day", person__username="tomas").first()
    assert told.because == "held by berth-helper" and "the last day of berth-planner 1.4.1" in told.words
    Release.objects.filter(version="1.4.1").update(sunset_at=now + timedelta(days=50))
    with clock.at(now + timedelta(days=44)):
        assert due.remind_of_what_is_due() == 1  # another day is another reminder


def test_a_waiver_that_ends_is_told_before(published):
    published("1.4.1")
    now, tomas = clock.now(), history.actor("tomas")
    body = altered(submission("1.4.2"), "Lists.")
    body["snapshot"]["tools"].append({"name": "do", "inputSchema": {"type": "object"}})
    one = review.read_submission(tomas, body["snapshot"], "1.4.2", body["launch"])
    told = review.submit(tomas, SLUG, one)[0].assessment.document["findings"][0]
    found, _ = review.ask_waiver(tomas, SLUG, told["rule"], told["item"], "Soon.", now + timedelta(days=20))
    review.answer_waiver(history.actor("ines"), found.pk, "grant", "")
    with clock.at(now + timedelta(days=10)):
        assert due.remind_of_what_is_due() == 0
    with clock.at(now + timedelta(days=14)):
        assert due.remind_of_what_is_due() == 1 and due.remind_of_what_is_due() == 0
    notice = Notice.objects.get(type="waiver.due")
    assert notice.person.username == "tomas" and told["rule"] in notice.words
    assert verify().holds


def test_a_follow_up_is_told_to_whose_it_is_before_its_day_and_on_it(submitted):
    found, now = submitted("1.4.1"), clock.now()
    review.sign_off(
        history.actor("ines"),
        found.pk,
        "agree",
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        conditions=[{"text": "Say so.", "owner": "edda", "due": (now + timedelta(days=10)).date()}],
    )
    stages = []
    for days in (5, 8, 9, 10, 11):
        with clock.at(now + timedelta(days=days)):
            due.remind_of_what_is_due()
        stages.append(len(events("follow-up-due")))
    assert stages == [0, 1, 1, 2, 2]
    told = Notice.objects.filter(type="follow-up.due", person__username="edda").first()
    assert told.because == "it is yours to do" and f"request {found.pk}" in told.words and verify().holds


def test_the_clock_reminds(published):
    published("1.4.1")
    now = clock.now()
    Release.objects.filter(version="1.4.1").update(state="deprecated", sunset_at=now + timedelta(days=5))
    scheduler.tick()
    assert events("last-day-nears") == ["last-day-nears"]
