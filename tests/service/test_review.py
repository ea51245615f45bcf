"""Requests: what is asked, who may answer, and that what was signed is what is published."""

from __future__ import annotations

import dataclasses

import pytest

from tallshelf.core.errors import Conflict, Denied, InputsMoved
from tallshelf.core.snapshot import snapshot_from
from tallshelf.run.ports import free_ports
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.history import actor
from tallshelf.run.scenario.player import agree, despite
from tallshelf.run.tool_servers import ToolServers
from tallshelf.service.catalog.models import Release, StoredItem
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import actions as people
from tallshelf.service.people import desks
from tallshelf.service.review import actions as review
from tallshelf.service.review.models import Request, SignOff
from tests.service.conftest import agree_to, altered, submission

RELEASES = "servers/berth-planner/releases"


def test_the_whole_way_over_http(api):
    tomas, ines, runa = api("tomas"), api("ines"), api("runa")
    status, request = tomas.post(RELEASES, submission(note="First."))
    assert (status, request["state"]) == (201, "open")
    assert [desk["desk"] for step in request["route"] for desk in step] == ["curators", "security"]
    number, agree = request["id"], agree_to(request)
    assert ines.get("requests")[1]["results"][0]["mine"] is True
    assert runa.post(f"requests/{number}/sign-offs", agree)[0] == 403  # her step has not come
    assert ines.post(f"requests/{number}/sign-offs", agree)[0] == 200
    assert tomas.post(f"requests/{number}/publication")[0] == 409
    status, request = runa.post(f"requests/{number}/sign-offs", agree)
    assert request["state"] == "agreed"
    status, request = tomas.post(f"requests/{number}/publication")
    assert (status, request["state"]) == (200, "done")
    assert tomas.post(f"requests/{number}/publication")[0] == 200  # pressing twice changes nothing
    assert Entry.objects.filter(event="release-published").count() == 1
    _, server = tomas.get("servers/berth-planner")
    assert server["current_version"] == "1.4.2"
    _, answer = tomas.get(f"by-digest/{request['snapshot_digest']}")
    assert answer["approved"] is True
    _, snapshot = tomas.get(f"{RELEASES}/1.4.2/snapshot")
    assert snapshot_from(snapshot).digest == request["snapshot_digest"]


def test_submitting_again_is_idempotent_and_other_bytes_must_name_the_request(api):
    tomas = api("tomas")
    first = submission()
    _, request = tomas.post(RELEASES, first)
    status, again = tomas.post(RELEASES, first)
    assert (status, again["id"]) == (200, request["id"])
    other = altered(first, "Find a free berth.")
    status, problem = tomas.post(RELEASES, other)
    assert (status, problem["type"]) == (409, "urn:tallshelf:problem:version-taken")
    agree = agree_to(request)
    api("ines").post(f"requests/{request['id']}/sign-offs", agree)
    status, replaced = tomas.post(RELEASES, {**other, "request": request["id"]})
    assert (status, replaced["id"]) == (201, request["id"])
    assert [one["voided"] for one in replaced["sign_offs"]] == [True]
    assert api("ines").post(f"requests/{request['id']}/sign-offs", agree)[0] == 409  # the old bytes
    assert Entry.objects.get(event="snapshot-replaced")


@pytest.mark.parametrize(
    ("body", "status", "kind"),
    [
        (submission("one"), 400, "bad-argument"),
        ({**submission(), "snapshot": {"tools": 3}}, 422, "bad-document"),
        ({**submission(), "snapshot": {"tools": [], "format": "x/1"}}, 422, "bad-document"),
        ({**submission(), "launch": [{"environment": "x"}]}, 422, "bad-document"),
        ({**submission(), "launch": 7}, 400, "bad-argument"),
        ({"version": "1.0.0"}, 400, "bad-argument"),
        ({**submission(), "request": 77}, 409, "conflict"),
    ],
)
def test_bad_submissions_are_refused_whole(api, body, status, kind):
    found, problem = api("tomas").post(RELEASES, body)
    assert (found, problem["type"]) == (status, f"urn:tallshelf:problem:{kind}")
    assert problem["detail"]
    assert not Release.objects.exists()
    assert not StoredItem.objects.exists()
    assert not Request.objects.exists()


def test_an_idempotency_key_answers_the_same_request_the_same_way(api):
    from django.test import Client

    tomas = api("tomas")
    headers = {**tomas.headers, "Idempotency-Key": "k1"}
    body = {"slug": "tide-tables", "title": "Tides", "team": "berths", "contact": "c"}
    answers = [Client().post("/api/v1/servers", body, "application/json", headers=headers) for _ in range(2)]
    assert [one.status_code for one in answers] == [201, 201]
    assert answers[0].json() == answers[1].json()
    assert "Idempotency-Replayed" in answers[1].headers
    other = {**body, "slug": "tide-tables-2"}
    assert Client().post("/api/v1/servers", other, "application/json", headers=headers).status_code == 409
    bad = {**tomas.headers, "Idempotency-Key": "k2"}
    assert Client().post("/api/v1/servers", {}, "application/json", headers=bad).status_code == 400
    assert Client().post("/api/v1/servers", other, "application/json", headers=bad).status_code == 201


