"""Patterns as automata, held against Python's own engine on every short text, and their bounds."""

from __future__ import annotations

import itertools
import re

import pytest

from tallshelf.core.compat._confirm import _listed
from tallshelf.core.compat._derive import Derived
from tallshelf.core.compat._pattern import LAST, Unreadable, holds, inverted, joined, parse
from tallshelf.core.compat._references import References
from tallshelf.core.compat._regular import find_string, is_read, matches

TEXTS = ["".join(one) for length in range(5) for one in itertools.product("ab-", repeat=length)]
LOOKING = r"""
^(?=a)(?:ab?)+$
^(?!.*--)[ab-]+$
(?<=a{2})b
(?<!a)b
^(?:(?=ab)a|b){2,3}$
^(?:a?){2}(?=b)b$
^(?:(?:a*){2,3}b)+(?!-)
^(?:a?b?){3}(?<=b)$
\bab?\b
\Bb
^(?=(?:a|b){3}$)a*b*$
(?=a{2,3}$)a
^(?!a{2,}$)(?!b)
(?<=^a|b)-
^(?:-|(?<=-)a)+$
(?!a)(?!b)^.
"""
PLAIN = r"""
^a{2,3}$
^(?:ab|ba){1,2}-?$
[^a]{2}
^[a-b]*-$
a+?b
^(?:a{0,1}){2}$
^$
a{0}b
^(?:|a)b$
"""
ALL = [one for one in (LOOKING + PLAIN).splitlines() if one]


def reads(pattern: str, text: str) -> bool:
    """Whether the derived automaton of a pattern takes a text."""
    automaton = Derived(parse(pattern))
    state = automaton.start()
    for char in text:
        state = automaton.after(state, ord(char))
        if automaton.is_dead(state):
            return False
    return automaton.takes(state)


@pytest.mark.parametrize("pattern", ALL)
def test_the_derived_automaton_takes_what_the_pattern_finds(pattern):
    found = re.compile(pattern)
    wrong = [text for text in TEXTS if reads(pattern, text) is not bool(found.search(text))]
    assert wrong == []


@pytest.mark.parametrize("pattern", ALL)
def test_the_shortest_text_that_fits_is_found_with_lengths_and_without_some(pattern):
    found = re.compile(pattern)
    fits = [text for text in TEXTS if found.search(text)]
    for shortest, longest in ((0, 4), (2, 4), (3, 3), (0, 1)):
        mine = find_string(frozenset([pattern, "^[ab-]*$"]), shortest=shortest, longest=longest)
        theirs = [len(text) for text in fits if shortest <= len(text) <= longest]
        assert (None if mine is None else len(mine)) == (min(theirs) if theirs else None)
        assert mine is None or mine in fits
    rest = [text for text in fits[3:] if len(text) <= 3]
    left = find_string(frozenset([pattern, "^[ab-]*$"]), excluded=frozenset(fits[:3]), longest=3)
    assert (left in rest) if rest else left is None
    other = find_string(frozenset(["^[ab-]*$"]), frozenset([pattern]), longest=4)
    unfit = [text for text in TEXTS if text not in set(fits)]
    assert (None if other is None else len(other)) == (len(unfit[0]) if unfit else None)


def test_counts_of_five_digits_are_read_and_of_six_are_not():
    assert parse("a{99999}") and parse("a{2,99999}")
    for pattern in ("a{100000}", "a{1,100000}", "a{x}", "^*", "(?=a)+", r"\b?"):
        with pytest.raises(Unreadable):
            parse(pattern)


def test_sets_of_characters_are_turned_around_and_joined_without_gaps():
    assert inverted(((0, 5),)) == ((6, LAST),)
    assert inverted(((3, 4), (6, LAST))) == ((0, 2), (5, 5))
    assert inverted(()) == ((0, LAST),) and inverted(((0, LAST),)) == ()
    assert joined([(4, 6), (1, 3), (9, 9), (5, 7)]) == ((1, 7), (9, 9))
    assert holds(((97, 98),), "b") and not holds(((97, 98),), "c")


def test_half_a_character_is_never_given():
    found = find_string(frozenset([r"^[\uD7FF-\uE001]$"]), excluded=frozenset(["\ud7ff"]))
    assert found is not None and 0xE000 <= ord(found) <= 0xE001
    assert ord(find_string(frozenset([r"^[^\u0000-\uD7FF]$"])) or "") >= 0xE000


def test_what_the_validator_reads_is_told_and_what_it_cannot_is_read_here():
    assert is_read("^a+$") is True and is_read("(?=a)b") is False
    assert matches("(?=ab)a", "xab") is True and matches("(?=ab)a", "xa") is False
    assert matches("(a)\\1", "aa") is None


def test_strings_that_are_listed_as_a_pattern_stand_for_themselves_alone():
    pattern = _listed(["a.b", "日", "x|y", "😀"])
    assert all(matches(pattern, one) for one in ("a.b", "日", "x|y", "😀"))
    assert not any(matches(pattern, one) for one in ("axb", "x", "y", "a.bb", ""))
    assert not any(matches(_listed([]), one) for one in ("", "a"))


def test_a_document_is_single_until_a_schema_in_it_starts_a_resource():
    assert References({"type": "object"}).single and References(True).single
    inner = {"$id": "https://pellam.example/tug", "type": "object"}
    assert not References({"properties": {"tug": inner}}).single
    assert References({"properties": {"tug": {"$id": "#tug"}}}).single
