"""Kits on the shelf: who puts them, what they are refused for, how they follow releases, and whom one hits."""

from __future__ import annotations

import pytest

from tallshelf.core.errors import BadDocument, Conflict, Denied, InputsMoved
from tallshelf.core.ledger.events import Event
from tallshelf.run.scenario import history, player
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.kits import actions, queries
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredLock, StoredRaise
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import accounts
from tallshelf.service.review import actions as review
from tallshelf.service.verifying import verify
from tests.service.conftest import KIT, LAUNCH, altered, submission, work

HIGHER = KIT.replace('"internal"', '"restricted"')


def put(who: str = "tomas", text: str = KIT, **more):
    return actions.put_kit(history.actor(who), text, **more)


def publish(version: str, body: dict) -> None:
    """Publish a release of the berth planner, whatever is found in it; then let jobs run."""
    tomas = history.actor("tomas")
    one = review.read_submission(tomas, body["snapshot"], version, [LAUNCH])
    request = review.submit(tomas, "berth-planner", one)[0]
    player.agree(request)
    review.publish(tomas, request.pk)
    work()


def held(name: str = "berth-helper") -> dict[str, str]:
    return queries.lock_of(queries.kit(name)).versions


def holds_in_the_ledger() -> bool:
    report = verify()
    return report.holds or pytest.fail("\n".join([*report.refused, *report.differences]))


def test_a_kit_is_put_read_put_anew_and_dropped(api, published):
    published("1.4.1")
    tomas, runa = api("tomas"), api("runa")
    assert tomas.post("kits", {"text": KIT}) == (
        201,
        {
            "name": "berth-helper",
            "state": "put",
            "digest": queries.kit("berth-helper").digest,
            "raises": False,
            "waits_for": [],
        },
    )
    assert tomas.post("kits", {"text": KIT})[1]["state"] == "as it was"
    status, kit = runa.get("kits/berth-helper")
    assert status == 200 and (kit["held_items"], kit["servers"], kit["problems"]) == (1, 1, [])
    assert [(one["item"], one["version"], one["effect"]) for one in kit["lock"]] == [
        ("tool:find_free_berth", "1.4.1", "reads")
    ]
    assert not kit["may_keep"] and kit["history"][0]["by"]
    more = KIT.replace('["find_free_berth"]', '["find_free_berth", "book_berth"]')
    assert tomas.post("kits", {"text": more})[0] == 200
    _, kit = runa.get("kits/berth-helper")
    assert [one["number"] for one in kit["history"]] == [2, 1]
    assert kit["history"][0]["moves"][0]["gained"] == ["tool:book_berth"]
    _, page = runa.get("kits?server=berth-planner&item=tool:book_berth&team=berths")
    assert [one["name"] for one in page["results"]] == ["berth-helper"]
    assert runa.get("kits?server=tide-tables")[1]["results"] == []
    _, by_release = runa.get("servers/berth-planner/kits")
    assert by_release["results"][0]["kits"][0]["held"] == ["tool:book_berth", "tool:find_free_berth"]
    assert tomas.post("kits/berth-helper/drop", {"reason": "Done with it."})[0] == 200
    assert runa.get("kits/berth-helper")[0] == 404 and not HeldItem.objects.exists()
    assert tomas.post("kits", {"text": KIT})[0] == 201 and StoredLock.objects.count() == 3
    assert holds_in_the_ledger()


def test_what_cannot_be_is_refused_whole_with_line_and_key(api, published):
    published("1.4.1")
    wrong = KIT.replace("find_free_berth", "find_free_berths").replace("budget = 4000", "budget = 5")
    status, problem = api("tomas").post("kits", {"text": wrong})
    assert status == 422
    assert (
        "line 12, key picks[0].items" in problem["detail"]
        and "nearest: tool:find_free_berth" in problem["detail"]
    )
    assert [one["pointer"] for one in problem["errors"]] == ["/picks/0/items"]
    status, problem = api("tomas").post("kits", {"text": KIT.replace("budget = 4000", "budget = 5")})
    assert status == 422 and "line 6, key budget: it takes about" in problem["detail"]
    assert not StoredKit.objects.exists() and not Entry.objects.filter(event="kit-put").exists()