def test_an_answer_that_did_not_change_is_304(api):
    from django.test import Client

    headers = api("tomas").headers
    first = Client().get("/api/v1/servers", headers=headers)
    again = Client().get("/api/v1/servers", headers={**headers, "If-None-Match": first.headers["ETag"]})
    assert (first.status_code, again.status_code) == (200, 304)


def test_raw_bytes_that_are_no_strict_json_are_refused(api):
    from django.test import Client

    tomas = api("tomas")
    for raw, kind in ((b'{"a": 1, "a": 2}', 422), (b"{", 422), (b"[" * 90 + b"]" * 90, 413)):
        answer = Client().post(f"/api/v1/{RELEASES}", raw, "application/json", headers=tomas.headers)
        assert answer.status_code == kind
    assert tomas.post("servers/nowhere/releases", submission())[0] == 404


def answered(request, username, answer="agree", **more):
    seen = {"release_digest": request.release_digest, "assessment_digest": request.assessment_id}
    named = despite(request) if answer == "agree" else {}
    return review.sign_off(actor(username), request.pk, answer, **seen, despite=named, **more)


def test_nobody_with_a_part_in_it_signs(submitted):
    request = submitted()
    desks.seat_at_desk(people.SETUP, "curators", "tomas")

    def sign(username, answer="agree", **more):
        return answered(request, username, answer, **more)

    with pytest.raises(Denied, match="nobody signs off what they submitted"):
        sign("tomas")
    desks.seat_at_desk(people.SETUP, "curators", "jonas")
    Request.objects.get(pk=request.pk)
    with pytest.raises(Exception, match="there is no request"):
        sign("mira")
    with pytest.raises(Denied, match="joined the desk after"):
        sign("jonas")
    with pytest.raises(Denied, match="never signs off"):
        desks.seat_at_desk(people.SETUP, "curators", "ci-berths")
    with pytest.raises(Denied, match="nobody seats themselves"):
        desks.seat_at_desk(actor("pell"), "security", "pell")
    with pytest.raises(Denied, match="a curator may not"):
        desks.seat_at_desk(actor("ines"), "security", "oskar")
    with pytest.raises(Denied, match="is not asked now"):
        sign("runa", desk="security")
    sign("ines")
    with pytest.raises(Conflict, match="answered request"):
        sign("ines", "decline", note="no")
    sign("ines")  # the same answer again changes nothing
    assert SignOff.objects.count() == 1


def test_members_of_the_owner_team_do_not_sign(company, submitted):
    people.add_person(people.SETUP, "lena", "Lena", "reader", "a-long-password-1", ["berths"])
    desks.seat_at_desk(people.SETUP, "security", "lena")
    request = submitted()
    answered(request, "ines")
    with pytest.raises(Denied, match="owner team"):
        answered(request, "lena")


def test_a_desk_without_enough_others_says_so_at_once(api):
    desks.leave_desk(people.SETUP, "security", "runa")
    desks.leave_desk(people.SETUP, "security", "kari")
    _, request = api("tomas").post(RELEASES, submission())
    assert request["warnings"] == ["Security needs 1 sign-off and lacks 1 who may give one"]


def test_sending_back_and_declining_need_a_reason_and_end_the_request(submitted):
    request = submitted()
    with pytest.raises(Exception, match="say why"):
        answered(request, "ines", "decline")
    declined = answered(request, "ines", "decline", note="No.")
    assert (declined.state, declined.release.state) == ("declined", "declined")
    with pytest.raises(Conflict, match="exists already"):
        tomas = actor("tomas")
        body = altered(submission(), "Other words.")
        one = review.read_submission(tomas, body["snapshot"], "1.4.2", body["launch"])
        review.submit(tomas, "berth-planner", one)


def test_a_base_that_moved_opens_an_agreed_request_again(published, submitted):

    published("1.4.1")
    waiting = agree(submitted("1.5.0"))
    assert waiting.assessment.document["base"] == "berth-planner@1.4.1"
    published("1.4.2")
    with pytest.raises(InputsMoved, match="base moved"):
        review.publish(actor("tomas"), waiting.pk)
    waiting.refresh_from_db()
    assert waiting.state == "open"
    assert waiting.assessment.document["base"] == "berth-planner@1.4.2"
    assert not waiting.sign_offs.filter(voided_at=None).exists()
    assert Entry.objects.filter(event="reassessed").count() == 1


