"""How a question's phrases are read, and that the list of what the trades say is one that can be read."""

from __future__ import annotations

import re

import pytest

from tallshelf.core.words import trades
from tallshelf.core.words.asking import ended_in, nouns_in, places_in, question_of, values_in
from tallshelf.core.words.trades import related


@pytest.mark.parametrize(
    ("asked", "read"),
    [
        ("switch the porch light off", "disable the porch light"),
        ("switching off the light", "disable the light"),
        ("Switch it OFF", "disable it"),
        ("get rid of old kilns", "delete of old kilns"),
        ("turn a sketch into a plan", "convert a sketch a plan"),
        ("log in", "login"),
        # too far apart, another particle, or none: nothing is read
        ("switch the light of the old porch off", "switch the light of the old porch off"),
        ("switch the track", "switch the track"),
        ("get_user_off", "get_user_off"),
        ("", ""),
    ],
)
def test_a_verb_and_its_particle_are_read_as_one_verb(asked, read):
    assert question_of(asked).text == read


def test_what_a_verb_was_written_as_is_remembered():
    assert question_of("switch the light off").written == {"disable": "switch off"}


def test_what_a_phrase_is_called_else_belongs_to_each_of_its_words():
    called = question_of("balance sheets of a kiln works").called
    assert called["balance"] == called["sheets"] == ("financial", "statement")


def test_a_phrase_of_words_that_say_nothing_is_said_by_another_word():
    question = question_of("fires that go out now and then")
    assert question.text.endswith(" flaky") and question.called == {"flaky": ("intermittent",)}


@pytest.mark.parametrize(
    ("asked", "values"),
    [
        ("firings of last week", {"last", "week"}),
        ("three kilns on Friday", {"three", "friday"}),
        ("the week of a firing", set()),
        ("pages 3 to 7", {"3", "7"}),
    ],
)
def test_what_a_tool_would_be_given_is_told_from_what_it_is_called(asked, values):
    assert values_in(asked) == values


def test_what_may_name_a_place_stands_where_places_stand():
    assert places_in("a kiln in Lisbon for Quorvik") == {"lisbon", "quorvik"}
    assert places_in("lisbon kiln in glaze") == frozenset()


def test_what_is_ended_may_have_a_verb_of_its_own():
    assert ended_in("stop muting the bell") == {("stop", "muting"): "unmute"}
    assert ended_in("stop the bell") == {}


def test_an_article_makes_a_noun():
    assert nouns_in("push to the end of a list") == {"end", "list"}


def test_the_list_says_each_thing_once_and_in_plain_words():
    lines = [line for line in trades._FILE.read_text("utf-8").splitlines() if line and line[0] != "#"]
    assert len(lines) == len(set(lines))
    for line in lines:
        asked, sign, said = next(line.partition(sign) for sign in (" = ", ": ", " ") if sign in line)
        assert re.fullmatch(r"[a-z0-9 ]+", asked + said), line
        assert len(asked.split()) <= trades._LONGEST, line
        assert asked not in said.split(), line
        assert sign != " = " or (len(asked.split()) == 2 and len(said.split()) == 1), line


def test_both_ways_and_one_way():
    assert "ship" in related("boat") and "boat" in related("ship")
    assert "rain" in related("umbrella") and "umbrella" not in related("rain")
    assert "boat" not in related("boat")
