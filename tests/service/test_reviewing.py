"""What reviewers do beside answering: conditions, comments, questions, taking, deputies, and the clock."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.run.scenario.player import actor, agree, sign
from tallshelf.service import clock, scheduler
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import actions as people
from tallshelf.service.people import desks
from tallshelf.service.people.models import Deputy
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries
from tallshelf.service.review.inbox import inbox
from tallshelf.service.review.models import FollowUp, Nudge, Request
from tallshelf.service.review.progress import standing
from tallshelf.service.review.shown import detail
from tallshelf.service.web import idempotency
from tests.service.conftest import agree_to, altered, submission

HOUR = timedelta(hours=1)


def tomorrow() -> str:
    return (clock.now() + timedelta(days=1)).date().isoformat()


def waits(username: str) -> list[str]:
    return [one["kind"] for one in inbox(actor(username))]


def test_an_agreement_under_conditions_is_followed_until_they_are_met(api, submitted):
    found = submitted()
    ines, tomas, edda = api("ines"), api("tomas"), api("edda")
    seen = ines.get(f"requests/{found.pk}")[1]
    condition = {"text": "bound the notes to 200 characters", "owner": "tomas", "due": tomorrow()}
    for bad in ({"owner": "nobody"}, {"owner": "ci-berths"}, {"due": "2020-01-01"}, {"text": " "}):
        body = {**agree_to(seen), "conditions": [{**condition, **bad}]}
        assert ines.post(f"requests/{found.pk}/sign-offs", body)[0] == 400
    assert not FollowUp.objects.exists()
    body = {**agree_to(seen), "conditions": [condition]}
    _, answered = ines.post(f"requests/{found.pk}/sign-offs", body)
    (given,) = answered["sign_offs"][0]["conditions"]
    assert (given["owner"], given["closed_at"]) == ("Tomas Eide", None)
    assert waits("tomas") == ["follow-up"]
    assert edda.post(f"follow-ups/{given['id']}/closing", {"note": "n"})[0] == 404
    assert api("jonas").get("follow-ups?state=open")[1]["results"] == []
    assert tomas.post(f"follow-ups/{given['id']}/closing", {"note": " "})[0] == 400
    status, closed = tomas.post(f"follow-ups/{given['id']}/closing", {"note": "done in 1.4.3"})
    assert (status, closed["closed_by"], closed["may_close"]) == (200, "Tomas Eide", False)
    assert ines.get("follow-ups?state=open")[1]["results"] == []
    assert Entry.objects.filter(event="follow-up-closed").count() == 1


def test_a_condition_falls_away_with_its_sign_off(api, submitted):
    found = submitted()
    body = {"text": "t", "owner": "tomas", "due": clock.now().date()}
    review.sign_off(
        actor("ines"),
        found.pk,
        "agree",
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        conditions=[body],
    )
    given = FollowUp.objects.get()
    other = altered(submission(), "Find a free berth for a vessel.")
    api("tomas").post("servers/berth-planner/releases", {**other, "request": found.pk})
    assert queries.follow_ups(actor("ines")) == [] and "follow-up" not in waits("tomas")
    with pytest.raises(NotFound, match="no follow-up"):
        review.close_follow_up(actor("tomas"), given.pk, "n")


def test_a_question_blocks_agreement_until_it_is_answered(submitted):
    found = submitted()
    with pytest.raises(Denied, match="for those who may sign"):
        review.comment(actor("tomas"), found.pk, "why?", kind="question")
    asked = review.comment(actor("runa"), found.pk, "Who may book?", kind="question", item="tool:book_berth")
    assert review.comment(
        actor("runa"), found.pk, "Who may book?", kind="question", item="tool:book_berth"
    ) == (asked)
    assert "question" in waits("tomas")
    with pytest.raises(Conflict, match="question of Runa Blythe is open: Who may book"):
        sign("ines", found, "agree")
    review.answer_comment(actor("tomas"), found.pk, asked.pk, "Harbour masters alone.")
    assert agree(found).state == "agreed"
    shown = detail(actor("ines"), queries.request(actor("ines"), found.pk))["comments"]
    assert (shown[0]["settled"], shown[0]["answers"][0]["name"]) == (True, "Tomas Eide")
    review.take_back(actor("tomas"), found.pk)
    with pytest.raises(Conflict, match="taken-back"):
        review.comment(actor("ines"), found.pk, "too late")


def test_a_place_is_kept_over_snapshots_and_says_when_it_moved_or_went(api, submitted):
    found = submitted()
    places = [
        ("tool:get_berth_plan", "/description"),
        ("tool:book_berth", "/name"),
        ("tool:book_berth", ""),
    ]
    for item, pointer in places:
        review.comment(actor("ines"), found.pk, f"on {pointer}", item=item, pointer=pointer)
    for item, pointer in (("tool:none", ""), ("tool:book_berth", "/x/9"), ("", "/name")):
        with pytest.raises((NotFound, BadArgument)):
            review.comment(actor("ines"), found.pk, "t", item=item, pointer=pointer)

    def standing():
        shown = detail(actor("ines"), queries.request(actor("ines"), found.pk))["comments"]
        return [one["place"] for one in shown]

    assert standing() == ["there"] * 3
    other = submission()
    kept = [one for one in other["snapshot"]["tools"] if one["name"] != "book_berth"]
    other["snapshot"]["tools"] = [{**one, "description": f"{one['description']} Anew."} for one in kept]
    assert api("tomas").post("servers/berth-planner/releases", {**other, "request": found.pk})[0] == 201
    assert standing() == ["otherwise", "gone", "gone"]


def test_taking_a_request_shows_who_looks_and_hinders_nobody(submitted):
    found = submitted()
    with pytest.raises(Denied, match="does not wait for you"):
        review.take(actor("runa"), found.pk)  # her step has not come
    assert review.take(actor("oskar"), found.pk).taken_by.username == "oskar"
    with pytest.raises(Denied):
        review.take(actor("tomas"), found.pk, hand_on=True)
    # Ines leads the desk: she may take it over, and hand it on.
    assert review.take(actor("ines"), found.pk).taken_by.username == "ines"
    with pytest.raises(Conflict, match="Ines Varga took it"):
        review.take(actor("oskar"), found.pk)
    sign("oskar", found, "agree")
    assert review.take(actor("ines"), found.pk, hand_on=True).taken_by is None


def test_a_deputy_signs_in_ones_place_what_was_opened_since(submitted, company):
    early = submitted("1.4.1")
    until = clock.now() + timedelta(days=9)
    for bad, error in (("ines", BadArgument), ("ci-berths", Denied), ("nobody", NotFound)):
        with pytest.raises(error):
            people.name_deputy(actor("ines"), bad, until)
    with pytest.raises(BadArgument, match="at most 92 days"):
        people.name_deputy(actor("ines"), "edda", clock.now() + timedelta(days=200))
    people.name_deputy(actor("ines"), "edda", until)
    found = submitted("1.4.2")
    with pytest.raises((Denied, NotFound)):
        sign("edda", early, "agree")
    assert waits("edda") == ["sign"]
    sign("edda", found, "agree")
    (given,) = found.sign_offs.all()
    assert (given.person.username, given.deputy_for.username) == ("edda", "ines")
    shown = detail(actor("runa"), queries.request(actor("runa"), found.pk))
    assert shown["route"][0][0]["agreed"][0]["name"] == "Edda Thorne for Ines Varga"


def test_a_place_counts_once_and_a_deputy_gets_round_no_rule(submitted, company):
    until = clock.now() + timedelta(days=9)
    people.name_deputy(actor("runa"), "tomas", until)  # of the owner team, and the submitter
    people.name_deputy(actor("ines"), "edda", until)
    people.name_deputy(actor("oskar"), "edda", until)
    found = submitted()
    sign("ines", found, "agree")
    asked = standing(Request.objects.get(pk=found.pk))
    curators = asked.steps[0][0]
    assert "edda" in curators.places and curators.places["edda"] == "oskar"  # the place of Ines is used
    assert "tomas" not in asked.steps[1][0].places
    (deputy,) = Deputy.objects.filter(person__username="ines").values_list("pk", flat=True)
    people.end_deputy(actor("ines"), deputy)
    with pytest.raises(NotFound):
        people.end_deputy(actor("runa"), deputy)


def test_the_clock_reminds_a_desk_once_and_then_its_lead(submitted):
    found = submitted()
    due = standing(found).asked[0].due_at
    assert review.remind_and_escalate() == 0
    with clock.at(due + HOUR):
        assert (review.remind_and_escalate(), review.remind_and_escalate()) == (1, 0)
        assert inbox(actor("oskar"))[0]["overdue"] and not inbox(actor("oskar"))[0]["risen"]
    with clock.at(due + 25 * HOUR):
        scheduler.tick()
        assert [one["risen"] for one in inbox(actor("ines"))] == [True]  # she leads the curators' desk
        assert [one["risen"] for one in inbox(actor("oskar"))] == [False]
        sign("oskar", found, "agree")
        # The next desk's time begins when it is asked.
        assert standing(found).asked[0].since == due + 25 * HOUR
        assert review.remind_and_escalate() == 0
    stages = Nudge.objects.order_by("pk").values_list("stage", flat=True)
    assert list(stages) == ["reminded", "risen"]
    events = Entry.objects.filter(actor="clock").values_list("event", flat=True)
    assert list(events) == ["desk-reminded", "request-risen"]


def test_the_time_of_a_desk_begins_anew_with_what_is_handed_in_anew(api, submitted):
    found = submitted()
    due = standing(found).asked[0].due_at
    with clock.at(due + HOUR):
        assert review.remind_and_escalate() == 1
        other = altered(submission(), "Find a free berth for a vessel.")
        api("tomas").post("servers/berth-planner/releases", {**other, "request": found.pk})
        assert review.remind_and_escalate() == 0 and not inbox(actor("ines"))[0]["overdue"]
    with clock.at(due + 80 * HOUR):
        assert review.remind_and_escalate() == 1  # the same desk is reminded of what it is asked now


def test_a_fault_does_not_stop_the_clock(monkeypatch, company):
    def broken():
        raise RuntimeError("the disk is full")

    def done():
        ran.append(True)

    ran = []
    monkeypatch.setattr(review, "remind_and_escalate", broken)
    monkeypatch.setattr(idempotency, "forget_past", done)
    scheduler.tick()
    assert ran


def test_the_inbox_holds_what_waits_for_each(api, submitted):
    found = submitted()
    assert waits("ines") == ["sign"] and waits("runa") == [] and waits("tomas") == []
    sign("ines", found, "send-back", "say more")
    assert waits("ines") == [] and waits("tomas") == ["sent-back"] and waits("jonas") == []
    api("tomas").post("servers/berth-planner/releases", {**submission(), "request": found.pk})
    found.refresh_from_db()
    agree(found)
    assert waits("tomas") == ["publish"] and waits("ines") == ["publish"]
    until = (clock.now() + timedelta(days=9)).isoformat()
    finding = next(one for one in found.assessment.document["findings"] if one["family"] != "safety")
    waiver = {"server": "berth-planner", "rule": finding["rule"], "item": finding["item"], "reason": "r"}
    api("tomas").post("waivers", {**waiver, "until": until})
    assert waits("oskar") == ["publish", "waiver"]
    rules = '[[rules]]\nname = "a"\ndesk = "curators"\nsign_offs = 0\nreason = "r"\n'
    review.apply_rules(actor("pell"), rules, "fewer")
    assert "routing" in waits("oskar") and "routing" not in waits("pell")


def test_a_desk_that_lacks_people_says_so_at_once(submitted):
    for username in ("runa", "kari"):
        desks.leave_desk(people.SETUP, "security", username)
    found = submitted()
    assert detail(actor("tomas"), found)["warnings"] == [
        "Security needs 1 sign-off and lacks 1 who may give one"
    ]
