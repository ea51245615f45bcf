"""Requests that publish nothing: deprecate, withdraw, lift a suspension, change a data class."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, InputsMoved, NotFound
from tallshelf.run.scenario.player import actor, agree, sign
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import queries
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries as requests
from tallshelf.service.review.models import Request
from tallshelf.service.review.progress import submitters
from tests.service.conftest import work

SLUG = "berth-planner"


def ask(kind: str, who: str = "tomas", **more):
    return review.ask(actor(who), review.RequestDraft(kind, SLUG, more.pop("reason", "r"), **more))


def events(*names: str) -> list[str]:
    return list(Entry.objects.filter(event__in=names).order_by("number").values_list("event", flat=True))


def test_a_release_ends_when_the_desks_agree_and_not_before(published):
    published("1.4.1")
    published("1.4.2")
    found, made = ask("deprecate", version="1.4.1", replacement=f"{SLUG}@1.4.2")
    assert made and found.state == "open" and submitters(found) == ["tomas"]
    assert ask("deprecate", version="1.4.1", replacement=f"{SLUG}@1.4.2") == (found, False)
    assert queries.release(actor("ines"), SLUG, "1.4.1").state == "published"
    done = agree(found)
    assert done.state == "done"
    assert queries.release(actor("ines"), SLUG, "1.4.1").state == "deprecated"
    assert events("request-opened", "release-deprecated") == ["request-opened", "release-deprecated"]
    with pytest.raises(Conflict, match="cannot be changed by deprecate"):
        ask("deprecate", version="1.4.1")


def test_a_suspension_is_lifted_by_request_only(published, api):
    published()
    catalog.suspend(actor("ines"), SLUG, "double bookings", "tool:book_berth")
    catalog.suspend(actor("ines"), SLUG, "all of it")
    body = {"kind": "lift", "server": SLUG, "reason": "mended in 1.4.2", "item": "tool:book_berth"}
    status, found = api("tomas").post("requests", body)
    assert (status, found["kind"], found["item"], found["version"]) == (201, "lift", "tool:book_berth", "")
    assert found["about"] == f"{SLUG}@1.4.2" and found["assessment"]["facts"]["kind"] == "lift"
    assert api("tomas").post("requests", body)[0] == 200
    agree(Request.objects.get(pk=found["id"]))
    standing = api("runa").get("suspensions")[1]["results"]
    assert [one["item"] for one in standing] == [""]
    assert api("tomas").post("requests", body)[0] == 404


def test_lowering_a_data_class_is_agreed_to_and_what_is_open_is_assessed_anew(published, submitted):
    published("1.4.1")
    waiting = submitted("1.4.2")
    before = waiting.assessment_id
    found, _ = ask("data-class", data_class="public")
    assert found.assessment.document["facts"]["data_class"] == "public"
    assert found.assessment.document["facts"]["data_class_rises"] is False
    agree(found)
    assert Request.objects.get(pk=waiting.pk).moved == ["server"]
    work()
    assert queries.server(SLUG).data_class == "public"
    waiting.refresh_from_db()
    assert waiting.assessment_id != before and waiting.assessment.document["facts"]["data_class"] == "public"
    with pytest.raises(Conflict, match="public already"):
        ask("data-class", data_class="public")
    raised, _ = ask("data-class", data_class="restricted")
    assert raised.assessment.document["facts"]["data_class_rises"] is True


def test_a_rule_never_lifts_or_lowers_by_itself_but_may_let_the_rest_pass(published):
    published("1.4.1")
    published("1.4.2")
    rule = '[[rules]]\nname = "by itself"\ndesk = "curators"\nsign_offs = 0\nreason = "trusted"\n'
    stored = review.apply_rules(actor("pell"), rule, "n")
    review.answer_rules(actor("ines"), stored.version, "agree")
    catalog.suspend(actor("ines"), SLUG, "r")
    for found in (ask("lift")[0], ask("data-class", data_class="public")[0]):
        assert (found.state, found.route["steps"][0]["desks"][0]["desk"]) == ("open", "curators")
    ended, _ = ask("withdraw", version="1.4.1")
    assert (ended.state, ended.route["approved_by"]) == ("done", "trusted")
    assert queries.release(actor("ines"), SLUG, "1.4.1").state == "withdrawn"


def test_what_a_rule_approves_by_now_moves_on_when_it_is_assessed_anew_unless_a_gate_fails(
    published, submitted
):
    published("1.4.1")
    low, waiting = submitted("1.4.2"), submitted("2.0.0")
    ending, _ = ask("withdraw", version="1.4.1")
    rule = '[[rules]]\nname = "by itself"\ndesk = "curators"\nsign_offs = 0\nreason = "trusted"\n'
    stored = review.apply_rules(actor("pell"), rule, "n")
    review.answer_rules(actor("ines"), stored.version, "agree")
    states = [review.reassess(actor("ines"), one.pk).state for one in (low, waiting, ending)]
    assert states == ["open", "agreed", "done"]
    low.refresh_from_db()
    (step,) = low.route["steps"]
    assert step["desks"][0]["reasons"] == ["the check fails: version-too-low"]
    assert queries.release(actor("ines"), SLUG, "1.4.1").state == "withdrawn"


def test_terms_that_make_no_sense_are_refused_and_other_terms_wait(published):
    published()
    later = clock.now() + timedelta(days=9)
    for kind, more, error in (
        ("deprecate", {"version": ""}, BadArgument),
        ("deprecate", {"version": "9.9.9"}, NotFound),
        ("lift", {}, NotFound),
        ("lift", {"item": "tool:none"}, NotFound),
        ("data-class", {"data_class": "secret"}, BadArgument),
        ("data-class", {"data_class": "public", "sunset_at": later}, BadArgument),
        ("publish", {"version": "1.4.2"}, BadArgument),
        ("withdraw", {"version": "1.4.2", "reason": " "}, BadArgument),
    ):
        with pytest.raises(error):
            ask(kind, **more)
    assert not Request.objects.exclude(kind="publish").exists()
    found, _ = ask("deprecate", version="1.4.2", sunset_at=later)
    with pytest.raises(Conflict, match="on other terms"):
        ask("deprecate", version="1.4.2")
    with pytest.raises(Conflict, match="asks to deprecate"):
        ask("withdraw", version="1.4.2")
    sign("ines", found, "send-back", "say what to use instead")
    again, made = ask("deprecate", version="1.4.2", sunset_at=later, reason="nothing replaces it")
    assert made and again.pk == found.pk and again.state == "open"
    assert again.release_digest != found.release_digest
    with pytest.raises(InputsMoved, match="other bytes"):
        sign("ines", found, "agree")


def test_who_asks_does_not_sign_and_only_owners_and_curators_ask(published):
    published()
    with pytest.raises(Denied):
        ask("withdraw", who="jonas", version="1.4.2")
    with pytest.raises(Denied):
        ask("withdraw", who="ci-berths", version="1.4.2")
    found, _ = ask("withdraw", who="ines", version="1.4.2")
    with pytest.raises(Denied, match="what they submitted"):
        sign("ines", found, "agree")
    assert agree(found, ("oskar", "runa")).state == "done"


def test_what_cannot_be_carried_out_any_more_undoes_the_last_agreement(published):
    published()
    catalog.suspend(actor("ines"), SLUG, "r")
    found, _ = ask("lift")
    queries.standing_suspensions(queries.server(SLUG)).update(lifted_at=clock.now())
    with pytest.raises(Conflict, match="lifted already"):
        agree(found)
    found.refresh_from_db()
    assert found.state == "open" and not events("suspension-lifted")


def test_a_request_on_a_server_follows_what_is_current(published):
    published("1.4.1")
    catalog.suspend(actor("ines"), SLUG, "r")
    found, _ = ask("lift")
    published("1.4.2")
    assert requests.moved(requests.request(actor("ines"), found.pk)) == ["snapshot", "base"]
    with pytest.raises(InputsMoved, match="snapshot, base moved"):
        sign("ines", found, "agree")
    again = review.reassess(actor("ines"), found.pk)
    assert str(again.release) == f"{SLUG}@1.4.2" and requests.moved(again) == []
    assert agree(again).state == "done"


def test_declining_and_taking_back_leave_the_release_as_it_was(published):
    published()
    found, _ = ask("withdraw", version="1.4.2")
    sign("ines", found, "decline", "it is in use")
    assert events("request-declined") and not events("release-declined")
    other, _ = ask("withdraw", version="1.4.2")
    review.take_back(actor("tomas"), other.pk)
    assert queries.release(actor("ines"), SLUG, "1.4.2").state == "published"
