"""Small print of reviews: what each may do and see of a request, to the moment and the word."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import timedelta
from typing import Any
from urllib.parse import unquote

import pytest

from tallshelf.core.changes._make import make
from tallshelf.core.errors import BadArgument, Conflict, Denied, VersionTaken
from tallshelf.core.reports import change_document
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.kits import actions as kits
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tallshelf.service.review import hit, places, queries
from tallshelf.service.review.actions.follow_ups import read_conditions
from tallshelf.service.review.actions.reminding import remind_and_escalate
from tallshelf.service.review.inbox import inbox
from tallshelf.service.review.progress import standing
from tallshelf.service.review.shown import detail
from tests.service.conftest import KIT, Api, agree_to, altered, submission

SLUG = "berth-planner"
BY_ITSELF = '[[rules]]\nname = "by itself"\ndesk = "curators"\nsign_offs = 0\nreason = "trusted"\n'


def ask(kind: str, who: str = "tomas", **more):
    return review.ask(actor(who), review.RequestDraft(kind, SLUG, "r", **more))[0]


def seen(who: str, found):
    return detail(actor(who), queries.request(actor(who), found.pk))


def test_a_team_that_is_hit_sees_its_items_alone():
    def change(item: str) -> dict[str, Any]:
        return change_document(make("description-changed", item, item))

    shown = {
        "assessment": {
            "changes": [change("tool:a"), change("tool:b"), change("server")],
            "findings": [{"item": one} for one in ("tool:a", "tool:b", "server")],
            "overlaps": [{"a": {"item": one}} for one in ("tool:a", "tool:b")],
        },
        "comments": [{"item": one} for one in ("", "tool:a", "tool:b")],
        "kits": [{"team": "ticketing"}, {"team": "crew"}],
        "last_look": {"x": 1},
    }
    theirs = hit.restricted(shown, ["tool:a"], ["ticketing"])
    document = theirs["assessment"]
    assert [one["item"] for one in document["changes"]] == ["tool:a", "server"]
    assert [one["item"] for one in document["findings"]] == ["tool:a", "server"]
    assert [one["a"]["item"] for one in document["overlaps"]] == ["tool:a"]
    assert [one["item"] for one in theirs["comments"]] == ["", "tool:a"]
    assert theirs["kits"] == [{"team": "ticketing"}] and theirs["last_look"] is None
    assert theirs["restricted_to"] == ["tool:a"] and len(shown["assessment"]["changes"]) == 3
    nothing = hit.restricted(
        {**shown, "assessment": {**shown["assessment"], "changes": None}}, ["tool:a"], []
    )
    assert (
        nothing["changes_summary"] is None
        and nothing["assessment"]["changes"] is None
        and nothing["kits"] == []
    )


def test_a_rule_that_approves_carries_out_at_once_what_is_no_publication(published, submitted):
    published("1.4.1")
    stored = review.apply_rules(actor("pell"), BY_ITSELF, "n")
    review.answer_rules(actor("ines"), stored.version, "agree")
    ending, handed_in = ask("deprecate", version="1.4.1"), submitted("2.0.0")
    assert (ending.state, handed_in.state) == ("done", "agreed")
    assert catalog.release(actor("ines"), SLUG, "1.4.1").state == "deprecated"
    assert catalog.release(actor("ines"), SLUG, "2.0.0").state != "published"


def test_what_is_shown_of_a_request_without_a_release_and_of_one_that_ends_one(published):
    published("1.4.1")
    kits.put_kit(actor("tomas"), KIT)
    lower = seen("ines", ask("data-class", data_class="public"))
    assert lower["release_state"] is None and lower["kits"] == []
    ending = seen("ines", ask("withdraw", version="1.4.1"))
    assert (ending["release_state"], ending["about"]) == ("published", f"{SLUG}@1.4.1")
    assert [one["kit"] for one in ending["kits"]] == ["berth-helper"]


def test_who_may_take_a_request_and_hand_it_on(submitted):
    found = submitted()

    def may(who: str) -> tuple[bool, bool]:
        shown = seen(who, found)
        return shown["may_take"], shown["may_hand_on"]

    assert [may(who) for who in ("ines", "oskar", "tomas")] == [(True, False), (True, False), (False, False)]
    review.take(actor("oskar"), found.pk)
    # Ines leads the desk.
    assert [may(who) for who in ("ines", "oskar", "tomas")] == [(True, True), (False, True), (False, False)]


def test_what_moved_since_ones_own_look_is_told_to_those_who_look_again(api, submitted):
    found = submitted()
    assert seen("ines", found)["last_look"] is None
    body = agree_to(api("ines").get(f"requests/{found.pk}")[1])
    assert api("ines").post(f"requests/{found.pk}/sign-offs", body)[0] in (200, 201)
    assert seen("ines", found)["last_look"] is None
    other = altered(submission(), "Lists free berths of one port, cheapest first, with the price of each.")
    other["snapshot"]["tools"][1]["description"] += " "
    assert api("tomas").post(f"servers/{SLUG}/releases", {**other, "request": found.pk})[0] == 201
    look = seen("ines", found)["last_look"]
    assert look and not look["same_release"] and look["changes"]
    assert all(one["impact"] for one in look["changes"])
    assert seen("oskar", found)["last_look"] is None
    review.take_back(actor("tomas"), found.pk)
    assert seen("ines", found)["last_look"] is None


def test_only_the_desks_that_did_not_answer_are_asked(submitted):
    found = submitted()
    steps = standing(found).steps
    asked = [desk.desk for desk in standing(found).asked]
    assert asked == [desk.desk for desk in steps[0]]
    step = standing(found)
    step.steps = [[steps[0][0], _done(steps[0][0])]]
    assert [desk.done for desk in step.asked] == [False]


def _done(desk):
    class Done:
        done, since = True, desk.since

    return Done()


def test_a_place_is_quoted_as_it_is_written(submitted):
    found = submitted()
    review.comment(actor("ines"), found.pk, "t", item="tool:book_berth", pointer="/inputSchema/required")
    (said,) = seen("ines", found)["comments"]
    assert said["quoted"].startswith("[") and said["place"] == "there"


def test_a_proposed_ruling_is_answered_where_it_is_about(api, published):
    published("1.4.2")
    body = submission("1.4.3")
    body["snapshot"]["tools"][0]["inputSchema"]["properties"]["vessel_length"]["description"] = (
        "Length overall of the vessel, in feet"
    )
    _, request = api("tomas").post(f"servers/{SLUG}/releases", body)
    (change,) = [one for one in request["assessment"]["changes"] if one["silent"]]
    ruling = {"pairs": [change["basis"]], "word": "same-meaning", "reason": "r", "release": f"{SLUG}@1.4.3"}
    assert api("ines").post("rulings", ruling)[0] == 201
    (waits,) = [one for one in inbox(actor("oskar")) if one["kind"] == "ruling"]
    assert unquote(waits["page"]) == f"/compare?old={SLUG}@1.4.2&new={SLUG}@1.4.3"


def test_a_version_that_its_scheme_does_not_know_is_no_submission(api):
    for version in ("one", "1.4", "v1.4.2", ""):
        status, problem = api("tomas").post(f"servers/{SLUG}/releases", submission(version))
        assert status == 400, version
    assert "SemVer" in problem["detail"] or problem["detail"]


def test_a_follow_up_is_closed_by_those_it_concerns(api, submitted):
    found = submitted()
    day = (clock.now() + timedelta(days=1)).date().isoformat()
    body = agree_to(api("ines").get(f"requests/{found.pk}")[1])
    body["conditions"] = [{"text": "bound the notes", "owner": "tomas", "due": day}]
    _, answered = api("ines").post(f"requests/{found.pk}/sign-offs", body)
    (given,) = answered["sign_offs"][0]["conditions"]

    def may_close(who: str) -> list[bool]:
        return [one["may_close"] for one in api(who).get("follow-ups")[1]["results"]]

    assert may_close("tomas") == may_close("ines") == may_close("oskar") == [True]
    assert may_close("runa") == [False]
    with pytest.raises(Denied, match="Tomas Eide"):
        review.close_follow_up(actor("runa"), given["id"], "n")
    quiet = Api("tomas", ("read",))
    assert quiet.get("follow-ups")[1]["results"][0]["may_close"] is False
    assert quiet.post(f"follow-ups/{given['id']}/closing", {"note": "n"})[0] == 403
    review.close_follow_up(actor("tomas"), given["id"], "done")
    assert may_close("tomas") == [False]


@pytest.mark.parametrize(("until", "works"), [
    (timedelta(), False), (timedelta(seconds=1), True), (timedelta(days=366), True),
    (timedelta(days=366, seconds=1), False),
])  # fmt: skip
def test_a_waiver_ends_ahead_and_within_a_year(api, published, until, works):
    published("1.4.2")
    finding = api("ines").get(f"servers/{SLUG}/releases/1.4.2/findings")[1]["findings"][0]
    now = clock.now()
    with clock.at(now):
        given = (actor("tomas"), SLUG, finding["rule"], finding["item"], "r", now + until)
        if works:
            waiver, made = review.ask_waiver(*given)
            assert made and waiver.until == now + until and review.ask_waiver(*given) == (waiver, False)
        else:
            with pytest.raises(BadArgument, match="at most a year"):
                review.ask_waiver(*given)


def answer(who: str, found, said: str = "agree", desk: str = "", **more: Any):
    found.refresh_from_db()
    return review.sign_off(
        actor(who),
        found.pk,
        said,
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        desk=desk,
        **({"note": "n"} if said != "agree" else {}),
        **more,
    )


def test_a_route_says_of_each_desk_where_it_stands_and_by_when_it_is_due(submitted):
    found = submitted()

    def standings() -> dict[str, str]:
        return {desk["desk"]: desk["standing"] for step in seen("ines", found)["route"] for desk in step}

    before = seen("ines", found)
    assert standings()["curators"] == "asked" and set(standings().values()) <= {"asked", "later"}
    assert before["due_at"] == min(desk["due_at"] for desk in before["route"][0])
    assert before["mine"] and not before["may_publish"]
    with pytest.raises(Denied, match="not asked now"):
        answer("ines", found, desk="nowhere")
    answer("ines", found)
    assert standings()["curators"] == "agreed"
    assert answer("ines", found).pk == found.pk, "the same again is the same"
    assert found.sign_offs.count() == 1
    with pytest.raises(Conflict, match="already"):
        answer("ines", found, "send-back")
    assert seen("oskar", found)["may_question"] and not seen("tomas", found)["may_question"]


def test_a_request_that_is_no_publication_is_published_by_nobody(published):
    published("1.4.1")
    published("1.4.2")
    found = ask("withdraw", version="1.4.1")
    assert not seen("tomas", found)["may_publish"]
    answer("ines", found)
    ended = seen("tomas", found)
    assert (ended["state"], ended["may_publish"], ended["due_at"], ended["waits_for"]) == (
        "done",
        False,
        None,
        [],
    )


def test_what_is_declined_is_told_as_what_it_was(published, submitted):
    published("1.4.1")
    handed_in, ending = submitted("1.4.2"), ask("withdraw", version="1.4.1")
    answer("ines", handed_in, "decline")
    answer("ines", ending, "decline")
    told = [(one.event, json.loads(one.body).get("kind")) for one in Entry.objects.order_by("number")]
    assert [one for one in told if "declined" in one[0]] == [
        ("release-declined", None),
        ("request-declined", "withdraw"),
    ]
    assert catalog.release(actor("ines"), SLUG, "1.4.1").state == "published"


def test_a_waiver_is_granted_by_a_curator_who_did_not_ask_and_once(published, api):
    published("1.4.2")
    finding = api("ines").get(f"servers/{SLUG}/releases/1.4.2/findings")[1]["findings"][0]
    given = (SLUG, finding["rule"], finding["item"], "r", clock.now() + timedelta(days=3))
    waiver, made = review.ask_waiver(actor("ines"), *given)
    assert (made and waiver.pointer is None) or waiver.pointer == ""
    for who in ("ines", "edda", "tomas"):
        with pytest.raises(Denied):
            review.answer_waiver(actor(who), waiver.pk, "grant")
    review.answer_waiver(actor("oskar"), waiver.pk, "grant")
    review.answer_waiver(actor("oskar"), waiver.pk, "grant")
    assert Entry.objects.filter(event="waiver-granted").count() == 1
    assert review.ask_waiver(actor("tomas"), *given)[1] is False
    review.answer_waiver(actor("oskar"), waiver.pk, "end", "over")
    assert review.ask_waiver(actor("tomas"), *given)[1] is True


def test_proposed_rules_are_answered_by_another_curator(company, api):
    loose = (
        '[[rules]]\nname = "every request"\ndesk = "curators"\nreason = "a curator looks at every release"\n'
    )
    stored = review.apply_rules(actor("ines"), loose, "n")
    assert (
        stored.state == "proposed" and review.apply_rules(actor("ines"), loose, "n").version == stored.version
    )

    def may(who: str) -> bool:
        rows = api(who).get("routing/versions")[1]["results"]
        return next(one["may_answer"] for one in rows if one["version"] == stored.version)

    assert [may(who) for who in ("ines", "oskar", "tomas")] == [False, True, False]


def test_a_desk_is_reminded_from_the_moment_it_is_due(submitted):
    found = submitted()
    (desk,) = standing(found).asked
    for moment, made in ((desk.due_at - timedelta(seconds=1), 0), (desk.due_at, 1), (desk.due_at, 0)):
        with clock.at(moment):
            assert remind_and_escalate() == made


def test_taking_and_handing_on_are_told_each_as_what_it_is(submitted):
    found = submitted()
    review.take(actor("oskar"), found.pk)
    review.take(actor("oskar"), found.pk, hand_on=True)
    told = (
        Entry.objects.filter(event__startswith="request-").order_by("number").values_list("event", flat=True)
    )
    assert list(told)[-2:] == ["request-taken", "request-handed-on"]


def test_what_is_said_on_a_request_comes_back_as_made(api, submitted):
    found = submitted()
    status, body = api("ines").post(f"requests/{found.pk}/comments", {"text": "why", "kind": "question"})
    assert status == 201 and [one["text"] for one in body["comments"]] == ["why"]
    number = body["comments"][0]["id"]
    answered = api("tomas").post(f"requests/{found.pk}/comments/{number}/answers", {"text": "so"})
    assert answered[0] == 201


def test_a_place_is_quoted_whole_up_to_a_length_and_cut_visibly_beyond(submitted):
    release = submitted().release
    longest = 300
    for said in ("x" * longest, "x" * (longest + 1)):
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(places, "value_at", lambda body, pointer, said=said: said)
            quoted = places.quoted_at(release, "server", "/title")
        assert quoted == (said if len(said) <= longest else "x" * longest + "…")


def test_where_a_submission_comes_from_is_kept(company):
    for who, origin in (("tomas", "handed in by a person"), ("ci-berths", "captured by CI")):
        snapshot, version, launch = list(submission().values())[:3]
        assert review.read_submission(actor(who), snapshot, version, launch).origin == origin


def test_who_may_take_a_request_back_is_the_owner_team_while_it_lives(submitted):
    found = submitted()
    assert [seen(who, found)["may_take_back"] for who in ("tomas", "ines")] == [True, True]
    runa = replace(actor("runa"), desks=frozenset({"curators"}))  # who reads it and owns nothing there
    assert detail(runa, queries.request(runa, found.pk))["may_take_back"] is False
    review.take_back(actor("tomas"), found.pk)
    assert seen("tomas", found)["may_take_back"] is False


def test_a_version_is_handed_in_once_and_said_to_be_what_it_is_by_then(published, submitted):
    def hand_in(description: str = "", **more):
        body = altered(submission(), description) if description else submission()
        read = review.read_submission(actor("tomas"), *list(body.values())[:3])
        return review.submit(actor("tomas"), SLUG, read, **more)

    found = submitted()
    assert hand_in() == (found, False)
    with pytest.raises(VersionTaken, match="under review already, with other contents"):
        hand_in("Find a free berth.")
    agreeing = agree_to(seen("ines", found))
    agreeing |= {"answer": "send-back", "despite": [], "note": "no"}
    review.sign_off(actor("ines"), found.pk, **agreeing)
    with pytest.raises(VersionTaken, match="was sent back"):
        hand_in()
    review.take_back(actor("tomas"), found.pk)
    again, made = hand_in()
    assert made and again.pk != found.pk
    published("1.4.2")
    assert hand_in()[0].state == "done"
    with pytest.raises(VersionTaken, match="exists already and is published"):
        hand_in("Find a free berth.")


def test_requests_of_other_teams_are_no_ones_to_see_who_has_no_part_in_them(submitted):
    found = submitted()
    shown = {who: list(queries.requests(actor(who))) for who in ("tomas", "pell", "mira", "edda")}
    assert shown == {"tomas": [found], "pell": [found], "mira": [], "edda": []}


def test_a_sign_off_has_ten_conditions_and_no_more(company):
    one = {"text": "t", "owner": "tomas", "due": clock.now().date()}
    assert len(read_conditions([one] * 10)) == 10
    with pytest.raises(BadArgument, match="at most 10"):
        read_conditions([one] * 11)


def test_a_server_itself_is_quoted_by_what_it_says_of_itself(submitted):
    release = submitted().release
    assert places.quoted_at(release, "server", "/serverInfo/name") == "berth-planner"
    assert places.quoted_at(release, "server", "") == ""
    assert places.quoted_at(release, "tool:none", "/name") is None


def test_the_rules_of_a_version_are_shown_and_no_number_of_any_length_is_one(api):
    review.apply_rules(actor("pell"), BY_ITSELF, "n")
    shown = {
        text: api("pell").get(f"routing?version={text}")[0] for text in ("1", "99999999", "999999999", "x")
    }
    assert shown == {"1": 200, "99999999": 404, "999999999": 200, "x": 200}
