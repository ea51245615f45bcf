"""Kits, by command line and in the console: what a team has becomes a kit, and whom an end hits is said before."""

from __future__ import annotations

import json
import re

import pytest

pytestmark = [pytest.mark.console, pytest.mark.xdist_group("demo")]

HOST = {
    "mcpServers": {
        "tides": {"type": "http", "url": ""},
        "cold-store": {"command": "x"},
        "weather": {"command": "weather"},
    }
}
TEXT = "Use `get_tide_times` for tides, `list_chambers` for the cold; `list_moorings` is gone. Be read-only."


def test_a_kit_is_read_from_what_a_team_has_checked_put_moved_and_dropped(demo, tmp_path):
    block = json.loads(demo.run("connect", "tide-tables", by="ines").stdout)
    HOST["mcpServers"]["tides"]["url"] = block["mcpServers"]["tide-tables"]["url"]
    (tmp_path / "host.json").write_text(json.dumps(HOST), "utf-8")
    (tmp_path / "notes.md").write_text(TEXT, "utf-8")
    words = ("kit", "read", "host.json", "notes.md", "--name", "yard-helper", "--team", "shore-freight")
    read = demo.run(*words, by="jonas", at=tmp_path)
    assert read.returncode == 0, read.stderr
    assert 'server = "tide-tables"\nversion = "^1.1"\nitems = ["tool:get_tide_times"]' in read.stdout
    assert 'server = "cold-store"\nversion = "^0.9"\nitems = ["tool:list_chambers"]' in read.stdout
    assert "tides is tide-tables, by its address" in read.stderr
    assert "weather: not on the shelf" in read.stderr
    file = tmp_path / "yard-helper.toml"
    written = demo.run(*words, "-o", str(file), by="jonas", at=tmp_path)
    assert (written.stdout, file.read_text("utf-8")) == ("", read.stdout)
    assert f"kit check {file}" in written.stderr
    checked = demo.run("kit", "check", str(file), by="jonas")
    assert checked.returncode == 0 and "yard-helper passes: " in checked.stdout, checked.stderr
    older = read.stdout.replace('"^1.1"', '"1.0.0"').replace("tool:get_tide_times", "tool:get_tide_time")
    file.write_text(older, "utf-8")
    checked = demo.run("kit", "check", str(file), "--format", "markdown", by="jonas")
    assert checked.returncode == 1 and "nearest: tool:get\\_tide\\_times" in checked.stdout
    put = demo.run("kit", "put", str(file), by="jonas")
    assert put.returncode == 2 and re.search(r"line \d+, key picks\[1\].items", put.stderr)
    file.write_text(
        older.replace("get_tide_time", "get_tide_times").replace('= "1.0.0"', '= "current"'), "utf-8"
    )
    assert demo.run("kit", "put", str(file), by="jonas").stdout == "yard-helper is on the shelf.\n"
    assert demo.run("kit", "put", str(file), by="jonas").stdout == "yard-helper is on the shelf as it was.\n"
    assert "of the team shore-freight" in demo.run("kit", "put", str(file), by="mira").stderr
    moved = demo.run("kit", "move", "yard-helper", "--to", "tide-tables@1.0.0", by="jonas")
    assert "tide-tables 1.1.0 → 1.0.0" in moved.stdout, moved.stderr
    shown = demo.run("kit", "show", "yard-helper", by="jonas").stdout
    assert "tide-tables 1.0.0, and its pick takes 1.1.0; it follows by itself" in shown
    connected = json.loads(demo.run("connect", "--kit", "yard-helper", by="jonas").stdout)
    assert sorted(connected["mcpServers"]) == ["cold-store", "tide-tables"]
    preview = demo.run("suspend", "tide-tables#get_tide_times", "--preview", by="ines").stdout
    assert "yard-helper of shore-freight: tool:get_tide_times (ended)" in preview
    compared = demo.run("compare", "tide-tables@1.0.0", "tide-tables@1.1.0", "--format", "json", by="ines")
    assert isinstance(json.loads(compared.stdout)["kits"], list)
    assert (
        demo.run("kit", "drop", "yard-helper", "--reason", "Tried.", by="jonas").stdout
        == "yard-helper: dropped.\n"
    )
    assert "yard-helper" not in demo.run("kit", "list", by="jonas").stdout


def test_where_nothing_is_on_the_shelf_it_says_what_is_nearest(demo, tmp_path):
    (tmp_path / "notes.md").write_text("First `tide-tables#get_tide_timez`.", "utf-8")
    read = demo.run("kit", "read", "notes.md", by="jonas", at=tmp_path)
    assert read.returncode == 2 and "nothing that these files name is on the shelf" in read.stderr
    told = " ".join(read.stderr.split())
    assert (
        "tide-tables#get_tide_timez: there is none there, and never was; nearest: tool:get_tide_times" in told
    )


