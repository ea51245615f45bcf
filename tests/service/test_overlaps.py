"""Overlaps in service: one index in many forms, the work-list, rulings, and what they move."""

from __future__ import annotations

import copy
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.core.overlap import MemoryIndex, entries_of, find_overlaps
from tallshelf.core.snapshot import snapshot_from
from tallshelf.run.scenario import history
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.player import agree
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import overlap
from tallshelf.service.catalog.models import StoredProfiles
from tallshelf.service.catalog.overlap import sparse
from tallshelf.service.catalog.overlap.packed import PutBy, packed
from tallshelf.service.catalog.overlap.stored import entries_from
from tallshelf.service.review import actions as review
from tests.core.lookalikes import LOOK_ALIKES, SAME_JOB

BODIES = [one for pair in (*SAME_JOB, *LOOK_ALIKES) for one in pair]
CREW, CERTIFICATES = "crew-roster#tool:find_crew_member", "crew-certificates#tool:lookup_crew_member"


def entries(source, bodies):
    unique = {body["name"]: body for body in bodies}
    return entries_of(source, snapshot_from({"tools": list(unique.values())}).items)


def answers(own, index):
    return [(one.b.source, one.b.item, one.score, one.cls, one.reasons) for one in find_overlaps(own, index)]


@settings(max_examples=40)
@given(
    st.lists(st.lists(st.sampled_from(BODIES), min_size=1, max_size=6), min_size=1, max_size=8),
    st.lists(st.sampled_from(BODIES), min_size=1, max_size=3),
    st.integers(0, 7),
)
def test_sparse_products_change_no_answer_and_growing_is_like_making_anew(servers, asked, gone):
    kept = [(f"s{at}", bodies) for at, bodies in enumerate(servers) if at != gone]
    plain = MemoryIndex(one for source, bodies in kept for one in entries(source, bodies))
    items = {each.digest: each.item for bodies in servers for each in entries("s", bodies)}
    grown = sparse.SparseIndex(read_item=items.__getitem__)
    for at, bodies in enumerate(servers):
        grown.add_all(entries(f"s{at}", bodies))
        if at == len(servers) // 2:
            grown._settle()
    grown.remove(f"s{gone}")
    anew = sparse.SparseIndex(read_item=items.__getitem__)
    anew.add_all(one for source, bodies in kept for one in entries(source, bodies))
    anew._settle()
    own = entries("own", asked)
    assert answers(own, plain) == answers(own, grown) == answers(own, anew)


def test_entries_stay_in_memory_where_the_disk_takes_no_more(monkeypatch):
    def full(*_, **__):
        raise OSError(28, "No space left on device")

    there = PutBy()
    before = there.put(b"before")
    monkeypatch.setattr("os.pwrite", full)
    (one,) = entries("s", BODIES[:1])
    assert packed(one, there, lambda _: one.item).entry().profile.document() == one.profile.document()
    assert there.get(before) == b"before"
    monkeypatch.setattr("tempfile.TemporaryFile", full)
    assert PutBy().get(PutBy().put(b"all")) == b"all"


def test_what_was_taken_out_of_an_index_is_not_put_by_for_ever():
    made = entries("s", BODIES)
    items = {each.digest: each.item for each in made}
    index = sparse.SparseIndex(made, read_item=items.__getitem__)
    before = answers(entries("own", BODIES[:2]), index)
    held = index._put_by.size
    for _ in range(10):
        index.remove("s")
        index.add_all(made)
        index._settle()
    assert index._put_by.size <= 2 * held
    assert answers(entries("own", BODIES[:2]), index) == before != []


@given(st.sampled_from(BODIES))
def test_a_stored_profile_is_read_back_whole(body):
    (one,) = entries("s", [body])
    kept = [[one.identity, one.digest, one.profile.document(), "2026-05-07"]]
    as_kept, as_text = entries_from("s", kept), entries_from("s", json.dumps(kept))
    for again in (*as_kept, *as_text, packed(one, PutBy(), lambda _: one.item).entry()):
        assert (again.identity, again.digest) == (one.identity, one.digest)
        assert again.profile.document() == one.profile.document()
        assert again.profile.named == one.profile.named


