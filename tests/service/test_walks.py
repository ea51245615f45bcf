"""Held-out walks over HTTP: what nobody may do, and the detours to agreeing to one's own release.

Every step goes through the API with a token, as an attacker of the process would. Each must be refused
with a reason, and the release must not be on the shelf afterwards.
"""

from __future__ import annotations

import itertools

import pytest
from django.db import transaction

from tallshelf.core.routing import REQUEST_STATES
from tallshelf.service.catalog.models import Server
from tallshelf.service.people import accounts, desks
from tallshelf.service.people import actions as people
from tallshelf.service.review.models import Request
from tests.service.conftest import agree_to, altered, submission

RELEASES = "servers/berth-planner/releases"


@pytest.fixture
def walk(api):
    """One submitted request, and a way to press everything on it as someone."""

    class Walk:
        def __init__(self) -> None:
            self.owner = api("tomas")
            _, self.request = self.owner.post(RELEASES, submission())
            self.number = self.request["id"]

        def sign(self, who: str, seen=None, **more):
            body = {**agree_to(seen or self.look("ines")), **more}
            return api(who).post(f"requests/{self.number}/sign-offs", body)

        def look(self, who: str):
            return api(who).get(f"requests/{self.number}")[1]

        def publish(self, who: str):
            return api(who).post(f"requests/{self.number}/publication")

    return Walk()


def refused(answer, *statuses: int) -> str:
    status, problem = answer
    assert status in (statuses or (403, 404, 409)), problem
    assert problem["detail"]
    return problem["detail"]


def on_shelf() -> bool:
    return Request.objects.filter(kind="publish", state__in=("agreed", "done")).exists()


def test_nobody_agrees_to_what_they_handed_in_whatever_hat_they_wear(walk, api):
    for who in ("tomas", "ci-berths", "mira", "jonas"):
        refused(walk.sign(who))
    accounts.change_account(people.SETUP, "tomas", {"role": "curator"})
    desks.seat_at_desk(people.SETUP, "curators", "tomas")
    assert "submitted" in refused(walk.sign("tomas"))
    assert not on_shelf()


def test_a_second_account_of_the_team_is_of_the_team(walk, api):
    second = people.add_person(people.SETUP, "tomas-two", "Tomas Eide", "reader", None, ["berths"])
    desks.seat_at_desk(people.SETUP, "security", "tomas-two")
    _, fresh = api("tomas").post(RELEASES, submission("1.5.0"))
    assert second.pk and walk.sign("ines")[0] == 200
    walk.number, walk.request = fresh["id"], fresh
    assert walk.sign("ines")[0] == 200
    assert "owner team berths" in refused(walk.sign("tomas-two"))
    assert Request.objects.get(pk=fresh["id"]).state == "open"


def test_a_token_signs_no_more_than_its_scopes_say(walk, api):
    body = agree_to(walk.look("ines"))
    for scopes in (("read",), ("read", "submit"), ("read", "check", "submit", "curate")):
        reply = api("ines", *scopes).post(f"requests/{walk.number}/sign-offs", body)
        assert "sign" in refused(reply, 403)


def test_a_new_snapshot_after_a_sign_off_voids_it_and_the_old_answer_cannot_be_replayed(walk, api):
    seen = walk.look("ines")
    assert walk.sign("ines", seen)[0] == 200
    other = altered(submission(), "Ignore what was agreed to.")
    assert walk.owner.post(RELEASES, {**other, "request": walk.number})[0] == 201
    refused(walk.sign("ines", seen), 409)
    refused(walk.sign("runa", seen), 409)
    refused(walk.publish("tomas"), 409)
    now = walk.look("ines")
    assert [one["voided"] for one in now["sign_offs"]] == [True]
    # Half of the old answer does not do either.
    refused(walk.sign("ines", {**now, "assessment": seen["assessment"]}), 409)
    refused(walk.sign("ines", {**now, "release_digest": seen["release_digest"]}), 409)
    assert not on_shelf()


def test_the_same_person_counts_once_however_many_desks_they_sit_at(api):
    desks.seat_at_desk(people.SETUP, "security", "ines")
    _, found = api("tomas").post(RELEASES, submission())
    path = f"requests/{found['id']}/sign-offs"
    assert api("ines").post(path, {**agree_to(found), "desk": "curators"})[0] == 200
    assert "answered" in refused(api("ines").post(path, {**agree_to(found), "desk": "security"}), 409)
    assert Request.objects.get().state == "open"


def test_joining_a_desk_or_being_named_deputy_comes_too_late_for_what_is_open(walk, api):
    desks.seat_at_desk(people.SETUP, "curators", "edda")
    assert "joined the desk after" in refused(walk.sign("edda"))
    body = {"deputy": "mira", "until": "2026-12-20T00:00:00Z"}
    assert api("ines").post("deputies", body)[0] in (201, 400)
    refused(walk.sign("mira"))
    assert api("tomas").post("deputies", {**body, "deputy": "tomas"})[0] == 400
    assert not on_shelf()


def test_nobody_seats_themselves_or_adds_a_desk_over_http(walk, api):
    for method, path in itertools.product(("POST", "PUT", "PATCH", "DELETE"), ("desks", "desks/curators")):
        assert api("ines").call(method, path, {})[0] in (404, 405)


def test_editing_the_rules_first_takes_a_second_curator_and_has_all_asked_anew(walk, api):
    easy = '[[rules]]\nname = "all"\ndesk = "curators"\nsign_offs = 0\nreason = "r"\n'
    refused(walk.owner.post("routing", {"text": easy, "note": "n"}), 403)
    _, proposed = api("ines").post("routing", {"text": easy, "note": "n"})
    assert proposed["state"] == "proposed"
    path = f"routing/versions/{proposed['version']}/answer"
    assert "second" in refused(api("ines").post(path, {"answer": "agree"}), 403, 409)
    assert walk.sign("ines")[0] == 200  # by the rules that are in force still
    assert api("oskar").post(path, {"answer": "agree"})[0] == 200
    assert "rules" in refused(walk.sign("runa"), 409)
    assert not on_shelf()


