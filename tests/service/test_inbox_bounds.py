"""What waits for whom in the inbox: from when on, how late, in which order, in which words."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta

import pytest

from tallshelf.core.errors import Denied
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock, scheduler
from tallshelf.service.catalog import actions as catalog_actions
from tallshelf.service.people.models import Person
from tallshelf.service.people.queries import actor_for
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries
from tallshelf.service.review.inbox import inbox
from tests.service.conftest import agree_to, submission

SLUG = "berth-planner"


def test_the_inbox_is_for_who_may_read(company):
    edda = actor_for(Person.objects.get(username="edda"), via="token:1", scopes=frozenset({"submit"}))
    with pytest.raises(Denied):
        inbox(edda)


def test_what_waits_is_neither_late_nor_risen_until_it_is(submitted):
    found = submitted()
    (waits,) = inbox(actor("ines"))
    assert (waits["overdue"], waits["risen"]) == (False, False) and waits["due_at"] is not None
    with clock.at(waits["due_at"] + timedelta(days=2)):
        (late,) = inbox(actor("ines"))
    assert late["overdue"] and str(found.pk) in late["page"]


def test_the_inbox_says_of_a_follow_up_when_it_is_overdue(api, submitted):
    found = submitted()
    today = clock.now().date()
    body = agree_to(api("ines").get(f"requests/{found.pk}")[1])
    body["conditions"] = [{"text": "tidy up", "owner": "tomas", "due": today.isoformat()}]
    assert api("ines").post(f"requests/{found.pk}/sign-offs", body)[0] in (200, 201)
    ends = datetime.combine(today, time.max, UTC)
    for moment, late in ((ends, False), (ends + timedelta(seconds=1), True)):
        with clock.at(moment):
            (one,) = [entry for entry in inbox(actor("tomas")) if entry["kind"] == "follow-up"]
        assert one["overdue"] is late and one["risen"] is False


def test_what_is_suspended_is_told_to_its_owners_cut_short(published):
    published()
    why = "y" * 200
    catalog_actions.suspend(actor("ines"), SLUG, why, "tool:book_berth")
    (one,) = [entry for entry in inbox(actor("tomas")) if entry["kind"] == "suspended"]
    assert one["words"] == f"tool:book_berth of {SLUG} is suspended: {'y' * 120}"


def test_what_is_late_stands_before_what_is_not_in_the_inbox(api, submitted):
    found = submitted()
    body = agree_to(api("ines").get(f"requests/{found.pk}")[1])
    due = [(clock.now().date() + timedelta(days=days)).isoformat() for days in (1, 4)]
    body["conditions"] = [{"text": f"by {one}", "owner": "tomas", "due": one} for one in due]
    assert api("ines").post(f"requests/{found.pk}/sign-offs", body)[0] in (200, 201)
    catalog_actions.suspend(actor("ines"), SLUG, "why")
    with clock.at(clock.now() + timedelta(days=3)):
        kinds = [(one["kind"], one["overdue"]) for one in inbox(actor("tomas"))]
    assert kinds[0] == ("follow-up", True) and kinds[1:] == sorted(kinds[1:], key=lambda one: one[1])
    assert ("suspended", False) in kinds and ("follow-up", False) in kinds


def test_only_who_asked_or_owns_it_is_asked_back(api, submitted):
    found = submitted()
    review.comment(actor("ines"), found.pk, "why", kind="question")
    asked = {who: [one["kind"] for one in inbox(actor(who))] for who in ("tomas", "mira", "ines")}
    assert "question" in asked["tomas"]
    assert "question" not in asked["mira"] and "question" not in asked["ines"]


def test_nothing_that_waits_is_missed_by_looking_near_only(api, submitted, published, monkeypatch):
    published("1.4.1")
    submitted("1.4.2")
    review.ask(actor("tomas"), review.RequestDraft("withdraw", SLUG, "r", "1.4.1"))
    until = (clock.now() + timedelta(days=3)).isoformat()
    assert api("ines").post("deputies", {"deputy": "edda", "until": until})[0] == 201
    assert api("tomas").post(f"servers/{SLUG}/releases", submission("1.5.0"))[0] == 201
    people = [person.username for person in Person.objects.filter(is_active=True)]

    def waits():
        return {
            who: ([row["id"] for row in queries.waiting_for(actor(who))], inbox(actor(who))) for who in people
        }

    for moment in (timedelta(), timedelta(days=2), timedelta(days=9)):
        with clock.at(clock.now() + moment):
            scheduler.tick()
            seen = waits()
            with monkeypatch.context() as patch:
                patch.setattr(queries, "near", lambda who: queries.requests(who, state="live"))
                assert waits() == seen
            assert seen["ines"][0] and (moment.days == 9 or seen["edda"][0])
            assert not seen["pell"][0]
