"""Events for programs and feeds for readers: in order, once, and to those alone who may see them."""

from __future__ import annotations

import base64
import xml.etree.ElementTree as ET

import pytest
from django.db import transaction
from django.test import Client

from tallshelf.run.scenario import history, player
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.kits import actions as kits
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tests.service.conftest import KIT, altered, submission

ATOM = "{http://www.w3.org/2005/Atom}"


@pytest.fixture
def happened(published, submitted):
    """One release published, a kit put, an item suspended, another release handed in."""
    published("1.4.1")
    kits.put_kit(history.actor("tomas"), KIT)
    catalog.suspend(history.actor("tomas"), "berth-planner", "It <b>dreams</b>.", "tool:book_berth")
    submitted("1.5.0")


def types(page) -> list[str]:
    return [one["type"].removeprefix("tallshelf.") for one in page["results"]]


def test_events_come_in_order_page_by_page_and_each_once(api, happened):
    ines = api("ines")
    _, whole = ines.get("events?limit=200")
    assert types(whole)[-5:] == [
        "request.answered", "release.published", "kit.put", "server.suspended", "request.asked"
    ]  # fmt: skip
    numbers = [int(one["id"]) for one in whole["results"]]
    assert numbers == sorted(set(numbers)) and not whole["more"]
    after, seen, more = 0, [], True
    while more:
        _, page = ines.get(f"events?after={after}&limit=2")
        seen += [int(one["id"]) for one in page["results"]]
        after, more = page["next"], page["more"]
    assert seen == numbers and after == Entry.objects.count() == whole["next"]
    assert ines.get(f"events?after={after}")[1]["results"] == []
    _, narrowed = ines.get("events?type=kit.put,server.suspended")
    assert types(narrowed) == ["kit.put", "server.suspended"]
    assert ines.get("events?type=kit.lost")[0] == 400
    assert ines.get("events?after=-1")[0] == 400 and ines.get(f"events?after={after + 1}")[0] == 409


def test_nothing_new_is_answered_in_a_word(api, happened):
    headers = api("runa").headers
    first = Client().get("/api/v1/events", headers=headers)
    again = {**headers, "If-None-Match": first.headers["ETag"]}
    assert Client().get("/api/v1/events", headers=again).status_code == 304
    catalog.suspend(history.actor("tomas"), "berth-planner", "Whole.")
    assert Client().get("/api/v1/events", headers=again).status_code == 200


def test_what_is_not_published_is_told_to_those_alone_who_may_see_it(api, happened):
    for who, sees in (("ines", True), ("tomas", True), ("jonas", False), ("edda", False), ("runa", True)):
        _, page = api(who).get("events")
        assert ("request.asked" in types(page)) is sees, who
        assert "release.published" in types(page)
        assert ("1.5.0" in str(page)) is sees


def feed(path: str, name: str, secret: str):
    given = base64.b64encode(f"{name}:{secret}".encode()).decode()
    return Client().get(f"/feeds/{path}", headers={"Authorization": f"Basic {given}"})


@pytest.mark.parametrize(
    ("path", "titles"),
    [
        ("catalog.atom", 4),
        ("servers/berth-planner.atom", 3),
        ("teams/berths.atom", 4),
        ("kits/berth-helper.atom", 4),
        ("teams/crew.atom", 0),
    ],
)
def test_a_feed_is_of_what_it_names_for_a_reader_with_a_token_as_password(api, happened, path, titles):
    secret = api("edda", "read").headers["Authorization"].removeprefix("Bearer ")
    answer = feed(path, "edda", secret)
    assert answer.status_code == 200 and answer.headers["Content-Type"].startswith("application/atom+xml")
    said = [one.findtext(f"{ATOM}title") for one in ET.fromstring(answer.content).findall(f"{ATOM}entry")]
    assert len(said) == titles
    if titles:
        assert "berth-planner 1.4.1 was published" in said
        assert "tool:book_berth of berth-planner is suspended: It <b>dreams</b>" in " ".join(said)


