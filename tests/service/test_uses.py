"""The use of a server that asks its owner: asked when a kit picks it, and again when it picks more."""

from __future__ import annotations

import pytest

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.reports import Paint, kit_check_markdown, kit_check_text
from tallshelf.run.scenario import history
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.models import Server
from tallshelf.service.kits import actions as kits
from tallshelf.service.kits import shown
from tallshelf.service.kits.models import StoredKit, StoredRaise
from tallshelf.service.ledger.models import Entry
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries
from tallshelf.service.review.models import Request
from tallshelf.service.review.shown import detail
from tallshelf.service.telling.models import Notice
from tallshelf.service.verifying import verify
from tests.service.conftest import KIT, work

THEIRS = KIT.replace('"berths"', '"ticketing"', 1).replace("berth-helper", "van-helper")
WIDER = THEIRS.replace('["find_free_berth"]', '["find_free_berth", "book_berth"]')


@pytest.fixture
def asks(published):
    """A berth planner whose use asks its owners."""
    published("1.4.1")
    catalog.edit_server(history.actor("tomas"), "berth-planner", {"use": "ask"})


def put(text: str = THEIRS, who: str = "jonas", reason: str = "Vans wait for berths."):
    return kits.put_kit(history.actor(who), text, reason=reason)


def answer(who: str = "tomas", word: str = "agree", number: int | None = None):
    found = Request.objects.filter(kind="use").order_by("-pk").first()
    found = found if number is None else Request.objects.get(pk=number)
    return review.sign_off(
        history.actor(who),
        found.pk,
        word,
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        note="n",
        desk="team:berths" if who == "tomas" else "",
    )


def held(name: str = "van-helper") -> list[str]:
    return sorted(StoredKit.objects.get(name=name, dropped_at=None).held.values_list("item", flat=True))


def test_a_pick_of_a_server_that_asks_is_a_request_and_put_once_its_owner_and_the_rules_agree(asks, api):
    made = put()
    assert made.kit is None and not StoredKit.objects.filter(name="van-helper").exists()
    request = Request.objects.get(kind="use")
    assert made.proposed.uses == [{"server": "berth-planner", "team": "berths", "request": request.pk}]
    assert request.title == "let the kit van-helper use berth-planner"
    assert set(request.desks) == {"team:berths", "curators"}
    assert put().proposed.pk == made.proposed.pk and Request.objects.filter(kind="use").count() == 1
    answer()
    work()
    assert not StoredKit.objects.exists()
    answer("ines")
    work()
    assert held() == ["tool:find_free_berth"] and verify().holds
    told = StoredKit.objects.get(name="van-helper")
    assert told.put_by.username == "jonas" and Entry.objects.get(event="kit-put").actor == "clock"
    assert put().kit is not None  # the same again is as it was


def test_a_check_says_whose_owners_would_be_asked_and_putting_asks_them(asks):
    found = shown.check_kit(history.actor("jonas"), THEIRS)
    assert found["asks"] == [{"server": "berth-planner", "team": "berths"}] and found["passed"]
    said = "asks berths (for berth-planner): it is put once they agree"
    assert f"  ? putting it {said}" in kit_check_text(found, Paint())
    assert f"Putting it {said.replace('berth-planner', '`berth-planner`')}." in kit_check_markdown(found)
    put()
    answer()
    answer("ines")
    work()
    assert shown.check_kit(history.actor("jonas"), THEIRS)["asks"] == []


def test_it_is_asked_again_when_the_picks_widen_and_not_when_they_narrow(asks):
    put()
    answer()
    answer("ines")
    work()
    wider = put(WIDER)
    assert wider.proposed is not None and held() == ["tool:find_free_berth"]
    answer()
    answer("ines")
    work()
    assert held() == ["tool:book_berth", "tool:find_free_berth"]
    assert put(THEIRS).changed and held() == ["tool:find_free_berth"]
    assert put(WIDER).changed  # it was agreed to before
    assert put(WIDER.replace('"^1.4"', '"1.4.1"')).changed
    assert put(WIDER.replace('"^1.4"', '"current"')).proposed is not None
    assert verify().holds


@pytest.mark.parametrize("text", [KIT, THEIRS])
def test_who_owns_it_asks_nobody_and_what_was_held_before_stays(published, text):
    published("1.4.1")
    put(text, "ines")
    catalog.edit_server(history.actor("tomas"), "berth-planner", {"use": "ask"})
    title = text.replace("A helper for berths", "The helper")
    assert put(title, "ines").changed and verify().holds
    wider = text.replace('["find_free_berth"]', '["find_free_berth", "book_berth"]')
    assert (put(wider, "ines").proposed is None) == (text == KIT)


