"""A house's terms are read as what it prefers: that moves nothing, and reads no other difference away."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.overlap import entries_of, overlaps_among
from tallshelf.core.snapshot import snapshot_from
from tallshelf.core.style import DEFAULT_STYLE, HouseStyle, WordList, loosened, parse_style
from tallshelf.core.words.difference import text_difference
from tallshelf.core.words.read_as import terms_of

HOUSE = parse_style("""\
name = "pellam"
[words]
banned = { slip = "berth", pax = "passengers", quay_side = "berth front" }
abbreviations = { ets = "estimated time of sailing", dwt = "deadweight tonnes", nm = "" }
""")
TERMS = HOUSE.terms


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("Find a free slip for a vessel.", "Find a free berth for a vessel."),
        ("Lists the slips of a port.", "Lists the berths of a port."),
        ("Counts pax of a sailing.", "Counts passengers of a sailing."),
        ("Returns the ETS of a sailing.", "Returns the estimated time of sailing of a sailing."),
        ("The load, in dwt.", "The load, in deadweight tonnes."),
        ("Lists what lies at the quay side.", "Lists what lies at the berth front."),
        ("Lists what lies at `quay_side`.", "Lists what lies at `berth front`."),
    ],
)
def test_one_term_for_another_moves_nothing(old, new):
    assert text_difference(old, new, TERMS).meaning == "worded"
    assert text_difference(new, old, TERMS).meaning == "worded"
    assert text_difference(old, old, TERMS).meaning == "same"


@pytest.mark.parametrize(
    ("old", "new", "moved"),
    [
        ("The load, in dwt.", "The load, in deadweight kilograms.", "unit"),
        ("Frees a slip of 20 metres.", "Frees a berth of 20 feet.", "unit"),
        ("Lists the slips at most 20 long.", "Lists the berths at least 20 long.", "scope"),
        ("Lists the slips before a day.", "Lists the berths after a day.", "scope"),
        ("Lists 20 slips.", "Lists 30 berths.", "limit"),
        ("Lists the slips.", "Lists the berths and deletes them.", "effect"),
        ("A slip holds a vessel.", "A vessel holds a berth.", "scope"),
    ],
)
def test_what_else_moved_is_told_all_the_same(old, new, moved):
    assert text_difference(old, new, TERMS).meaning == moved


_WORDS = "the slip berth pax ets sailing of a port is free 20 metres not before Slips SLIP"
_PHRASES = st.lists(st.sampled_from(_WORDS.split()), max_size=12).map(" ".join)


@given(_PHRASES)
def test_a_text_written_by_the_house_is_the_same_and_is_written_so_once(text):
    written = TERMS.written(text)
    assert TERMS.written(written) == written
    assert text_difference(text, written, TERMS).meaning in ("same", "worded")


@given(_PHRASES, _PHRASES)
def test_no_difference_between_texts_without_terms_is_read_otherwise(old, new):
    old, new = TERMS.written(old), TERMS.written(new)
    assert text_difference(old, new, TERMS) == text_difference(old, new)


@pytest.mark.parametrize(
    ("term", "instead"),
    [
        ("delete", "archive"),
        ("deleted", "archived"),
        ("send", "draft"),
        ("all", "any"),
        ("metres", "feet"),
        ("oldest", "newest"),
        ("cannot", "can"),
        ("before", "after"),
        ("at most", "at least"),
        ("file3", "file4"),
        ("mean", "median"),
        ("open", "close"),
        ("must", "may"),
        ("x-y.z", "w"),
        ("(", ")"),
        ("", "berth"),
        ("a" * 90, "berth"),
    ],
)
def test_a_term_that_would_read_a_difference_away_is_banned_only(term, instead):
    assert not terms_of({term: instead}, {})
    assert not loosened(DEFAULT_STYLE, HouseStyle(words=WordList(banned={term: instead})))


def test_what_is_newly_read_as_the_same_loosens_and_what_no_longer_is_does_not():
    told = loosened(DEFAULT_STYLE, HOUSE)
    assert [one for one in told if one.startswith("read")] == [
        "read as the same: dwt and deadweight tonnes",
        "read as the same: ets and estimated time of sailing",
        "read as the same: pax and passengers",
        "read as the same: quay side and berth front",
        "read as the same: slip and berth",
    ]
    assert loosened(HOUSE, HOUSE) == ()
    fewer = parse_style(
        'name = "pellam"\n[words]\nbanned = { slip = "berth", pax = "passengers", quay_side = "x" }'
    )
    assert [one for one in loosened(HOUSE, fewer) if one.startswith("read")] == [
        "read as the same: quay side and x"
    ]


def test_an_abbreviation_may_be_listed_or_spelled_out():
    listed = parse_style('name = "x"\n[words]\nabbreviations = ["ets"]')
    assert listed.words.abbreviations == ("ets",) and not listed.terms
    assert HOUSE.words.abbreviations == ("ets", "dwt", "nm") and "nm" not in HOUSE.words.spelled
    only = HouseStyle("pellam", words=HOUSE.words, agreed=frozenset({("slip", "berth")}))
    assert only.terms.pairs == (("slip", "berth"),) and only.digest == HOUSE.digest
    assert not HouseStyle(words=HOUSE.words, agreed=frozenset()).terms


def tool(name, description, parameter):
    return {
        "name": name,
        "description": description,
        "inputSchema": {
            "type": "object",
            "properties": {parameter: {"type": "string", "description": "Which slip."}},
        },
    }


def declared(term, time):
    one = tool("free_one", f"Free a {term} by its {time}.", "of")
    one["inputSchema"]["properties"]["of"]["description"] = f"Which {term}."
    server = {"instructions": f"Name the {term}."}
    return snapshot_from({"format": "tallshelf.snapshot/1", "server": server, "tools": [one]})


def test_a_comparison_reads_items_and_instructions_by_it():
    sides = declared("slip", "ETS"), declared("berth", "estimated time of sailing")
    read = compare_snapshots(*sides, terms=TERMS).changes
    assert {(change.kind, change.impact) for change in read} == {("description-reworded", "compatible")}
    assert {change.item for change in read} == {"server", "tool:free_one"} and len(read) == 3
    assert any(change.silent for change in compare_snapshots(*sides).changes)


def test_two_jobs_in_two_terms_are_one_job():
    pair = [
        snapshot_from({"tools": [tool("reserve_slip", "Reserve a slip for a vessel.", "slip_id")]}),
        snapshot_from({"tools": [tool("reserve_berth", "Reserve a berth for a vessel.", "berth_id")]}),
    ]

    def found(*terms):
        named = zip("ab", pair, strict=True)
        return overlaps_among([entries_of(name, one.items, name, None, *terms) for name, one in named])

    assert [one.cls for one in found(TERMS)] == ["same-job"]
    assert "same-job" not in [one.cls for one in found()]
    bases = [entry.profile.basis for one in pair for entry in entries_of("a", one.items, "", None, TERMS)]
    assert bases == [entry.profile.basis for one in pair for entry in entries_of("a", one.items)], (
        "rulings stand"
    )


def test_what_two_texts_share_is_told_as_it_is_written():
    made = [tool(name, "Look up the slip of a vessel.", "slip_id") for name in ("get_slip", "fetch_slip")]
    sources = [
        entries_of(one["name"], snapshot_from({"tools": [one]}).items, "", None, TERMS) for one in made
    ]
    (one,) = overlaps_among(sources)
    assert any("“slip”" in why for why in one.reasons) and not any("berth" in why for why in one.reasons)
