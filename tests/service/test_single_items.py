"""Single items that are deprecated: by request, told to who holds them, shown wherever they are found."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallshelf.core.errors import BadArgument, Conflict, NotFound
from tallshelf.run.scenario import history, player
from tallshelf.service import clock
from tallshelf.service.catalog.models import ItemDeprecation
from tallshelf.service.kits import actions as kits
from tallshelf.service.review import actions as review
from tallshelf.service.telling import due
from tallshelf.service.telling.models import Notice
from tallshelf.service.verifying import verify
from tests.service.conftest import KIT

SLUG, ITEM = "berth-planner", "tool:find_free_berth"
THEIRS = KIT.replace('"berths"', '"ticketing"', 1).replace("berth-helper", "van-helper")


def ask(item: str = ITEM, kind: str = "deprecate-item", **more):
    draft = review.RequestDraft(kind, SLUG, "Use the plan.", item=item, **more)
    return review.ask(history.actor("tomas"), draft)[0]


@pytest.fixture
def held(published):
    published("1.4.1")
    kits.put_kit(history.actor("jonas"), THEIRS)


def test_an_item_is_deprecated_once_the_desks_agree_and_who_holds_it_is_told(held, api):
    until = clock.now() + timedelta(days=40)
    found = ask(sunset_at=until, replacement=f"{SLUG}#tool:get_berth_plan")
    assert found.title == f"deprecate {ITEM} of {SLUG}"
    shown = api("ines").get(f"requests/{found.pk}")[1]
    assert [one["kit"] for one in shown["kits"]] == ["van-helper"] and shown["item"] == ITEM
    assert shown["assessment"]["facts"]["kits_hit"] == 1
    assert ask(sunset_at=until, replacement=f"{SLUG}#tool:get_berth_plan").pk == found.pk
    with pytest.raises(Conflict, match="on other terms"):
        ask()
    player.agree(found)
    found.refresh_from_db()
    assert found.state == "done" and verify().holds
    told = Notice.objects.get(person__username="jonas", type="item.deprecated")
    assert told.because == "it hits your kit van-helper (ended)"
    items = api("edda").get(f"servers/{SLUG}/releases/current/items")[1]["items"]
    words = {one["item"]: one["deprecated"] for one in items}
    assert words[ITEM].startswith(f"deprecated, not to be used after {until:%Y-%m-%d}: Use the plan")
    assert words["tool:book_berth"] == ""
    (problem,) = api("edda").get("kits/van-helper")[1]["problems"]
    assert (problem["kind"], problem["item"]) == ("deprecated", ITEM) and "get_berth_plan" in problem[
        "message"
    ]
    hits = api("edda").get("find?q=free+berth")[1]["results"]
    assert next(one for one in hits if one["item"] == ITEM)["deprecated"]
    with clock.at(until - timedelta(days=6)):
        assert due.remind_of_what_is_due() == 1
    last = Notice.objects.get(person__username="jonas", type="release.last-day")
    assert last.words.startswith(f"the last day of {ITEM} of {SLUG}")


def test_it_may_be_deprecated_again_on_other_terms(held):
    player.agree(ask())
    player.agree(ask(replacement=SLUG))
    assert ItemDeprecation.objects.get().replacement == SLUG and verify().holds


def test_it_is_kept_after_all_once_the_desks_agree_and_who_holds_it_is_told(held, api):
    player.agree(ask(sunset_at=clock.now() + timedelta(days=20)))
    kept = ask(kind="keep-item")
    assert kept.title == f"keep {ITEM} of {SLUG}" and ask(kind="keep-item").pk == kept.pk
    assert api("edda").get("find?q=free+berth")[1]["results"][0]["deprecated"]
    player.agree(kept)
    assert verify().holds and not ItemDeprecation.objects.exists()
    told = Notice.objects.get(person__username="jonas", type="item.kept")
    assert told.words == f"{ITEM} of {SLUG} stays: Use the plan."
    assert api("edda").get("kits/van-helper")[1]["problems"] == []
    items = api("edda").get(f"servers/{SLUG}/releases/current/items")[1]["items"]
    assert {one["deprecated"] for one in items} == {""}
    with clock.at(clock.now() + timedelta(days=15)):
        assert due.remind_of_what_is_due() == 0
    with pytest.raises(NotFound, match="deprecated"):
        ask(kind="keep-item")


def test_what_is_not_deprecated_is_not_kept_and_nothing_goes_with_keeping(held):
    with pytest.raises(NotFound, match="deprecated"):
        ask(kind="keep-item")
    player.agree(ask())
    with pytest.raises(BadArgument, match="go with deprecating"):
        ask(kind="keep-item", replacement=SLUG)


def test_who_agreed_to_keep_it_did_not_agree_to_other_terms(held):
    player.agree(ask())
    early = ask(kind="keep-item")
    player.agree(ask(replacement=SLUG))
    with pytest.raises(Conflict, match="on other terms by now"):
        player.agree(early)
    assert ItemDeprecation.objects.get().replacement == SLUG and verify().holds


def test_of_two_that_ask_to_keep_it_the_later_finds_nothing_to_do(held):
    player.agree(ask())
    late = ask(kind="keep-item")
    ItemDeprecation.objects.all().delete()
    with pytest.raises(NotFound, match="deprecated"):
        player.agree(late)
    late.refresh_from_db()
    assert late.state == "open"


@pytest.mark.parametrize(
    ("item", "more", "error"),
    [
        ("", {}, NotFound),
        ("tool:nothing", {}, NotFound),
        (ITEM, {"replacement": "nowhere"}, NotFound),
        (ITEM, {"replacement": f"{SLUG}#tool:nothing"}, NotFound),
        (ITEM, {"replacement": f"{SLUG}#{ITEM}"}, BadArgument),
        (ITEM, {"replacement": "x/y.json"}, BadArgument),
    ],
)
def test_what_cannot_end_like_that_is_refused(held, item, more, error):
    with pytest.raises(error):
        ask(item, **more)
    with pytest.raises(BadArgument):
        ask(sunset_at=clock.now() - timedelta(days=1))


def test_an_edit_of_it_is_found(held):
    player.agree(ask())
    ItemDeprecation.objects.update(replacement="tide-tables")
    assert f"deprecated item {SLUG} {ITEM}: replacement" in " ".join(verify().differences)