def test_who_asked_has_part_in_it_and_who_may_not_see_it_does_not(asks):
    put()
    request = Request.objects.get(kind="use")
    assert [one["desk"] for step in detail(history.actor("jonas"), request)["route"] for one in step] == [
        "curators",
        "team:berths",
    ]
    with pytest.raises(Denied):
        answer("jonas")
    with pytest.raises(NotFound):
        queries.request(history.actor("mira"), request.pk)
    assert detail(history.actor("jonas"), request)["may_take_back"]
    with pytest.raises(Denied):
        review.take_back(history.actor("tomas"), request.pk)
    review.take_back(history.actor("jonas"), request.pk)


def test_owners_are_told_that_they_are_asked_and_it_stands_in_their_inbox(asks, api):
    put()
    told = Notice.objects.get(person__username="tomas", type="request.asked")
    assert told.because == "your team berths is asked" and "use" in told.words
    assert any(one["kind"] == "sign" for one in api("tomas").get("inbox")[1]["results"])


def test_a_refusal_puts_nothing_and_other_terms_replace_what_was_asked(asks):
    put()
    first = Request.objects.get(kind="use")
    put(WIDER)
    assert Request.objects.get(pk=first.pk).state == "taken-back"
    answer(word="decline")
    work()
    told = Notice.objects.get(person__username="jonas", type="request.declined")
    assert told.because == "your team asked for van-helper"
    assert not StoredKit.objects.exists() and verify().holds
    again = put(WIDER, reason="We ask again.")
    assert again.proposed is not None


END = {
    "dropped": lambda: kits.drop_kit(history.actor("ines"), "van-helper", "The vans were sold."),
    "declined": lambda: kits.answer_raise(history.actor("jonas"), "van-helper", "decline", "Not needed."),
    "put otherwise": lambda: put(THEIRS.replace("title = ", "# as before\ntitle = ")),
}


@pytest.mark.parametrize("end", END)
def test_nobody_is_asked_any_longer_about_a_kit_that_is_not_put_so(asks, end):
    put()
    answer()
    answer("ines")
    work()
    put(WIDER)
    asked = Request.objects.get(kind="use", state="open")
    END[end]()
    assert Request.objects.get(pk=asked.pk).state == "taken-back"
    assert not StoredRaise.objects.filter(state="proposed").exists() and verify().holds


def test_a_reason_is_needed_and_owners_come_before_a_second_curator(asks):
    with pytest.raises(BadArgument, match="asks its owners"):
        put(reason="")
    both = put(THEIRS.replace('"internal"', '"restricted"'))
    assert both.proposed is not None and both.proposed.uses
    with pytest.raises(Conflict, match="have not agreed yet"):
        kits.answer_raise(history.actor("ines"), "van-helper", "agree")
    answer()
    answer("ines")
    work()
    assert not StoredKit.objects.exists()
    kits.answer_raise(history.actor("oskar"), "van-helper", "agree")
    assert held() and verify().holds


def test_what_asks_never_moves_by_itself(asks, published):
    put()
    answer()
    answer("ines")
    work()
    published("1.4.2")
    work()
    kit = StoredKit.objects.get(name="van-helper")
    assert kit.held.get().release.version == "1.4.1"
    kits.move_kit(history.actor("jonas"), "van-helper")
    assert kit.held.get().release.version == "1.4.2"


def test_a_server_that_writes_asks_unless_somebody_said_otherwise(company, published):
    berths = Server.objects.get(slug="berth-planner")
    Server.objects.filter(pk=berths.pk).update(use="")
    published("1.4.1")
    assert Server.objects.get(pk=berths.pk).use == "ask"
    changed = Entry.objects.get(event="use-changed")
    assert (changed.actor, "it writes" in changed.body) == ("clock", True)
    catalog.edit_server(history.actor("tomas"), "berth-planner", {"use": "open"})
    published("1.4.2")
    assert Server.objects.get(pk=berths.pk).use == "open"
    with pytest.raises(BadArgument):
        catalog.edit_server(history.actor("tomas"), "berth-planner", {"use": "closed"})
    with pytest.raises(Denied):
        catalog.edit_server(history.actor("jonas"), "berth-planner", {"use": "open"})


def test_an_edit_of_the_use_lets_no_kit_in(asks):
    Server.objects.update(use="open")
    assert put().proposed is not None  # the ledger tells, not the row
    assert "server berth-planner: use" in " ".join(verify().differences)


def test_a_kit_that_cannot_be_put_any_more_waits_and_says_why(asks, api):
    put(THEIRS.replace("budget = 4000", "budget = 200"))
    answer()
    StoredRaise.objects.update(text=StoredRaise.objects.get().text.replace("budget = 200", "budget = 1"))
    answer("ines")
    work()
    assert not StoredKit.objects.exists()
    (waits,) = api("jonas").get("kit-proposals")[1]["results"]
    assert "could not be put" in waits["note"] and not waits["raises"] and not waits["may_answer"]
