"""Patterns that wait until they are asked: every one compiles, and answers as `re` does."""

from __future__ import annotations

import gc
import importlib
import pkgutil
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core import style, words
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.ways import Ways


def test_every_pattern_of_rules_and_readers_compiles():
    for package in (style, words):
        for module in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
            importlib.import_module(module.name)
    found = [one for one in gc.get_objects() if type(one) is Pattern]
    assert len(found) > 400
    for pattern in found:
        assert isinstance(pattern.compiled, re.Pattern), pattern.pattern


@given(st.text("ab c", max_size=12), st.sampled_from(["a+", "(a)(b)?", "^b|c$", " "]))
def test_it_answers_as_re_does(text, written):
    ours, theirs = Pattern(written, re.IGNORECASE), re.compile(written, re.IGNORECASE)
    for name in ("search", "match", "fullmatch"):
        one, other = getattr(ours, name)(text), getattr(theirs, name)(text)
        assert (one and one.span()) == (other and other.span())
    assert [one.span() for one in ours.finditer(text)] == [one.span() for one in theirs.finditer(text)]
    assert ours.findall(text) == theirs.findall(text) and ours.split(text) == theirs.split(text)
    assert ours.sub("x", text) == theirs.sub("x", text)


def test_what_is_wrong_is_said_when_it_is_asked_and_what_is_not_asked_costs_nothing():
    wrong = Pattern("(")
    with pytest.raises(re.error):
        wrong.search("")
    ways = Ways([("berths", r"\bberths?\b"), ("quays", r"(")])
    assert [way.pattern for way in ways.met(frozenset({"berth"}))] == [r"\bberths?\b"]