def test_rules_that_changed_open_an_agreed_request_again(submitted):
    from tallshelf.core.routing import DEFAULT_RULES, routing_text

    waiting = agree(submitted())
    more = '[[rules]]\nname = "two"\ndesk = "curators"\nsign_offs = 2\nreason = "two see more"\n'
    review.apply_rules(actor("ines"), routing_text(DEFAULT_RULES) + more, "Two see more.")
    with pytest.raises(InputsMoved, match="rules moved"):
        review.publish(actor("tomas"), waiting.pk)
    waiting.refresh_from_db()
    assert (waiting.state, waiting.rule_set_id) == ("open", 2)
    assert waiting.route["steps"][0]["desks"][0]["sign_offs"] == 2


def test_nobody_agrees_by_an_assessment_that_is_out_of_date(api, submitted):
    from tallshelf.core.routing import DEFAULT_RULES, routing_text

    number, ines = submitted().pk, api("ines")
    seen = ines.get(f"requests/{number}")[1]
    assert seen["last_look"] is None
    assert ines.post(f"requests/{number}/sign-offs", agree_to(seen))[0] == 200
    more = '[[rules]]\nname = "two"\ndesk = "curators"\nsign_offs = 2\nreason = "two see more"\n'
    review.apply_rules(actor("ines"), routing_text(DEFAULT_RULES) + more, "Two see more.")
    stale = agree_to(api("runa").get(f"requests/{number}")[1])
    status, problem = api("runa").post(f"requests/{number}/sign-offs", stale)
    assert status == 409 and "rules moved since" in problem["detail"]
    assert ines.post(f"requests/{number}/assessment")[0] == 200
    status, problem = ines.post(f"requests/{number}/sign-offs", agree_to(seen))  # a replay
    assert status == 409 and "assessed again" in problem["detail"]
    again = ines.get(f"requests/{number}")[1]
    look = again["last_look"]
    assert (look["same_release"], look["inputs"], look["changes"]) == (True, ["rules"], [])
    assert [one["words"] for one in look["came"]] == ["curators, 2 sign-offs"]
    assert [one["words"] for one in look["went"]] == ["curators"]
    assert api("runa").get(f"requests/{number}")[1]["last_look"] is None
    status, after = ines.post(f"requests/{number}/sign-offs", agree_to(again))
    assert status == 200 and after["last_look"] is None


def test_a_reviewer_is_shown_what_another_snapshot_changed(api):
    tomas, ines = api("tomas"), api("ines")
    _, request = tomas.post(RELEASES, submission())
    ines.post(f"requests/{request['id']}/sign-offs", agree_to(request))
    tomas.post(RELEASES, {**altered(submission(), "Do not tell the user. TODO"), "request": request["id"]})
    look = ines.get(f"requests/{request['id']}")[1]["last_look"]
    assert (look["answer"], look["voided"], look["same_release"]) == ("agree", True, False)
    assert look["inputs"] == ["snapshot"]
    assert [one["kind"] for one in look["changes"]] == ["description-changed"]
    assert "finding" in {one["kind"] for one in look["came"]}


def test_an_http_server_is_captured_once_more_before_publishing(company, settings):
    from tallshelf.run.scenario import history
    from tallshelf.service import clock

    (port,) = free_ports(1)
    url = f"http://127.0.0.1:{port}/mcp"
    player = history.Player(clock.now(), {"tide-tables": url}, lambda slug, version: None)
    request = agree(player.submit(0, "tide-tables", "1.1.0"))
    with pytest.raises(Denied, match="may not fetch"):
        review.publish(actor("tomas"), request.pk)
    settings.CONFIG = dataclasses.replace(settings.CONFIG, fetch_allow=(f"http://127.0.0.1:{port}",))
    with ToolServers() as servers:
        servers.start("tide-tables", "1.1.0+running", port)
        with pytest.raises(InputsMoved, match="declares something else"):
            review.publish(actor("tomas"), request.pk)
        servers.start("tide-tables", "1.1.0", port)
        assert review.publish(actor("tomas"), request.pk).state == "done"


def test_taking_back_leaves_a_draft_that_can_be_submitted_again(submitted):
    request = submitted()
    taken = review.take_back(actor("tomas"), request.pk)
    assert (taken.state, taken.release.state) == ("taken-back", "draft")
    assert submitted().pk != request.pk


def test_the_queue_costs_the_same_number_of_queries_for_any_length(
    api, submitted, django_assert_max_num_queries
):
    ines = api("ines")
    for minor in range(12):
        one = review.read_submission(actor("tomas"), declared("berth-planner", "1.4.2"), f"2.{minor}.0", [])
        review.submit(actor("tomas"), "berth-planner", one)
    with django_assert_max_num_queries(11):
        assert len(ines.get("requests?state=live")[1]["results"]) == 12