def test_a_kit_belongs_to_its_team_and_never_to_a_ci_account(api, published):
    published("1.4.1")
    put()
    status, problem = api("jonas").post("kits", {"text": KIT.replace('"berths"', '"ticketing"')})
    assert status == 403 and "is of the team berths" in problem["detail"]
    assert api("jonas").post("kits", {"text": KIT.replace("berth-helper", "mine")})[0] == 403
    assert api("ci-berths").post("kits", {"text": KIT + "\n# anew\n"})[0] == 403
    assert api("runa").post("kits/berth-helper/drop", {"reason": "r"})[0] == 403
    assert api("ines").post("kits", {"text": KIT.replace('"berths"', '"ticketing"', 1)})[0] == 200
    assert api("tomas").post("kits/berth-helper/moves")[0] == 403  # it went to another team


def test_members_of_a_team_keep_its_kits_whatever_their_role(published):
    published("1.4.1")
    accounts.change_account(history.actor("pell"), "edda", {"teams": ["berths"]})
    assert put("edda").made


def test_a_higher_data_class_takes_a_second_curator(api, published):
    published("1.4.1")
    assert api("ines").post("kits", {"text": HIGHER})[0] == 400  # why?
    _, found = api("ines").post("kits", {"text": HIGHER, "reason": "Crew names."})
    assert found["state"] == "proposed" and not StoredKit.objects.exists()
    assert api("ines").post("kits/berth-helper/answer", {"answer": "agree"})[0] == 403
    assert api("tomas").post("kits/berth-helper/answer", {"answer": "agree"})[0] == 403
    (waiting,) = api("oskar").get("kit-proposals")[1]["results"]
    assert (waiting["name"], waiting["may_answer"], waiting["reason"]) == (
        "berth-helper",
        True,
        "Crew names.",
    )
    assert api("oskar").post("kits/berth-helper/answer", {"answer": "agree"})[0] == 200
    assert api("oskar").post("kits/berth-helper/answer", {"answer": "agree"})[0] == 200  # the same again
    assert queries.kit("berth-helper").data_class == "restricted"
    assert put("tomas", KIT).changed  # a lower one asks nobody
    _, found = api("tomas").post("kits", {"text": HIGHER, "reason": "Again."})
    assert found["state"] == "proposed" and queries.kit("berth-helper").data_class == "internal"
    assert api("oskar").post("kits/berth-helper/answer", {"answer": "decline", "note": "No names."})[0] == 200
    assert holds_in_the_ledger()


def test_the_judge_lets_no_kit_see_more_and_hold_what_is_not_approved(published, submitted):
    published("1.4.1")
    submitted("1.5.0")
    put()
    lock = queries.lock_of(queries.kit("berth-helper"))
    told = {
        "kit": "berth-helper",
        "team": "berths",
        "data_class": "internal",
        "kit_digest": "sha256:x",
        "picks": [{"server": "berth-planner", "version": "^1.4", "items": ["tool:find_free_berth"]}],
        "lock_digest": "sha256:y",
        "lock": [
            {name: one[name] for name in ("server", "version", "release_digest", "item", "item_digest")}
            for one in lock.document()["items"]
        ],
    }
    other = {"lock": [{**told["lock"][0], "release_digest": "sha256:z"}]}
    draft = {"lock": [{**told["lock"][0], "version": "1.5.0"}]}
    unpicked = {"lock": [{**told["lock"][0], "item": "tool:book_berth"}]}
    for wrong, error in (
        ({"data_class": "restricted"}, Denied),
        (other, InputsMoved),
        (draft, InputsMoved),
        (unpicked, Conflict),
    ):
        with pytest.raises(error):
            record(history.actor("tomas"), Event.KIT_PUT, {**told, **wrong})
    with pytest.raises(Denied):
        record(history.actor("jonas"), Event.KIT_PUT, told)
    with pytest.raises(Denied):
        record(history.actor("ci-berths"), Event.KIT_PUT, told)
    with pytest.raises(Conflict, match="has moved since"):
        record(history.actor("tomas"), Event.KIT_MOVED, {
            "kit": "berth-helper", "before": "sha256:no", "because": "", "lock": told["lock"], "lock_digest": "sha256:y"
        })  # fmt: skip


