"""Teams that a request hits: asked at a desk of their own, or told and let object for a while."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.run.scenario import history
from tallshelf.service import clock, scheduler
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.kits import actions as kits
from tallshelf.service.people import actions as people
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries
from tallshelf.service.review.models import Request
from tallshelf.service.review.shown import detail
from tallshelf.service.telling.models import Notice
from tallshelf.service.verifying import verify
from tests.service.conftest import KIT, altered, submission, work

RULE = """
[[rules]]
name = "whom it breaks"
when = [ { fact = "breaking_kits", at_least = 1 } ]
desk = "hit-teams"
step = 1
due_hours = 48
reason = "it breaks what they hold"
"""
TOLD = RULE.replace("step = 1\ndue_hours = 48\n", "tell_hours = 48\n")
THEIRS = KIT.replace('"berths"', '"ticketing"', 1).replace("berth-helper", "van-helper")
SHIPPED = """
[[rules]]
name = "every request"
desk = "curators"
reason = "a curator looks at every release"
"""


@pytest.fixture
def hit(published):
    """Ticketing and crew hold a berth planner's tool each; the owners of it as well."""
    published("1.4.1")
    for text, who in (
        (KIT, "tomas"),
        (THEIRS, "jonas"),
        (
            THEIRS.replace("ticketing", "crew")
            .replace("van-helper", "crew-helper")
            .replace("find_free", "book"),
            "mira",
        ),
    ):
        kits.put_kit(history.actor(who), text)


def rules(text: str) -> None:
    made = review.apply_rules(history.actor("ines"), SHIPPED + text, "Who is hit has a word.")
    if made.state == "proposed":
        review.answer_rules(history.actor("oskar"), made.version, "agree", "")


def breaking() -> Request:
    """Hand in a release whose find_free_berth takes feet; book_berth stays."""
    tomas = history.actor("tomas")
    body = submission("1.5.0")
    one = review.read_submission(tomas, body["snapshot"], "2.0.0", body["launch"])
    return review.submit(tomas, "berth-planner", one)[0]


def sign(found: Request, who: str, desk: str = ""):
    found.refresh_from_db()
    gates = {one["gate"]: "r" for one in found.assessment.document["gates"]}
    return review.sign_off(
        history.actor(who),
        found.pk,
        "agree",
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        desk=desk,
        despite=gates,
    )


def desks(found: Request) -> list[str]:
    return sorted(seat["desk"] for step in found.route["steps"] for seat in step["desks"])


def test_the_teams_that_are_hit_are_asked_but_for_the_owners_and_only_those(hit):
    rules(RULE)
    found = breaking()
    assert desks(found) == ["curators", "team:ticketing"]
    sign(found, "ines")
    with pytest.raises(NotFound):
        sign(found, "mira", "team:ticketing")
    with pytest.raises(Denied):
        sign(found, "tomas", "team:ticketing")
    sign(found, "jonas", "team:ticketing")
    found.refresh_from_db()
    assert found.state == "agreed" and verify().holds
    told = Notice.objects.get(person__username="jonas", type="request.asked")
    assert told.because == "your team ticketing is asked"


def test_a_deputy_of_one_of_a_team_sees_what_they_would_and_signs_in_their_place(hit, api):
    people.name_deputy(history.actor("jonas"), "edda", clock.now() + timedelta(days=3))
    rules(RULE)
    found = breaking()
    seen = detail(history.actor("edda"), queries.request(history.actor("edda"), found.pk))
    assert seen["restricted_to"] == ["tool:find_free_berth"] and seen["may_sign_at"] == ["team:ticketing"]
    sign(found, "edda", "team:ticketing")
    assert found.sign_offs.get().deputy_for.username == "jonas" and verify().holds


def test_who_joins_a_team_after_it_was_asked_does_not_sign_for_it(hit):
    from tallshelf.service.people import accounts

    rules(RULE)
    found = breaking()
    accounts.change_account(history.actor("pell"), "mira", {"teams": ["crew", "ticketing"]})
    with pytest.raises(Denied, match="joined the desk after"):
        sign(found, "mira", "team:ticketing")


def test_members_of_a_hit_team_see_what_reaches_their_kits_and_no_more(hit, api):
    rules(RULE)
    found = breaking()
    review.comment(history.actor("ines"), found.pk, "Of the plan.", item="tool:get_berth_plan")
    review.comment(history.actor("ines"), found.pk, "Feet?", item="tool:find_free_berth")
    whole = detail(history.actor("ines"), found)
    theirs = detail(history.actor("jonas"), found)
    assert whole["restricted_to"] is None and theirs["restricted_to"] == ["tool:find_free_berth"]
    assert {one["item"] for one in theirs["assessment"]["changes"]} == {"tool:find_free_berth", "server"}
    assert {one["item"] for one in theirs["assessment"]["findings"]} <= {"tool:find_free_berth", "server"}
    assert [one["text"] for one in theirs["comments"]] == ["Feet?"]
    assert {one["team"] for one in theirs["kits"]} == {"ticketing"}
    assert len(whole["comments"]) == 2 and {one["team"] for one in whole["kits"]} == {"berths", "ticketing"}
    with pytest.raises(NotFound):
        queries.request(history.actor("mira"), found.pk)
    for path in ("snapshot", "items", "findings", ""):
        address = f"servers/berth-planner/releases/2.0.0/{path}".rstrip("/")
        assert api("jonas").get(address)[0] == 404, path
    assert api("jonas").get("comparison?old=berth-planner@1.4.1&new=berth-planner@2.0.0")[0] == 404
    assert api("jonas").get(f"requests/{found.pk}")[1]["restricted_to"] == ["tool:find_free_berth"]
    with pytest.raises(NotFound):
        catalog.release(history.actor("jonas"), "berth-planner", "2.0.0")