def test_a_feed_takes_no_other_credential(api, happened):
    secret = api("edda", "read").headers["Authorization"].removeprefix("Bearer ")
    for name, given in (("edda", "x"), ("ines", secret), ("", secret)):
        answer = feed("catalog.atom", name, given)
        assert answer.status_code == 401 and answer.headers["WWW-Authenticate"].startswith("Basic ")
    assert Client().get("/feeds/catalog.atom").status_code == 401
    assert Client().get("/feeds/catalog.atom", {"token": secret}).status_code == 401
    assert Client().get("/feeds/catalog.atom", headers={"Authorization": "Basic ?"}).status_code == 401
    scoped = api("edda", "check").headers["Authorization"].removeprefix("Bearer ")
    assert feed("catalog.atom", "edda", scoped).status_code == 403
    assert feed("kits/none-such.atom", "edda", secret).status_code == 404


def told(api, who: str) -> list[tuple[str, str]]:
    return [(one["words"], one["because"]) for one in api(who).get("notices?unread=true")[1]["results"]]


def test_whoever_an_act_hits_is_told_in_its_transaction_and_who_did_it_is_not(api, published):
    published("1.4.1")
    theirs = KIT.replace('"berths"', '"ticketing"', 1).replace("berth-helper", "van-helper")
    kits.put_kit(history.actor("ines"), theirs)
    people = {who: len(told(api, who)) for who in ("tomas", "jonas", "edda", "ines", "ci-berths")}
    catalog.suspend(history.actor("tomas"), "berth-planner", "It dreams.", "tool:book_berth")
    assert {who: len(told(api, who)) for who in people} == people  # no kit holds it, and its owner did it
    catalog.suspend(history.actor("ines"), "berth-planner", "All of it.")
    assert told(api, "tomas")[0] == ("berth-planner is suspended: All of it.", "your team owns berth-planner")
    assert told(api, "jonas")[0] == (
        "berth-planner is suspended: All of it.", "it hits your kit van-helper (ended)"
    )  # fmt: skip
    assert len(told(api, "edda")) == people["edda"] and len(told(api, "ines")) == people["ines"]
    draft = review.RequestDraft("lift", "berth-planner", "Mended.")
    player.agree(review.ask(history.actor("tomas"), draft)[0])
    assert told(api, "jonas")[0] == ("the suspension of berth-planner was lifted", "held by van-helper")
    newest = api("jonas").get("notices")[1]["results"][0]
    assert newest["page"] == "/requests/2"  # which says why
    assert api("jonas").post("notices/read", {"upto": newest["entry"]})[0] == 200
    assert told(api, "jonas") == [] and told(api, "tomas")
    assert api("jonas").get("notices")[1]["results"][0]["read_at"]


def test_an_act_that_comes_to_nothing_tells_nobody(api, published):
    published("1.4.1")
    before = told(api, "tomas")
    with pytest.raises(ZeroDivisionError), transaction.atomic():
        catalog.suspend(history.actor("ines"), "berth-planner", "All of it.")
        raise ZeroDivisionError
    assert told(api, "tomas") == before


def test_owners_of_a_kit_are_told_by_what_a_release_hits_it(api, published):
    published("1.4.1")
    kits.put_kit(history.actor("tomas"), KIT)
    body = altered(submission("1.4.3"), "Find a berth in feet of depth.")
    one = review.read_submission(history.actor("tomas"), body["snapshot"], "1.4.3", body["launch"])
    request = review.submit(history.actor("tomas"), "berth-planner", one)[0]
    player.agree(request)
    review.publish(history.actor("ines"), request.pk)
    because = next(because for words, because in told(api, "tomas") if "1.4.3 was published" in words)
    assert because == "it hits your kit berth-helper (caution)"
    answered = [words for words, _ in told(api, "tomas")]
    assert any("was answered at curators: agree" in words for words in answered)