def test_a_kit_follows_what_fits_it_and_nothing_that_breaks_it(api, published):
    published("1.4.1")
    put()
    publish("1.4.3", altered(submission("1.4.3"), "Find a berth that is free."))
    assert held() == {"berth-planner": "1.4.3"}
    last = queries.kit("berth-helper").lock
    assert (last.by, last.because) == (None, "moved by itself")
    broken = submission("1.4.4")
    tool = next(one for one in broken["snapshot"]["tools"] if one["name"] == "find_free_berth")
    tool["inputSchema"]["required"] = [*tool["inputSchema"]["properties"]]
    tool["inputSchema"]["properties"] |= {"sworn": {"type": "boolean"}}
    tool["inputSchema"]["required"].append("sworn")
    publish("1.5.0", broken)
    assert held() == {"berth-planner": "1.4.3"}
    (behind,) = api("runa").get("kits/berth-helper")[1]["behind"]
    assert (behind["holds"], behind["takes"], behind["word"]) == ("1.4.3", "1.5.0", "breaking")
    assert "tool:find_free_berth" in behind["why"] and behind["hit_items"][0]["witness"] is not None
    (hit,) = api("runa").get("comparison?old=berth-planner@1.4.3&new=berth-planner@1.5.0")[1]["kits"]
    assert (hit["kit"], hit["word"], [one["item"] for one in hit["hit_items"]]) == (
        "berth-helper", "breaking", ["tool:find_free_berth"]
    )  # fmt: skip
    status, check = api("ci-berths").post("kit-check", {"text": KIT})
    assert status == 200 and not check["passed"] and "is now required (breaking)" in check["because"][0]
    status, moved = api("tomas").post("kits/berth-helper/moves", {"to": "berth-planner@1.5.0"})
    assert status == 200 and moved["moved"] and held() == {"berth-planner": "1.5.0"}
    assert api("ci-berths").post("kit-check", {"text": KIT})[1]["passed"]
    assert api("tomas").post("kits/berth-helper/moves", {"to": "berth-planner@1.4.1"})[1]["moved"]  # and back
    assert api("tomas").post("kits/berth-helper/moves", {"to": "berth-planner@9.0.0"})[0] == 409
    assert api("tomas").post("kits/berth-helper/moves", {"to": "tide-tables@1.0.0"})[0] == 404
    assert holds_in_the_ledger()


def test_a_kit_that_moves_by_hand_or_would_go_over_its_budget_stays(published):
    published("1.4.1")
    put("tomas", KIT.replace('title = "A', 'moves = "never"\ntitle = "A'))
    tokens = queries.kit("berth-helper").lock.tokens
    put("tomas", KIT.replace("berth-helper", "thrifty").replace("4000", str(tokens + 2)))
    publish("1.4.3", altered(submission("1.4.3"), "Find a berth that is free. " + "The quay is named. " * 6))
    assert held() == held("thrifty") == {"berth-planner": "1.4.1"}
    (behind,) = queries.state_of(queries.kit("thrifty")).behind
    assert "and the budget is" in behind.why
    actions.move_kit(history.actor("tomas"), "thrifty")  # whoever keeps it may
    (problem,) = queries.state_of(queries.kit("thrifty")).problems
    assert problem.kind == "over-budget"


def test_a_kit_shows_what_became_of_what_it_holds(api, published):
    published("1.4.1")
    put()
    catalog.suspend(history.actor("tomas"), "berth-planner", "It dreams.", "tool:find_free_berth")
    _, kit = api("runa").get("kits/berth-helper")
    assert [(one["kind"], one["item"]) for one in kit["problems"]] == [("suspended", "tool:find_free_berth")]
    assert kit["suspended"] == 1
    assert api("runa").post("kit-check", {"text": KIT})[1]["passed"] is False
    review_ended("withdraw")
    _, kit = api("runa").get("kits/berth-helper")
    assert ("no-release", "berth-planner@1.4.1 is approved no more") in [
        (one["kind"], one["message"].partition(";")[0]) for one in kit["problems"]
    ]
    with pytest.raises(BadDocument, match="has no published release"):
        put("tomas", KIT.replace("A helper", "The helper"))
    assert holds_in_the_ledger()


def review_ended(act: str) -> None:
    draft = review.RequestDraft(act, "berth-planner", "r", "1.4.1")
    player.agree(review.ask(history.actor("tomas"), draft)[0])


@pytest.mark.parametrize(
    ("statement", "said"),
    [
        ("update kits_storedkit set data_class = 'restricted'", "data_class"),
        ("update kits_storedkit set document = json_set(document, '$.budget', 9)", "kit berth-helper"),
        ("update kits_storedlock set digest = 'sha256:x'", "lock"),
        ("update kits_storedlock set document = json_set(document, '$.items[0].version', '9.9.9')", "lock"),
        ("update kits_storedkit set dropped_at = '2030-01-01'", "kit berth-helper"),
        ("delete from kits_helditem", "holds"),
        ("update kits_helditem set item = 'tool:book_berth'", "holds"),
    ],
)
def test_an_edit_of_a_kit_in_the_database_is_found(published, statement, said):
    from django.db import connection

    published("1.4.1")
    put()
    assert holds_in_the_ledger()
    with connection.cursor() as cursor:
        cursor.execute(statement)
    assert said in " ".join(verify().differences)