def test_what_a_kit_comes_to_is_seen_in_the_console(pages):
    page = pages("ines")
    page.goto("/kits?trouble=suspended")
    page.get_by_role("row", name=re.compile("freight-desk")).get_by_text("1 server suspended").wait_for()
    assert page.get_by_role("row", name=re.compile("berth-assistant")).count() == 0
    page.get_by_label("Trouble").select_option("budget")
    page.get_by_role("link", name="booking-agent").click()
    page.get_by_text("About 906 tokens of 800").wait_for()
    page.get_by_text("it takes about 906 tokens").wait_for()
    page.goto("/servers/tide-tables")
    kits = page.get_by_role("region", name="Kits that hold it")
    kits.get_by_role("link", name="berth-assistant").wait_for()
    page.get_by_role("button", name="Suspend", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text(re.compile(r"It hits \d kits of \d teams\.")).wait_for()
    dialog.get_by_role("link", name="dock-planner").wait_for()
    page.goto("/kit-matrix")
    page.get_by_role("region", name=re.compile("servers against \\d+ kits")).wait_for()
    page.get_by_role("button", name="As a table").click()
    page.get_by_role("row", name=re.compile("freight-desk freight-manifest")).get_by_text(
        "suspended"
    ).wait_for()


def test_the_page_of_a_release_says_who_holds_it_and_whom_it_hits(pages):
    page = pages("ines")
    page.goto("/servers/pilotage/1.1.0")
    page.get_by_text("Held by berth-assistant").wait_for()
    page.goto("/servers/pilotage/2.0.0")
    page.get_by_text("Kits that it hits, since 1.1.0").click()
    page.get_by_text("became “books one more.").first.wait_for()


def test_a_request_says_whom_it_hits(pages):
    page = pages("ines")
    page.goto("/requests/51")
    region = page.get_by_role("region", name="It hits 1 kit of 1 team")
    region.get_by_text("became “books one more.").wait_for()
    region.get_by_role("link", name="berth-assistant").click()
    page.get_by_role("heading", name="Berth assistant").wait_for()


def test_a_kit_is_changed_in_the_console_after_what_it_comes_to_was_seen(pages):
    page = pages("signe")
    page.goto("/kits/dock-planner")
    page.get_by_role("button", name="Move it").click()
    page.get_by_text("dry-dock 1.0.0 → 1.1.0").first.wait_for()
    page.get_by_role("button", name="Change").click()
    dialog = page.get_by_role("dialog")
    text = dialog.get_by_label("The kit as TOML")
    written = text.input_value()
    text.fill(written.replace('"hull-survey"', '"hull-surveys"'))
    dialog.get_by_role("button", name="See what it comes to").click()
    dialog.get_by_text("nearest: hull-survey").wait_for()
    dialog.get_by_role("button", name="Put it", exact=True).click()
    dialog.get_by_role("alert").get_by_text("there is no server").wait_for()
    page.expected_error(422)
    text.fill(written.replace("budget = 1000", "budget = 1001"))
    dialog.get_by_role("button", name="Put it", exact=True).click()
    page.get_by_text("tokens of 1,001").wait_for()


def test_a_kit_that_would_see_more_is_agreed_to_by_another(pages):
    page = pages("mira")
    page.goto("/kits")
    proposed = page.get_by_role("region", name="safety-officer would see confidential data")
    proposed.get_by_text("It waits for a second curator.").wait_for()
    other = pages("oskar")
    other.goto("/kits")
    theirs = other.get_by_role("region", name="safety-officer would see confidential data")
    theirs.get_by_role("button", name="Agree").click()
    other.get_by_role("dialog").get_by_role("button", name="Put it in force").click()
    theirs.wait_for(state="detached")
    other.goto("/kits/safety-officer")
    other.get_by_text("sees confidential data at most").wait_for()


def test_what_a_host_cannot_use_of_a_kit_is_said(demo, tmp_path):
    style = demo.run("style", "show", by="ines").stdout
    assert "[[profiles]]" not in style
    found = demo.run("connect", "--kit", "berth-assistant", "--host", "any host", by="ines")
    assert found.returncode == 0 and "any host can use all of it" in found.stderr
    found = demo.run("connect", "berth-planner", "--host", "no such host", by="ines")
    assert found.returncode == 2 and "Its [[profiles]] are: any host." in found.stderr