def test_who_was_hit_when_it_was_handed_in_stays_asked_and_a_kit_put_since_is_not(hit):
    rules(RULE)
    found = breaking()
    kits.drop_kit(history.actor("jonas"), "van-helper", "Not needed.")
    kits.put_kit(history.actor("signe"), THEIRS.replace("ticketing", "fleet-upkeep").replace("van", "dock"))
    again = review.reassess(history.actor("ines"), found.pk)
    assert desks(again) == ["curators", "team:ticketing"] and verify().holds


def test_those_who_are_told_may_object_for_a_while_and_an_objection_blocks(hit, api):
    rules(TOLD)
    found = breaking()
    assert desks(found) == ["curators"]
    (told,) = detail(history.actor("jonas"), found)["tells"]
    assert told["team"] == "ticketing" and told["may_object"]
    assert told["until"] == found.asked_at + timedelta(hours=48)
    notice = Notice.objects.get(person__username="jonas", type="request.asked")
    assert "may object until" in notice.because
    sign(found, "ines")
    tomas = history.actor("tomas")
    with pytest.raises(Conflict, match="ticketing may object until"):
        review.publish(tomas, found.pk)
    for who in ("mira", "ines", "tomas"):
        with pytest.raises((Denied, NotFound)):
            review.comment(history.actor(who), found.pk, "No.", kind="objection")
    said = review.comment(history.actor("jonas"), found.pk, "Our vans are in metres.", kind="objection")
    waits = api("tomas").get("inbox")[1]["results"]
    assert any(one["words"].startswith("Jonas Reed objects") for one in waits)
    with clock.at(found.asked_at + timedelta(hours=49)):
        with pytest.raises(Conflict, match="objection"):
            review.publish(tomas, found.pk)
        review.answer_comment(tomas, found.pk, said.pk, "A unit argument follows.")
        assert review.publish(tomas, found.pk).state == "done"
    assert verify().holds


def test_what_is_no_publication_is_carried_out_by_the_clock_once_nobody_may_object_any_more(hit):
    rules(TOLD)
    tomas = history.actor("tomas")
    found, _ = review.ask(tomas, review.RequestDraft("withdraw", "berth-planner", "Old.", version="1.4.1"))
    assert {one["team"] for one in found.route["tells"]} == {"crew", "ticketing"}
    sign(found, "ines")
    found.refresh_from_db()
    assert found.state == "agreed" and found.release.state == "published"
    scheduler.tick()
    found.refresh_from_db()
    assert found.state == "agreed"
    said = review.comment(history.actor("mira"), found.pk, "Not before May.", kind="objection")
    later = found.asked_at + timedelta(hours=49)
    with clock.at(later):
        assert review.carry_out_agreed() == 0
        review.answer_comment(tomas, found.pk, said.pk, "It is May.")
        assert review.carry_out_agreed() == 1
    found.refresh_from_db()
    found.release.refresh_from_db()
    assert (found.state, found.release.state) == ("done", "withdrawn") and verify().holds


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (TOLD.replace('"hit-teams"', '"curators"'), "tells a desk that cannot be told"),
        (TOLD.replace("tell_hours = 48", "tell_hours = 48\nsign_offs = 1"), "tells a desk"),
        (TOLD.replace("48", "999"), "tells a desk"),
        (RULE.replace("step = 1", "step = 1\nsign_offs = 2"), "one sign-off each"),
    ],
)
def test_a_rule_that_cannot_be_is_refused(company, text, words):
    with pytest.raises((BadArgument, Conflict), match=words):
        rules(text)


def test_waiting_less_is_a_loosening(hit):
    rules(TOLD)
    shorter = TOLD.replace("48", "24")
    made = review.apply_rules(history.actor("ines"), SHIPPED + shorter, "Faster.")
    assert made.state == "proposed" and "waits 24 hours" in " ".join(made.loosened)


def test_a_snapshot_that_is_handed_in_anew_asks_whom_it_hits_now(hit):
    rules(RULE)
    found = breaking()
    tomas = history.actor("tomas")
    body = altered(submission("1.4.2"), "Lists.")
    one = review.read_submission(tomas, body["snapshot"], "2.0.0", body["launch"])
    again = review.submit(tomas, "berth-planner", one, request=found.pk)[0]
    work()
    assert "team:ticketing" not in desks(again) and verify().holds