def test_what_could_stand_in_is_offered_before_something_ends(api, published):
    published("1.4.1")
    put()
    mira = history.actor("mira")
    catalog.enrol_server(mira, "quay-planner", title="Quays", team="crew", contact="c@pellam.example")
    body = submission("1.4.1")
    body["snapshot"]["tools"][0]["name"] = "find_free_quay_berth"
    one = review.read_submission(mira, body["snapshot"], "1.0.0", [{**LAUNCH, "command": "quay-planner"}])
    request = review.submit(mira, "quay-planner", one)[0]
    player.agree(request)
    review.publish(mira, request.pk)
    status, ending = api("runa").get("servers/berth-planner/ending?item=find_free_berth")
    assert status == 200 and ending["teams"] == ["berths"]
    assert [(one["kit"], one["word"]) for one in ending["kits"]] == [("berth-helper", "ended")]
    first = ending["stand_ins"][0]
    assert (first["by"], first["stands_in"]) == ("quay-planner#tool:find_free_quay_berth", True)
    assert api("runa").get("servers/berth-planner/ending?item=book_berth")[1]["kits"] == []
    assert api("runa").get("servers/berth-planner/ending?version=9.9.9")[1]["kits"] == []
    catalog.suspend(history.actor("ines"), "quay-planner", "Down as well.")
    assert api("runa").get("servers/berth-planner/ending")[1]["stand_ins"] == []


def test_what_was_proposed_about_a_kit_falls_when_it_is_put_otherwise(api, published):
    published("1.4.1")
    put()
    put("tomas", HIGHER, reason="Crew names.")
    assert len(api("ines").get("kit-proposals")[1]["results"]) == 1
    put("tomas", KIT.replace("A helper", "The helper"))
    assert api("ines").get("kit-proposals")[1]["results"] == []
    assert api("ines").post("kits/berth-helper/answer", {"answer": "agree"})[0] == 409
    assert queries.kit("berth-helper").data_class == "internal" and holds_in_the_ledger()


def test_a_proposal_that_is_edited_in_the_database_is_found(published):
    published("1.4.1")
    put("tomas", HIGHER, reason="Crew names.")
    StoredRaise.objects.update(data_class="confidential")
    assert "proposal about the kit berth-helper: data_class" in " ".join(verify().differences)


def test_names_of_what_is_gone_are_told_and_what_means_nothing_is_not(api, published):
    published("1.4.1")
    body = submission("1.4.3")
    body["snapshot"]["tools"] = [one for one in body["snapshot"]["tools"] if one["name"] != "book_berth"]
    publish("2.0.0", body)
    qualified = ["berth-planner#find_free_bert", "nowhere#find_free_berth", "berth-planner#find_free_berth"]
    names = ["find_free_berth", "book_berth", "no_such_tool", *qualified]
    status, known = api("runa").post("kit-reading", {"servers": [], "names": names})
    assert status == 200
    assert [(one["name"], one["servers"], one["gone_from"]) for one in known["items"]] == [
        ("find_free_berth", ["berth-planner"], []),
        ("berth-planner#find_free_berth", ["berth-planner"], []),
        ("book_berth", [], ["berth-planner"]),
        ("berth-planner#find_free_bert", [], []),
    ]
    assert known["items"][-1]["nearest"] == ["tool:find_free_berth"]


@pytest.mark.parametrize(
    ("asked", "found"),
    [
        ("trouble=suspended", "berth-helper dock-helper"),
        ("trouble=budget", "dock-helper"),
        ("trouble=ended", ""),
        ("q=DOCK helper", "dock-helper"),
        ("q=berths", "berth-helper dock-helper"),
        ("q=dock&trouble=ended", ""),
        ("sort=-name", "dock-helper berth-helper"),
        ("sort=-tokens&limit=1", "dock-helper"),
    ],
)
def test_kits_are_found_by_words_and_by_what_is_wrong_with_them(published, api, asked, found):
    published("1.4.1")
    put()
    put(text=KIT.replace("berth-helper", "dock-helper"))
    StoredKit.objects.filter(name="dock-helper").update(budget=1)
    catalog.suspend(history.actor("ines"), "berth-planner", "It leaks.")
    _, page = api("runa").get(f"kits?{asked}")
    assert [one["name"] for one in page["results"]] == found.split()


def test_a_trouble_that_there_is_not_is_refused(company, api):
    assert api("runa").get("kits?trouble=none")[1]["remedy"] == "One of: suspended, ended, budget."
