"""Overlaps: tables of pairs, laws of the score, groups, mix-ups, and what a ruling rests on."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tallshelf.core.overlap import (
    Entry,
    MemoryIndex,
    Overlap,
    Ruling,
    entries_of,
    find_overlaps,
    mix_ups,
    overlaps_among,
    server_pairs,
)
from tallshelf.core.overlap.rarity import PARTS, Rarity
from tallshelf.core.overlap.score import CLASSES, WEIGHTS, likeness_of, measured, score
from tallshelf.core.snapshot import Item, snapshot_from
from tests.core.lookalikes import LOOK_ALIKES, SAME_JOB, tool

NAMES = [one["name"] for pair in (*SAME_JOB, *LOOK_ALIKES) for one in pair]


def entry(source: str, body) -> Entry:
    return entries_of(source, snapshot_from({"tools": [body]}).items)[0]


def told(left, right) -> Overlap | None:
    found = overlaps_among([[entry("left", left)], [entry("right", right)]])
    return found[0] if found else None


def alike_of(a, b, rarity):
    return likeness_of(measured(a, rarity), measured(b, rarity))


def names(pair) -> str:
    return f"{pair[0]['name']} {pair[1]['name']}"


@pytest.mark.parametrize("pair", SAME_JOB, ids=names)
def test_the_same_job_in_other_words_is_near_at_least(pair):
    found = told(*pair)
    assert found is not None and found.cls in ("same-job", "near"), found
    assert found.reasons


def test_most_of_the_same_jobs_are_called_so():
    called = [told(*pair) for pair in SAME_JOB]
    assert sum(one is not None and one.cls == "same-job" for one in called) >= 0.7 * len(SAME_JOB)


@pytest.mark.parametrize("pair", LOOK_ALIKES, ids=names)
def test_a_look_alike_is_not_the_same_job(pair):
    found = told(*pair)
    assert found is None or found.cls != "same-job", found
    if found is not None:
        assert found.differences


BODIES = [one for pair in (*SAME_JOB, *LOOK_ALIKES) for one in pair]


@given(st.sampled_from(BODIES), st.sampled_from(BODIES))
def test_the_score_is_bounded_symmetric_and_whole_for_one_self(left, right):
    a, b = entry("a", left).profile, entry("b", right).profile
    rarity = Rarity([a, b])
    alike = alike_of(a, b, rarity)
    one, other = score(a, b, alike), score(b, a, alike_of(b, a, rarity))
    assert one.value == other.value
    assert one.cls == other.cls
    assert 0 <= one.value <= round(sum(WEIGHTS[part] * alike[part] for part in PARTS), 3) + 0.001 <= 1.002
    itself = score(a, a, alike_of(a, a, rarity))
    assert itself.cls == "same-job"
    assert not itself.apart


@given(st.lists(st.sampled_from(BODIES), min_size=1, max_size=12))
def test_an_index_finds_what_scoring_every_pair_finds(bodies):
    index = MemoryIndex(entry(f"s{number}", body) for number, body in enumerate(bodies))
    own = entry("own", bodies[0])
    found = {(one.b.source, one.score) for one in find_overlaps([own], index)}
    every = {
        (other.source, scored.value)
        for other in index.entries.values()
        for scored in [score(own.profile, other.profile, alike_of(own.profile, other.profile, index.rarity))]
        if scored.cls is not None
    }
    assert found == every


def test_entries_can_be_taken_out_again():
    one, other = (entry(source, SAME_JOB[0][0]) for source in ("one", "other"))
    index = MemoryIndex([one])
    before = index.version
    index.add(other)
    index.remove("other")
    assert index.version == before
    assert index.rarity.total == 1
    assert [found.b.source for found in find_overlaps([entry("x", SAME_JOB[0][1])], index)] == ["one"]


def test_reasons_can_be_checked_and_the_stand_in_is_told():
    found = told(*SAME_JOB[0])
    assert found is not None
    assert found.reasons[0] == "both are about crew member"
    assert any("staff_no / staff_number" in reason for reason in found.reasons)
    assert found.stands_in is False, "the parameter is called otherwise"
    same = told(SAME_JOB[0][0], {**SAME_JOB[0][0], "name": "fetch_crew_member"})
    assert same is not None and same.stands_in


def test_one_that_reads_and_one_that_writes_are_not_the_same_job():
    left, right = (dict(one) for one in SAME_JOB[0])
    left["annotations"], right["annotations"] = {"readOnlyHint": True}, {"readOnlyHint": False}
    found = told(left, right)
    assert found is not None and found.cls != "same-job"
    assert any("only reads" in one and "may write" in one for one in found.differences)


def test_a_tool_that_only_reads_what_a_resource_offers_is_told():
    resource = {
        "name": "tide-tables",
        "uri": "tides://tables",
        "description": "The tide tables of all ports for this year.",
    }
    snapshot = snapshot_from(
        {"format": "tallshelf.snapshot/1", "server": {}, "tools": [], "resources": [resource]}
    )
    index = MemoryIndex(entries_of("tides", snapshot.items))
    reader = tool("get_tide_tables: Get the tide tables of all ports for this year. ()")
    (found,) = find_overlaps([entry("own", reader)], index)
    assert found.b.item == "resource:tides://tables" and found.cls == "near"
    assert any("resource" in difference for difference in found.differences)


def test_within_one_server_and_never_with_its_older_release():
    items = snapshot_from({"tools": [SAME_JOB[0][0], SAME_JOB[0][1]]}).items
    own = entries_of("crew", items)
    index = MemoryIndex(entries_of("crew", items))
    (found,) = find_overlaps(own, index)
    assert {found.a.source, found.b.source} == {"crew"}


def test_what_the_names_of_a_server_have_in_common_says_nothing():
    bodies = [tool(f"pier_{one}: {one} something. ()") for one in ("list_ropes", "get_rope", "cut_rope")]
    items = [Item("tool", body["name"], body) for body in bodies]
    assert all("pier" not in one.profile.things for one in entries_of("pier", items))


def test_a_ruling_holds_until_what_was_compared_changes():
    left, right = SAME_JOB[0]
    found = told(left, right)
    assert found is not None
    ruling = Ruling(frozenset({found.a.basis, found.b.basis}), "keep-both", "two sources")

    def ruled(body) -> str | None:
        sources = [[entry("left", left)], [entry("right", body)]]
        return overlaps_among(sources, (ruling,))[0].ruled

    assert ruled(right) == "keep-both"
    assert ruled({**right, "title": "Crew", "annotations": {"idempotentHint": True}}) == "keep-both"
    assert ruled({**right, "description": "Look up a crew member, ashore ones too."}) is None


CREW = "Find a crew member by staff number{}. Returns name, rank and home port."


@pytest.mark.parametrize(
    ("names", "text", "cls"),
    [
        (("crew-roster", "crew-office"), "", "same-job"),
        (("xyla-crew", "zephra-roster"), "", "same-job"),
        (("xyla-crew", "zephra-roster"), " in {}", "near"),
    ],
    ids=["plain names", "what owners call their server", "a system that its texts name"],
)
def test_what_owners_call_a_server_hides_no_same_job_and_a_system_that_is_named_sets_apart(names, text, cls):
    sides = []
    for name in names:
        nick = name.partition("-")[0]
        body = {
            "name": f"{nick}_find_crew_member",
            "description": CREW.format(text.format(nick.capitalize())),
            "inputSchema": {"type": "object", "properties": {"staff_number": {"type": "string"}}},
        }
        more = tool(
            f"{nick}_list_rosters: List the rosters of a vessel{text.format(nick.capitalize())}. (!vessel)"
        )
        sides.append(entries_of(name, snapshot_from({"tools": [body, more]}).items, name))
    assert {one.cls for one in overlaps_among(sides) if "find" in one.a.item and "find" in one.b.item} == {
        cls
    }


def test_overlaps_are_gathered_by_the_two_servers_they_are_between():
    crew, ports = SAME_JOB[0], SAME_JOB[1]
    left = [entry("left", crew[0]), entry("left", ports[0])]
    found = overlaps_among(
        [left, [entry("right", crew[1]), entry("right", ports[0])], [entry("third", crew[1])]]
    )
    pairs = server_pairs(found)
    same = [one for one in pairs if one.cls == "same-job"]
    assert same[0].servers == ("left", "right"), "the most in common first"
    assert len(same[0].items_of("left")) == len(same[0].items_of("right")) == 2
    assert {one for pair in pairs for one in pair.overlaps} == {one for one in found if one.cls != "related"}
    assert all({one.a.source, one.b.source} == set(pair.servers) for pair in pairs for one in pair.overlaps)


def test_mix_ups_name_the_words_that_tell_apart():
    twins = [
        tool("find_sailing: Find sailings between two ports on a day. (!start, !end, !day)"),
        tool("list_sailings: List sailings between two ports on a day. (!start, !end, !day)"),
        tool("get_menu: Get what the galley cooks. ()"),
    ]
    items = [Item("tool", body["name"], body) for body in twins]
    (found,) = mix_ups(entries_of("ferry", items))
    assert {found.a.item, found.b.item} == {"tool:find_sailing", "tool:list_sailings"}
    assert found.risk > 0.6
    told_apart = mix_ups(
        entries_of(
            "ferry",
            [
                items[0],
                replace(
                    items[1],
                    body={**twins[1], "description": "List cancelled crossings of this week. "},
                ),
            ],
        )
    )
    assert not told_apart or told_apart[0].risk < found.risk


def test_classes_go_down():
    assert [least for least, _ in CLASSES] == sorted((least for least, _ in CLASSES), reverse=True)
