"""House style, waivers and known findings by command, against the service behind WSGI."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from tallshelf.core.errors import BadArgument, Denied

LOOSE = 'name = "pellam"\n[levels]\nopen-to-unknown-parameters = "off"\n'
STRICT = 'name = "pellam"\n[levels]\nopen-to-unknown-parameters = "error"\n'
NEXT_MONTH = (date.today() + timedelta(days=30)).isoformat()


def test_a_style_is_shown_previewed_applied_and_agreed_to(at, published):
    published()
    ines, oskar = at("ines"), at("oskar")
    assert 'name = "default"' in ines.run("style", "show")
    assert "version 0" in ines.notes
    strict, loose = ines.file("strict.toml", STRICT), ines.file("loose.toml", LOOSE)
    text = ines.run("style", "preview", strict)
    assert "1 note  ->  1 error" in text
    assert "berth-planner would newly fail: open-to-unknown-parameters" in text
    text = ines.run("style", "apply", strict, "--note", "Closed calls are told apart.", "--seen", "0")
    assert text.endswith("Version 1 of the house style is in force.\n")
    assert "not pass" not in ines.run("lint", "berth-planner", code=1)
    text = ines.run("style", "apply", loose, "--note", "Too strict.")
    assert "open-to-unknown-parameters: error becomes off" in text
    assert "second curator" in ines.notes
    with pytest.raises(Denied, match="you proposed this one"):
        ines.run("style", "answer", "2", "agree")
    assert "in force" in oskar.run("style", "answer", "2", "agree")
    assert [row["state"] for row in oskar.json("style", "history")] == ["in force", "was in force"]
    assert "no findings" in oskar.run("lint", "berth-planner")
    assert oskar.run("style", "show", "--version", "1") == STRICT


def test_a_waiver_is_asked_for_listed_granted_and_ended(at, published):
    published()
    tomas, ines = at("tomas"), at("ines")
    asked = ("ask", "berth-planner", "open-to-unknown-parameters", "--reason", "old callers send more")
    with pytest.raises(BadArgument, match="no date"):
        tomas.run("waiver", *asked, "--until", "soon")
    assert tomas.run("waiver", *asked, "--until", NEXT_MONTH).startswith("Waiver 1 is asked")
    text = ines.run("waiver", "list", "--state", "asked")
    assert "berth-planner#server" in text and NEXT_MONTH in text and "waits for you" in ines.notes
    assert "granted" in ines.run("waiver", "grant", "1")
    assert "1 waived or known" in tomas.run("lint", "berth-planner")
    (finding,) = tomas.json("lint", "berth-planner")["findings"]
    assert finding["waived"] == "1"
    assert "ended" in tomas.run("waiver", "end", "1", "--note", "closed in 1.5.0")
    assert tomas.json("waiver", "list", "--server", "berth-planner")[0]["answer_note"] == "closed in 1.5.0"
    assert "There are none" in tomas.run("waiver", "list", "--state", "granted")


def test_known_findings_by_command(at, published):
    published()
    ines = at("ines")
    assert ines.run("known", "berth-planner").startswith("0 findings")
    said = ines.run("known", "berth-planner", "--accept", "older than the rules")
    assert "Ines Varga proposes to accept 1: older than the rules" in said
    assert at("oskar").run("known", "berth-planner", "--agree").startswith("1 finding of")
    assert "1 waived or known" in ines.run("lint", "berth-planner")


def test_routing_is_shown_tried_applied_and_agreed_to(at, submitted):
    submitted()
    ines, oskar = at("ines"), at("oskar")
    text = ines.run("routing", "show")
    assert "[[rules]]" in text and "every request" in text
    assert "Ines Varga" in oskar.run("desks")
    looser = ines.file("routing.toml", text.replace("due_hours = 48", "due_hours = 96"))
    tried = ines.run("routing", "try", looser, "--days", "30")
    assert "Tried on 1 requests" in tried and "is due in 96 hours instead of 48" in tried
    assert "is proposed" in ines.run("routing", "apply", looser, "--note", "two days are short")
    assert "in force" in oskar.run("routing", "answer", "2", "agree")
    assert [row["state"] for row in oskar.json("routing", "history")] == ["in force", "was in force"]


def test_overlaps_are_ruled_on_by_command(at, published):
    published()
    ines = at("ines")
    assert "No overlap waits" in ines.run("ruling", "open")
    assert "There are none" in ines.run("ruling", "list")