_ODD = [None, True, 5, 1.5, "", "string", [], ["string", 5], [["x"]], {}, {"a": 1}, "\u00e9\U0001f600"]


@given(
    st.dictionaries(
        st.sampled_from(
            ["type", "enum", "const", "format", "description", "items", "properties", "required"]
        ),
        st.sampled_from(_ODD),
    ),
    st.sampled_from(["inputSchema", "outputSchema"]),
    st.sampled_from(_ODD),
)
def test_whatever_a_server_declares_its_profile_can_be_kept_and_read(said, where, hint):
    body = {"name": "get_berth", "description": "Gets it.", "annotations": {"readOnlyHint": hint}}
    body |= {"inputSchema": {"type": "object"}, where: {"type": "object", "properties": {"x": said}}}
    (one,) = entries("s", [body])
    (again,) = entries_from("s", json.dumps([[one.identity, one.digest, one.profile.document(), ""]]))
    opened = packed(one, PutBy(), lambda _: one.item).entry()
    assert again.profile.document() == opened.profile.document() == one.profile.document()


@pytest.fixture
def roster(company):
    """The crew roster and the certificates, both published: each looks up a crew member."""
    ines = history.actor("ines")
    for slug, version, who in (
        ("crew-roster", "2.1.0", "mira"),
        ("crew-certificates", "0.3.0", "mira"),
    ):
        owner = history.actor(who)
        catalog.enrol_server(owner, slug, title=slug, team="crew", contact="c")
        snapshot = without_orders(slug, version)
        one = review.read_submission(owner, snapshot, version, [])
        request = review.submit(owner, slug, one)[0]
        agree(request, ("oskar", "runa", "kari"))
        review.publish(owner, request.pk)
    return ines


def without_orders(slug: str, version: str) -> dict:
    """What a server declares, without the text that gives a model orders: nobody would agree to that."""
    snapshot = copy.deepcopy(declared(slug, version))
    for tool in snapshot["tools"]:
        if tool["name"] == "list_expiring_certificates":
            tool["description"] = "List the certificates that run out by a day."
    return snapshot


def only(api, **query):
    asked = "&".join(f"{name}={value}" for name, value in query.items())
    return [
        one
        for one in api("ines").get(f"overlaps?{asked}")[1]["groups"]
        if {f"{member['server']}#{member['item']}" for member in one["members"]} == {CREW, CERTIFICATES}
    ]


def test_a_ruling_is_proposed_agreed_to_by_another_and_takes_the_overlap_off_the_list(api, roster):
    (group,) = only(api, state="open")
    assert group["class"] == "same-job" and group["overlaps"][0]["stands_in"] is not None
    told = {one["server"]: (one["team"], one["alike"], one["items"]) for one in group["servers"]}
    assert told == {"crew-roster": ("crew", 1, 3), "crew-certificates": ("crew", 1, 3)}
    pairs = [one["pair"] for one in group["overlaps"]]
    body = {"pairs": pairs, "word": "prefer", "reason": "the crew office keeps it", "preferred": CREW}
    assert api("mira").post("rulings", body)[0] == 403
    assert api("ines").post("rulings", {**body, "preferred": "x#tool:y"})[0] in (400, 422)
    status, made = api("ines").post("rulings", body)
    assert (status, made["state"], made["members"]) == (201, "proposed", sorted([CREW, CERTIFICATES]))
    assert api("ines").post("rulings", body)[1]["id"] == made["id"]
    assert api("oskar").post("rulings", {**body, "word": "distinct", "preferred": ""})[0] == 409
    assert only(api, state="open"), "a proposal settles nothing"
    assert api("ines").post(f"rulings/{made['id']}/answer", {"answer": "agree"})[0] == 403
    assert api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})[1]["state"] == "in force"
    assert not only(api, state="open")
    assert only(api, state="ruled")[0]["ruling"]["preferred"] == CREW
    seen = api("mira").get("servers/crew-certificates/releases/current/overlaps")[1]["overlaps"]
    assert "prefer" in [one["ruled"] for one in seen if one["b"]["server"] == "crew-roster"]
    hits = api("mira").get("find?q=lookup crew member")[1]["results"]
    assert {hit["server"]: hit["preferred"] for hit in hits}["crew-certificates"] == CREW
    ended = api("ines").post(f"rulings/{made['id']}/answer", {"answer": "end", "note": "merged"})
    assert ended[1]["state"] == "ended"
    assert only(api, state="open")


