"""Versions of both schemes: how they are read and ordered, and what is honest in each."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.changes import base_for, compare_snapshots, next_version
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import (
    is_of_scheme,
    need_version,
    parse_launches,
    release_digest,
    same_precedence,
    snapshot_from,
    sort_key,
)

NUMBERS = st.lists(st.integers(0, 3000), min_size=3, max_size=4)


@pytest.mark.parametrize(
    ("text", "semver", "calendar"),
    [
        ("1.4.2", True, True),
        ("2026.11.3", True, True),
        ("2026.11.3.1", False, True),
        ("2026.01.05", False, True),
        ("2.0.0-rc.1", True, False),
        ("1.0.0+linux", True, False),
        ("2026.11", False, False),
        ("2026.11.3.1.2", False, False),
        ("2026-11-03", False, False),
        ("v2026.11.3", False, False),
        ("2026.11.³", False, False),
        ("2026.11.3\n", False, False),
        ("", False, False),
    ],
)
def test_what_each_scheme_reads(text, semver, calendar):
    assert (is_of_scheme(text, "semver"), is_of_scheme(text, "calendar")) == (semver, calendar)
    for scheme, is_read in (("semver", semver), ("calendar", calendar), (None, semver or calendar)):
        if is_read:
            need_version(text, scheme)
        else:
            with pytest.raises(BadArgument) as refused:
                need_version(text, scheme)
            assert refused.value.remedy


@given(NUMBERS, NUMBERS)
def test_calendar_versions_are_compared_number_by_number(left, right):
    texts = [".".join(map(str, one)) for one in (left, right)]
    padded = [[*one, 0][:4] for one in (left, right)]
    assert (sort_key(texts[0]) < sort_key(texts[1])) == (padded[0] < padded[1])
    assert (sort_key(texts[0]) == sort_key(texts[1])) == (padded[0] == padded[1])


@given(st.lists(st.sampled_from(["1.0.0", "1.0.0-rc.1", "1.0.1", "2026.1.2.9", "2026.1.10", "2026.02.1"])))
def test_versions_of_a_server_that_changed_its_scheme_have_one_order(versions):
    order = ["1.0.0-rc.1", "1.0.0", "1.0.1", "2026.1.2.9", "2026.1.10", "2026.02.1"]
    assert sorted(versions, key=sort_key) == sorted(versions, key=order.index)


def test_zeros_and_build_metadata_tell_no_versions_apart():
    assert same_precedence("2026.01.05", "2026.1.5") and same_precedence("2026.1.5.0", "2026.1.5")
    assert same_precedence("1.0.0+a", "1.0.0+b") and not same_precedence("1.0.0", "1.0.1")
    assert len({sort_key("2026.01.05"), sort_key("2026.1.5")}) == 1


def test_the_base_of_a_calendar_version_is_the_one_before():
    published = ["1.4.0", "2025.12.1", "2026.10.2", "2026.9.30.2"]
    assert base_for("2026.11.0", published) == "2026.10.2"
    assert base_for("2026.10.1", published) == "2026.9.30.2"
    assert base_for("2026.1.1", published) == "2025.12.1"


def snapshot(kind):
    schema = {"type": "object", "properties": {"day": {"type": kind}}}
    return snapshot_from({"tools": [{"name": "list_tides", "description": "List.", "inputSchema": schema}]})


@pytest.mark.parametrize(
    ("after", "breaking", "honest"),
    [("string", False, False), ("string", True, True), ("number", False, True), ("number", True, True)],
)
def test_a_calendar_release_is_held_against_what_it_declares(after, breaking, honest):
    found = compare_snapshots(snapshot("integer"), snapshot(after))
    version = next_version("2026.10.2", "2026.11.0", found, scheme="calendar", breaking=breaking)
    assert (version.honest, version.is_honest) == (None, honest)
    assert bool(version.fault) is not honest
    base = Base("tides@2026.10.2", "2026.10.2", snapshot("integer"))
    context = Context(version="2026.11.0", base=base, scheme="calendar", breaking=breaking)
    found = assess(snapshot(after), context)
    assert ("version-too-low" in {one.gate for one in found.gates}) is not honest
    assert found.facts.version_honest is honest


def test_a_declaration_is_part_of_what_is_agreed_to():
    launches = parse_launches([])
    plain = release_digest("tides", "2026.11.0", "sha256:0", launches)
    assert plain == release_digest("tides", "2026.11.0", "sha256:0", launches, breaking=False)
    assert plain != release_digest("tides", "2026.11.0", "sha256:0", launches, breaking=True)
    inputs = [
        assess(snapshot("integer"), Context(version="2026.11.0", scheme="calendar", breaking=one)).inputs
        for one in (False, True)
    ]
    assert inputs[0]["version"] != inputs[1]["version"]


@pytest.mark.parametrize(("base", "declared"), [("2026.1.2.3", "3.0.0"), ("1.0.0", "2026.1.2.3")])
def test_where_a_side_is_not_semver_no_semver_number_is_honest(base, declared):
    found = compare_snapshots(snapshot("integer"), snapshot("string"))
    assert next_version(base, declared, found).honest is None
