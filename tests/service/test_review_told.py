"""What is told of a request by its state, to the moment and the letter, and what is refused just beyond a bound."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.run.scenario import player
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries, routing
from tallshelf.service.review.inbox import inbox
from tallshelf.service.review.models import Request
from tallshelf.service.review.progress import leads, standing, submitters
from tallshelf.service.review.proofs import proof
from tallshelf.service.review.shown import detail
from tests.service.conftest import LAUNCH, agree_to, submission

SLUG = "berth-planner"
RULES = '[[rules]]\nname = "a"\ndesk = "curators"\nreason = "r"\n'


def seen(who: str, number: int) -> dict[str, Any]:
    return detail(actor(who), queries.request(actor(who), number))


def summed(who: str, number: int) -> dict[str, Any]:
    request = queries.request(actor(who), number)
    return queries.summary(actor(who), request, standing(request))


def agree(api, who: str, number: int) -> int:
    body = agree_to(api(who).get(f"requests/{number}")[1])
    return api(who).post(f"requests/{number}/sign-offs", body)[0]


def test_what_a_request_waits_for_is_told_while_it_is_open_and_what_moved_until_it_is_done(submitted):
    found = submitted()
    Request.objects.filter(pk=found.pk).update(moved=["style"])
    row = summed("ines", found.pk)
    assert row["waits_for"] and row["due_at"] and row["mine"] and row["moved"] == ["style"]
    assert seen("ines", found.pk)["may_question"] and not seen("tomas", found.pk)["may_question"]
    assert seen("tomas", found.pk)["may_comment"] and seen("tomas", found.pk)["may_take_back"]
    player.agree(queries.request(actor("ines"), found.pk))
    Request.objects.filter(pk=found.pk).update(moved=["style"])
    row = summed("ines", found.pk)
    assert (row["state"], row["waits_for"], row["due_at"], row["moved"]) == ("agreed", [], None, ["style"])
    review.take_back(actor("tomas"), found.pk)
    row, shown = summed("ines", found.pk), seen("ines", found.pk)
    assert (row["state"], row["waits_for"], row["moved"]) == ("taken-back", [], [])
    assert not any(
        shown[one] for one in ("kits", "may_comment", "may_question", "may_take_back", "may_publish")
    )
    assert queries.moved(queries.request(actor("ines"), found.pk)) == []


def test_what_the_rules_moved_is_told_of_a_request_until_it_is_decided(submitted):
    found = submitted()
    stored = review.apply_rules(actor("ines"), RULES, "n")
    review.answer_rules(actor("oskar"), stored.version, "agree")
    assert "rules" in queries.moved(queries.request(actor("ines"), found.pk))
    review.take_back(actor("tomas"), found.pk)
    assert queries.moved(queries.request(actor("ines"), found.pk)) == []


def test_answers_stand_at_their_desks_and_nobody_leads_where_nobody_is_named(api, submitted):
    found = submitted()
    where = standing(found)
    assert leads(where) <= {"ines", "oskar", "pell", "kari", "mira"} and "" not in leads(where)
    assert None not in leads(where) and not any(desk.signed for step in where.steps for desk in step)
    assert agree(api, "ines", found.pk) in (200, 201)
    found.refresh_from_db()
    (signed,) = [one for step in standing(found).steps for desk in step for one in desk.signed]
    assert (signed.person.username, signed.answer) == ("ines", "agree")


def test_those_behind_one_request_are_not_those_behind_another(submitted):
    first = submitted("1.4.1")
    review.take_back(actor("tomas"), first.pk)
    body = submission("1.5.0")
    one = review.read_submission(actor("ines"), body["snapshot"], "1.5.0", [LAUNCH])
    second, _ = review.submit(actor("ines"), SLUG, one)
    assert submitters(first) == ["tomas"] and submitters(second) == ["ines"]


def test_a_request_is_overdue_after_the_moment_it_is_due_and_not_at_it(submitted):
    due = min(desk.due_at for desk in standing(submitted()).asked)
    assert [queries.overdue(due + timedelta(seconds=more)) for more in (-1, 0, 1)] == [0, 0, 1]


@pytest.mark.parametrize(("days", "works"), [(0, False), (1, True), (366, True), (367, False)])
def test_rules_are_tried_on_a_day_at_least_and_a_year_at_most(submitted, days, works):
    submitted()
    if works:
        tried, _, faults = routing.rehearsal(actor("ines"), RULES, days)
        assert tried is not None and not faults
    else:
        with pytest.raises(BadArgument, match="from 1 to 366 days"):
            routing.rehearsal(actor("ines"), RULES, days)


def test_a_waiver_is_granted_before_it_would_end_and_asked_again_once_it_has(published, api):
    published("1.4.2")
    finding = api("ines").get(f"servers/{SLUG}/releases/1.4.2/findings")[1]["findings"][0]
    until = clock.now() + timedelta(days=3)
    first, _ = review.ask_waiver(actor("tomas"), SLUG, finding["rule"], finding["item"], "r", until)
    with clock.at(until), pytest.raises(Conflict, match="ended already"):
        review.answer_waiver(actor("ines"), first.pk, "grant")
    with clock.at(until - timedelta(seconds=1)):
        review.answer_waiver(actor("ines"), first.pk, "grant")
    with pytest.raises(BadArgument, match="no answer"):
        review.answer_waiver(actor("ines"), first.pk, "keep")
    with pytest.raises(BadArgument, match="say why"):
        review.answer_waiver(actor("ines"), first.pk, "end", " ")
    given = (SLUG, finding["rule"], finding["item"], "r", until + timedelta(days=9))
    with clock.at(until - timedelta(seconds=1)):
        assert review.ask_waiver(actor("tomas"), *given) == (first, False)
    with clock.at(until):
        again, made = review.ask_waiver(actor("tomas"), *given)
    assert made and again.pk != first.pk
    assert "it has run out" in str(Entry.objects.get(event="waiver-ended").body)


def test_one_answer_stands_and_another_of_the_same_person_does_not(api, submitted):
    found = submitted()
    said = {"release_digest": found.release_digest, "assessment_digest": found.assessment_id}
    despite = {one["gate"]: "r" for one in found.assessment.document["gates"]}
    for _ in range(2):
        assert review.sign_off(actor("ines"), found.pk, "agree", despite=despite, **said).pk == found.pk
    assert found.sign_offs.count() == 1
    with pytest.raises(Conflict):
        review.sign_off(actor("ines"), found.pk, "send-back", note="n", **said)
    assert found.sign_offs.count() == 1


@pytest.mark.parametrize(("longer", "works"), [(0, True), (1, False)])
def test_a_version_is_as_long_as_it_may_be_and_no_longer(company, longer, works):
    version = "1.0.0-" + "a" * (58 + longer)
    body = submission("1.4.2")
    if works:
        assert review.read_submission(actor("tomas"), body["snapshot"], version, None).version == version
    else:
        with pytest.raises(BadArgument, match="65 characters"):
            review.read_submission(actor("tomas"), body["snapshot"], version, None)


def test_a_question_is_cut_where_it_stands_in_the_inbox(submitted):
    found = submitted()
    review.comment(actor("ines"), found.pk, "w" * 200, kind="question")
    (one,) = [entry for entry in inbox(actor("tomas")) if entry["kind"] == "question"]
    assert one["words"].endswith(": " + "w" * 120) and one["page"] == f"/requests/{found.pk}"


def test_the_proof_of_bytes_is_that_of_what_was_published_with_them(published, submitted):
    published("1.4.1")
    digest = Request.objects.get(state="done").release.snapshot_id
    draft = submission("1.4.1")
    one = review.read_submission(actor("tomas"), draft["snapshot"], "1.4.3", [LAUNCH])
    review.submit(actor("tomas"), SLUG, one)
    assert proof(actor("ines"), digest)["release"]["version"] == "1.4.1"
    other = submitted("1.5.0")
    with pytest.raises(NotFound, match="nothing was published"):
        proof(actor("ines"), other.release.snapshot_id)


def test_only_who_asked_takes_a_request_back(submitted):
    found = submitted()
    for who in ("jonas", "edda"):
        with pytest.raises((Denied, NotFound)):
            review.take_back(actor(who), found.pk)
    assert review.take_back(actor("tomas"), found.pk).state == "taken-back"
    assert review.take_back(actor("tomas"), found.pk).state == "taken-back"
    assert Entry.objects.filter(event="request-taken-back").count() == 1