def test_a_ruling_moves_open_requests_of_its_servers_only(api, roster):
    mira = history.actor("mira")
    one = review.read_submission(mira, without_orders("crew-certificates", "0.3.0"), "0.3.1", [])
    request = review.submit(mira, "crew-certificates", one)[0]
    other = review.read_submission(history.actor("tomas"), declared("berth-planner", "1.4.2"), None, [])
    elsewhere = review.submit(history.actor("tomas"), "berth-planner", other)[0]
    before = api("ines").get(f"requests/{request.pk}")[1]
    assert before["assessment"]["facts"]["same_job_overlaps"] == 1
    (group,) = only(api)
    body = {"pairs": [group["overlaps"][0]["pair"]], "word": "keep-both", "reason": "two sources"}
    made = api("ines").post("rulings", body)[1]
    api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    assert api("ines").get(f"requests/{request.pk}")[1]["moved"] == ["rulings"]
    assert api("ines").get(f"requests/{elsewhere.pk}")[1]["moved"] == []
    after = api("ines").post(f"requests/{request.pk}/assessment")[1]
    assert after["assessment"]["facts"]["same_job_overlaps"] == 0


def test_a_whole_server_may_be_preferred_and_what_is_merely_near_waits_for_nobody(api, roster):
    (group,) = only(api)
    body = {
        "pairs": [group["overlaps"][0]["pair"]],
        "word": "prefer",
        "reason": "r",
        "preferred": "crew-roster",
    }
    assert api("ines").post("rulings", {**body, "preferred": "berth-planner"})[0] in (400, 422)
    made = api("ines").post("rulings", body)[1]
    api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    hits = api("mira").get("find?q=crew member by name")[1]["results"]
    preferred = {f"{hit['server']}#{hit['item']}": hit["preferred"] for hit in hits}
    assert preferred[CERTIFICATES] == "crew-roster" and preferred[CREW] == ""
    assert all(one["class"] == "same-job" for one in api("ines").get("overlaps?state=open")[1]["groups"])
    between = [one for one in api("ines").get("overlaps")[1]["groups"] if len(one["servers"]) != 2]
    within = [one for one in api("ines").get("overlaps?within=true")[1]["groups"] if len(one["servers"]) != 1]
    assert not between and not within


def test_a_merge_has_an_owner_and_a_day_and_is_followed_up(api, roster):
    (group,) = only(api)
    body = {"pairs": [group["overlaps"][0]["pair"]], "word": "merge", "reason": "one is enough"}
    assert api("ines").post("rulings", body)[0] in (400, 422)
    made = api("ines").post("rulings", {**body, "owner": "Mira Holt", "due": "2020-01-31"})[1]
    api("oskar").post(f"rulings/{made['id']}/answer", {"answer": "agree"})
    (late,) = api("ines").get("rulings?state=overdue")[1]["results"]
    assert late["overdue"] and late["owner"] == "Mira Holt"