def test_two_press_publish_and_a_base_that_moved_is_looked_at_again(walk, api):
    _, lower = walk.owner.post(RELEASES, submission("1.4.1"))
    for who in ("ines", "runa"):
        walk.sign(who)
    assert walk.look("ines")["state"] == "agreed"
    mine, walk.number = walk.number, lower["id"]
    for who in ("ines", "runa"):
        walk.sign(who)
    assert walk.publish("tomas")[0] == 200
    walk.number = mine
    assert "base" in refused(walk.publish("tomas"), 409)
    assert walk.look("ines")["state"] == "open"
    for who in ("ines", "runa"):
        walk.sign(who)
    assert [walk.publish(who)[0] for who in ("tomas", "ines")] == [200, 200]
    assert Request.objects.get(pk=mine).state == "done"


def test_a_data_class_lowered_in_between_is_seen_by_who_signs(walk, api):
    assert walk.sign("ines")[0] == 200
    assert api("ines").call("PATCH", "servers/berth-planner", {"data_class": "restricted"})[0] == 200
    assert "server" in refused(walk.sign("runa"), 409)
    assert walk.look("ines")["moved"] == ["server"]
    # Written past the service it moves nothing that the ledger says, and nothing is agreed to by it.
    Server.objects.update(data_class="public")
    assert api("ines").post(f"requests/{walk.number}/assessment")[0] == 200
    assert walk.look("ines")["assessment"]["facts"]["data_class"] == "public"
    assert "server" in refused(walk.sign("ines"), 409)


ACTS = {
    "agree": lambda at, seen: (f"{at}/sign-offs", agree_to(seen)),
    "send-back": lambda at, seen: (f"{at}/sign-offs", {**agree_to(seen), "answer": "send-back", "note": "n"}),
    "decline": lambda at, seen: (f"{at}/sign-offs", {**agree_to(seen), "answer": "decline", "note": "n"}),
    "take-back": lambda at, _: (f"{at}/take-back", {}),
    "publish": lambda at, _: (f"{at}/publication", {}),
    "reassess": lambda at, _: (f"{at}/assessment", {}),
    "resubmit": lambda at, seen: (
        RELEASES,
        {**altered(submission(), "Another text for it."), "request": seen["id"]},
    ),
    "take": lambda at, _: (f"{at}/taking", {}),
    "comment": lambda at, _: (f"{at}/comments", {"text": "t"}),
    "question": lambda at, _: (f"{at}/comments", {"text": "t", "kind": "question"}),
}
# Who gets an act through, by the state of the request: the whole of it; all else is refused.
OWNERS, KEEPERS = {"tomas"}, {"ines", "oskar", "pell"}
SEES = OWNERS | KEEPERS | {"runa", "kari"}
LIVE = {"comment": SEES, "question": {"ines", "oskar", "runa", "kari"}, "take-back": OWNERS | KEEPERS}
THROUGH = {
    "open": {
        **LIVE,
        "agree": {"ines", "oskar"},
        "send-back": {"ines", "oskar"},
        "decline": {"ines", "oskar"},
        "take": {"ines", "oskar"},
        "reassess": SEES | {"ci-berths"},
        "resubmit": OWNERS | KEEPERS | {"ci-berths"},
    },
    # The same answer by the same person changes nothing, and is answered with what there is.
    "sent-back": {**LIVE, "send-back": {"ines"}, "resubmit": OWNERS | KEEPERS | {"ci-berths"}},
    "agreed": {
        **LIVE,
        "agree": {"ines", "runa"},
        "publish": OWNERS | KEEPERS | {"ci-berths"},
        "reassess": SEES | {"ci-berths"},
        "resubmit": OWNERS | KEEPERS | {"ci-berths"},
    },
    "done": {"publish": OWNERS | KEEPERS | {"ci-berths"}, "agree": {"ines", "runa"}},
    "declined": {"decline": {"ines"}},
    "taken-back": {"take-back": OWNERS | KEEPERS},
}
PEOPLE = ("tomas", "mira", "jonas", "ines", "oskar", "pell", "runa", "kari", "edda", "ci-berths")


def bring(walk, api, state: str) -> None:
    """Bring a fresh request into a state, by the acts that lead there."""
    steps = {
        "open": (),
        "sent-back": (("ines", "send-back"),),
        "agreed": (("ines", "agree"), ("runa", "agree")),
        "done": (("ines", "agree"), ("runa", "agree"), ("tomas", "publish")),
        "declined": (("ines", "decline"),),
        "taken-back": (("tomas", "take-back"),),
    }
    for who, act in steps[state]:
        path, body = ACTS[act](f"requests/{walk.number}", walk.look("ines"))
        status, problem = api(who).post(path, body)
        assert status == 200, problem
    assert walk.look("ines")["state"] == state


@pytest.mark.parametrize(("state", "act"), list(itertools.product(REQUEST_STATES, ACTS)))
def test_every_state_times_act_times_role(walk, api, state, act):
    bring(walk, api, state)
    let_through = set()
    for who in PEOPLE:
        path, body = ACTS[act](f"requests/{walk.number}", walk.look("ines"))
        with transaction.atomic():
            status, found = api(who).post(path, body)
            transaction.set_rollback(True)
        if status in (200, 201):
            let_through.add(who)
        else:
            assert status in (403, 404, 409) and found["detail"], (who, found)
    assert let_through == THROUGH[state].get(act, set())
