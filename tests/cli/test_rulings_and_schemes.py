"""Ruling that a silent change means the same, assessing anew, and calendar versions, from the command line."""

from __future__ import annotations

import pytest

from tallshelf.core.errors import BadArgument, NotFound
from tests.service.conftest import submission

FEET = "Length overall of the vessel, in feet"


@pytest.fixture
def feet(at, published):
    """A file of the berth planner whose vessels are measured in feet, submitted as 1.4.3."""
    published("1.4.2")
    tomas = at("tomas")
    snapshot = submission("1.4.3")["snapshot"]
    snapshot["tools"][0]["inputSchema"]["properties"]["vessel_length"]["description"] = FEET
    file = tomas.file("feet.json", snapshot)
    request = tomas.json("submit", "berth-planner", file, "--version", "1.4.3")
    return file, str(request["id"])


def test_a_silent_change_is_ruled_on_and_the_request_assessed_anew(at, feet):
    file, number = feet
    ines, oskar, item = at("ines"), at("oskar"), "berth-planner@1.4.3#find_free_berth"
    assert "honest 2.0.0" in ines.run("compare", "berth-planner@1.4.2", "berth-planner@1.4.3")
    with pytest.raises(NotFound, match="no silent change of tool:book_berth"):
        ines.run("ruling", "propose", "berth-planner@1.4.3#book_berth", "same-meaning", "--reason", "r")
    with pytest.raises(BadArgument, match="one item"):
        ines.run("ruling", "propose", "berth-planner#find_free_berth", "same-meaning", "--reason", "r")
    told = ines.run("ruling", "propose", item, "same-meaning", "--reason", "The text was late.")
    assert "metres became feet" in told and "a second curator" in ines.notes
    assert "1.4.2 to berth-planner@1.4.3" in oskar.run("ruling", "list", "--word", "same-meaning")
    assert "1.4.2 to" in oskar.run("ruling", "list", "--server", "berth-planner")
    assert "There are none" in oskar.run("ruling", "list", "--server", "tide-log")
    assert "in force" in oskar.run("ruling", "agree", "1")
    for old, new in (("berth-planner@1.4.2", "berth-planner@1.4.3"), ("berth-planner@1.4.2", file)):
        text = ines.run("compare", old, new)
        assert "ruled to mean the same" in text and "ruled: The text was late." in text
        assert "silent" not in text
    anew = oskar.json("answer", number, "--assess")
    assert anew["assessment"]["next_version"]["is_honest"] and anew["moved"] == []


def test_calendar_versions_from_enrolment_to_a_declared_break(at, company):
    tomas = at("tomas")
    about = ("--title", "Tides", "--team", "berths", "--contact", "c", "--scheme", "calendar")
    tomas.run("enrol", "tide-log", *about)
    assert "numbered by the calendar scheme" in tomas.run("show", "tide-log")
    first = submission("1.4.2")["snapshot"]
    file = tomas.file("tides.json", first)
    with pytest.raises(BadArgument, match="nor a calendar version"):
        tomas.run("submit", "tide-log", file, "--version", "2026-11")
    found = tomas.json("submit", "tide-log", file, "--version", "2026.11.3.1", "--breaking")
    assert found["version"] == "2026.11.3.1" and found["assessment"]["next_version"]["breaking"]
    asked = tomas.run("ask", "version-scheme", "berth-planner", "calendar", "--reason", "By the month.")
    assert "numbered by the semver scheme now" in asked


def test_files_are_checked_by_the_scheme_that_is_told(at):
    offline = at("tomas")
    old = submission("1.4.2")["snapshot"]
    new = submission("1.4.2")["snapshot"]
    new["tools"][0]["inputSchema"]["required"].append("basin")
    was, now = offline.file("old.json", old), offline.file("new.json", new)
    words = ("check", now, "--base", was, "--version", "2026.11.3")
    told = offline.run(*words, "--scheme", "calendar", code=1)
    assert "not declared to (--breaking)" in told and "not honest" in told
    assert "not honest" not in offline.run(*words, "--scheme", "calendar", "--breaking", code=0)
    with pytest.raises(BadArgument, match="--scheme calendar"):
        offline.run(*words, "--breaking")
