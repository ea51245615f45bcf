"""Where the values of a JSON text stand."""

from __future__ import annotations

import json

from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.pointer import value_at
from tallshelf.core.reports.places import JsonPlaces

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False) | st.text(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=6), inner, max_size=4),
    max_leaves=12,
)


def pointers(value, at=""):
    yield at
    if isinstance(value, dict):
        for name, inner in value.items():
            yield from pointers(inner, f"{at}/{name.replace('~', '~0').replace('/', '~1')}")
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            yield from pointers(inner, f"{at}/{number}")


def cut(text, region):
    lines = text.split("\n")
    start = sum(len(line) + 1 for line in lines[: region.start_line - 1]) + region.start_column - 1
    end = sum(len(line) + 1 for line in lines[: region.end_line - 1]) + region.end_column - 1
    return text[start:end]


@given(VALUES, st.sampled_from([None, 1, 2]), st.booleans())
def test_what_stands_at_a_region_is_the_value(value, indent, ascii_only):
    document = {"tools": [{"name": "list_berths", "at": value}]}
    text = "\n " + json.dumps(document, indent=indent, ensure_ascii=ascii_only) + "\n"
    places = JsonPlaces(text)
    for pointer in pointers(value, "/at"):
        region = places.region("tool:list_berths", pointer)
        assert json.loads(cut(text, region)) == value_at(document["tools"][0], pointer)


def test_what_is_not_there_is_shown_at_the_nearest_around_it():
    text = json.dumps({"tools": [{"name": "a"}, {"name": "b", "title": "B"}]}, indent=1)
    places = JsonPlaces(text)
    assert json.loads(cut(text, places.region("tool:b", "/annotations/readOnlyHint"))) == {
        "name": "b",
        "title": "B",
    }
    assert places.region("tool:b", "/title").start_line == 8
    assert places.region("tool:none", "") is None and places.region("server", "/instructions") is None