def test_dry_runs_mix_ups_and_the_map(api, roster):
    snapshot = declared("crew-certificates", "0.3.0")
    status, found = api("mira").post("overlaps", {"snapshot": snapshot, "server": "crew-certificates"})
    assert status == 200
    assert found["overlaps"][0]["b"]["item"] == "tool:find_crew_member"
    status, found = api("edda").post("mix-ups", {"items": [CREW, CERTIFICATES, "crew-roster"]})
    assert {one["b"]["item"] for one in found["mix_ups"]} >= {"tool:lookup_crew_member"} or found["mix_ups"]
    assert api("edda").post("mix-ups", {"items": ["crew-roster#tool:none"]})[0] == 404
    drawn = api("edda").get("overlap-map")[1]
    assert all(0 <= point["x"] <= 1 and 0 <= point["y"] <= 1 for point in drawn["points"])
    edge = next(one for one in drawn["edges"] if one["same_job"])
    ends = {drawn["points"][edge[end]]["item"] for end in ("a", "b")}
    assert ends == {"tool:find_crew_member", "tool:lookup_crew_member"}


def test_profiles_of_an_older_version_are_made_anew(api, roster):
    before = overlap.catalog_index().version
    StoredProfiles.objects.update(method=0)
    overlap.forget()
    assert overlap.catalog_index().version == before
    assert len(overlap.catalog_index()) > 5
    assert only(api)


def submitted_with(api, slug, version, **edit):
    """The gate of overlaps, if it fails for a next release of a server with its look-up altered, and its same jobs."""
    body = without_orders(slug, PUBLISHED[slug])
    next(one for one in body["tools"] if one["name"] == LOOKS_UP[slug]).update(edit)
    made = api("mira").post(f"servers/{slug}/releases", {"version": version, "snapshot": body})[1]
    found = made["assessment"]
    return [one["gate"] for one in found["gates"] if "overlap" in one["gate"]], found["facts"][
        "same_job_overlaps"
    ]


PUBLISHED = {"crew-roster": "2.1.0", "crew-certificates": "0.3.0"}
LOOKS_UP = {"crew-roster": "find_crew_member", "crew-certificates": "lookup_crew_member"}


def test_only_the_newer_of_two_waits_for_a_ruling(api, roster):
    (pair,) = [one for one in overlap.found_overlaps() if one.cls == "same-job"]
    later = pair.a if pair.newcomer == "a" else pair.b
    assert f"{later.source}#{later.item}" == CERTIFICATES and later.since
    assert submitted_with(api, "crew-roster", "2.1.1") == ([], 0), "an urgent fix of the older passes"
    assert submitted_with(api, "crew-certificates", "0.3.1") == (["unruled-overlap"], 1)


def test_a_new_name_or_another_job_makes_an_item_the_newer_one(api, roster):
    fresh = "Find a member of the crew by name or number, with rank and vessel, newest first."
    assert submitted_with(api, "crew-roster", "2.2.0", description=fresh)[1] == 1


def test_since_when_is_the_same_by_what_is_kept_and_by_walking_the_history(api, roster):
    text = "Find one member of the crew by name or number."
    for version, edit in (("2.1.1", {}), ("2.1.2", {"title": "Find crew"}), ("2.2.0", {"description": text})):
        body = without_orders("crew-roster", "2.1.0")
        next(one for one in body["tools"] if one["name"] == LOOKS_UP["crew-roster"]).update(edit)
        one = review.read_submission(history.actor("mira"), body, version, [])
        request = review.submit(history.actor("mira"), "crew-roster", one)[0]
        agree(request, ("oskar", "runa", "kari"))
        review.publish(history.actor("mira"), request.pk)
        kept = StoredProfiles.objects.get(server__slug="crew-roster")
        quick = [[name, since] for name, _, _, since in kept.profiles]
        StoredProfiles.objects.filter(pk=kept.pk).delete()
        overlap.keep_profiles(kept.server)
        walked = StoredProfiles.objects.get(server__slug="crew-roster")
        assert [[name, since] for name, _, _, since in walked.profiles] == quick
        moments = dict(quick)
        first = moments["tool:find_crew_member"]
        assert (first == walked.server.current.published_at.isoformat()) is (version == "2.2.0")
