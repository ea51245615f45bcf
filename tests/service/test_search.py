"""Finding servers and items by what they do."""

from __future__ import annotations

import jsonschema
import pytest
from django.db import connection
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tallshelf.core.errors import BadArgument
from tallshelf.core.formats import schema
from tallshelf.run.scenario.history import actor
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import search
from tallshelf.service.catalog.models import SearchEntry
from tests.service.conftest import ended


def names(text: str, **more: str) -> list[str]:
    return ["".join(piece["text"] for piece in one["name"]) for one in search.find(text, **more)["results"]]


def marked(pieces: list[dict[str, object]]) -> list[object]:
    return [piece["text"] for piece in pieces if piece["hit"]]


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("free berth", "find_free_berth"),
        ("BERTHS free", "find_free_berth"),
        ("fetch plan of a day", "get_berth_plan"),
        ("look up the berth plan", "get_berth_plan"),
        ("register berth", "book_berth"),
        ("find_free_berth", "find_free_berth"),
        ("find_fr", "find_free_berth"),
        ("vessel len", "find_free_berth"),
        ("todays table", "berths://plan/today"),
        ("planner", "berth-planner"),
        ("arriving second choice", "plan-arrival"),
    ],
)
def test_words_find_what_does_the_job(published, text, first):
    published()
    assert names(text)[0] == first


@pytest.mark.parametrize(
    ("question", "first", "fit"),
    [
        ("a tool that tells me which berth is free", "find_free_berth", "good"),
        ("something that reserves a berth for a ship", "book_berth", "good"),
        ("I need to see the plan of the berths for tomorrow", "get_berth_plan", "good"),
        ("available berths", "find_free_berth", "good"),
    ],
)
def test_a_question_is_read_for_what_it_asks(published, question, first, fit):
    published()
    found = search.find(question)
    assert names(question)[0] == first
    assert (found["fit"], found["respelled"]) == (fit, {})


@pytest.mark.parametrize("question", ["translate a poem into another tongue", "resize pictures", "zzyzx"])
def test_where_nothing_does_it_that_is_said(published, question):
    published()
    assert search.find(question)["fit"] == "none"


def test_each_hit_tells_how_it_says_what_is_asked(published):
    published()
    first = search.find("look up a vacant berth for painting")["results"][0]
    told = {one["asked"]: (one["said"], one["where"]) for one in first["says"]}
    assert told["berth"] == ("berth", "name") and told["vacant"][0] == "free" and told["painting"] == ("", "")


def test_english_words_are_never_read_as_others(published):
    """A word that the catalog lacks is no misspelling of one it has."""
    published()
    assert search.find("next text vessels")["respelled"] == {}


@pytest.mark.parametrize(
    ("text", "word", "near"),
    [("free brth", "brth", "berth"), ("vesel", "vesel", "vessel"), ("lenght of", "lenght", "length")],
)
def test_a_word_that_occurs_nowhere_is_read_as_the_nearest(published, text, word, near):
    published()
    found = search.find(text)
    assert found["respelled"] == {word: [near]}
    assert found["results"]
    assert search.find(near)["respelled"] == {}


def test_hits_are_marked_in_name_text_and_parameters(published):
    published()
    (hit, *_) = search.find("vessel length between")["results"]
    assert (hit["item"], hit["version"], hit["team"]) == ("tool:find_free_berth", "1.4.2", "berths")
    assert marked(hit["text"]) == ["vessel", "between", "length"]
    assert marked(hit["parameters"][0]) == ["vessel", "length", "Length", "vessel"]
    document = {"format": "tallshelf.found/1", "next": None, **search.find("berth")}
    document.pop("more")
    jsonschema.validate(document, schema("found-1"), jsonschema.Draft202012Validator)


def test_the_kind_and_the_team_narrow_it(published):
    published()
    assert {one["kind"] for one in search.find("berth")["results"]} >= {"tool", "server", "resource"}
    assert names("berth", kind="resource") == ["berths://plan/today"]
    assert names("berth", team="crew") == []
    assert names("berth", team="berths", kind="server") == ["berth-planner"]


def test_what_is_found_follows_the_current_release(published):
    published("1.4.1")
    assert names("depth") == []
    catalog.edit_server(actor("tomas"), "berth-planner", {"tags": ["moorings"]})
    assert names("moorings") == ["berth-planner"]
    ended("withdraw", "1.4.1")
    assert names("berth") == ["berth-planner"]
    published("1.4.2")
    assert "get_berth_plan" in names("berth plan")
    catalog.suspend(actor("ines"), "berth-planner", "r", "tool:book_berth")
    found = {one["item"]: one["suspended"] for one in search.find("berth")["results"]}
    assert (found["tool:get_berth_plan"], found["tool:book_berth"]) == ("", "r")
    catalog.suspend(actor("ines"), "berth-planner", "all of it")
    assert {one["suspended"] for one in search.find("berth")["results"]} == {"all of it"}


def test_drafts_are_never_found(submitted):
    submitted("1.5.0")
    assert names("release booked berth") in ([], ["berth-planner"])


def test_pages_follow_each_other(published, api):
    published()
    _, first = api("runa").get("find?q=berth&limit=2")
    _, second = api("runa").get(f"find?q=berth&limit=2&cursor={first['next']}")
    both = [one["item"] for page in (first, second) for one in page["results"]]
    assert len(set(both)) == 4
    assert api("runa").get("find?q=berth&cursor=x")[0] == 400


@given(st.text(max_size=60))
@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_no_text_breaks_the_query(published_once, text):
    """Quotes, operators and NULs of FTS5 are words or nothing; marks never leak into texts."""
    try:
        found = search.find(text)
    except BadArgument:
        return
    for one in found["results"]:
        shown = "".join(piece["text"] for piece in one["text"] + one["name"])
        assert not {"\x02", "\x03"} & set(shown)


@pytest.fixture
def published_once(published):
    published()
    SearchEntry.objects.filter(identity="tool:book_berth").update(text='a \x02 "quoted" NEAR(text) OR')


@pytest.mark.parametrize("text", ["", "  ", "…", "x" * 400])
def test_a_search_without_words_is_refused(db, text):
    with pytest.raises(BadArgument):
        search.find(text)


def test_rebuilding_changes_nothing(published):
    published()
    before = search.find("berth", limit=50)
    steps: list[tuple[int, int]] = []
    assert search.rebuild(lambda done, all_: steps.append((done, all_))) == 1
    assert steps == [(1, 1)]
    assert search.find("berth", limit=50) == before
    assert not search.is_behind()
    with connection.cursor() as cursor:
        for table in ("catalog_search", "catalog_search_word"):
            cursor.execute(f"INSERT INTO {table}({table}) VALUES ('integrity-check')")
    SearchEntry.objects.all().delete()
    assert search.is_behind()
