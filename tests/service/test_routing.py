"""Routing rules in service: versions with second consent, rehearsals, desks."""

from __future__ import annotations

from tallshelf.core.routing import DEFAULT_RULES, routing_text
from tallshelf.run.scenario import history

TEXT = routing_text(DEFAULT_RULES)
STRICTER = TEXT + '[[rules]]\nname = "open world"\ndesk = "security"\nreason = "it reaches out"\n'
LOOSER = TEXT.replace("due_hours = 48", "due_hours = 96")


def test_stricter_rules_are_in_force_at_once_and_looser_ones_take_a_second_curator(api):
    ines, oskar = api("ines"), api("oskar")
    shown = ines.get("routing")[1]
    assert shown["text"] == TEXT and shown["may_change"]
    status, made = ines.post("routing", {"text": STRICTER, "note": "reaching out is seen"})
    assert (status, made["state"], made["loosened"]) == (201, "in force", [])
    status, _ = ines.post("routing", {"text": TEXT, "note": "n", "seen": 1})
    assert status in (409, 412), "written against what is not in force"
    _, proposed = ines.post("routing", {"text": LOOSER, "note": "two days are short"})
    assert proposed["state"] == "proposed"
    assert any("is taken out" in words for words in proposed["loosened"])
    version = proposed["version"]
    assert ines.post(f"routing/versions/{version}/answer", {"answer": "agree"})[0] == 403
    assert oskar.post(f"routing/versions/{version}/answer", {"answer": "agree"})[1]["state"] == "in force"
    states = [row["state"] for row in oskar.get("routing/versions")[1]["results"]]
    assert states == ["in force", "was in force", "was in force"]


def test_rules_that_cannot_work_are_refused(api):
    alone = '[[rules]]\nname = "a"\ndesk = "nowhere"\nreason = "r"\n'
    status, problem = api("ines").post("routing", {"text": alone, "note": "n"})
    assert status in (400, 422) and "not there" in problem["detail"]


def test_a_trial_says_who_would_have_been_asked(api, submitted):
    request = submitted()
    status, tried = api("ines").post("routing/rehearsal", {"text": STRICTER, "days": 30})
    assert status == 200 and tried["requests"] == 1
    assert [one["request"] for one in tried["moved"]] in ([], [request.pk])
    assert {one["desk"] for one in tried["desks"]} >= {"curators", "security"}
    assert tried["faults"] == [] and tried["loosened"] == []
    assert api("tomas").post("routing/rehearsal", {"text": STRICTER})[0] == 403


def test_a_hint_reaches_the_reviewer(api, submitted):
    text = TEXT.replace("[[rules]]", '[[rules]]\nhint = "read the first tool"', 1)
    assert api("ines").post("routing", {"text": text, "note": "a hint"})[1]["state"] == "in force"
    request = submitted()
    seen = api("ines").get(f"requests/{request.pk}")[1]
    assert seen["route"][0][0]["hints"] == ["read the first tool"]


def test_desks_name_who_sits_there(api):
    rows = {row["desk"]: row for row in api("edda").get("desks")[1]["results"]}
    assert [one["username"] for one in rows["security"]["members"]] == ["kari", "runa"]
    assert history.DESKS.keys() == rows.keys()
