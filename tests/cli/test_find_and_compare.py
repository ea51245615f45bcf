"""Finding, comparing and completing by command."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys

import jsonschema
import pytest

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.formats import schema
from tallshelf.run.scenario.declarations import declared
from tests.cli.conftest import Terminal


def test_find_by_command(at):
    tomas = at("tomas")
    words = ["--title", "Berth tides", "--team", "berths", "--contact", "c", "--tag", "harbour"]
    tomas.run("enrol", "tide-tables", *words)
    found = tomas.json("find", "harbour", "tides")
    jsonschema.validate(found, schema("found-1"))
    text = tomas.run("find", "harbor")
    assert text.startswith("tide-tables  server, no release yet, Berths")
    assert "nothing has 'harbor'; looked for harbour instead" in tomas.notes
    assert "next: tallshelf show tide-tables" in tomas.notes
    assert tomas.run("find", "zeppelin", "--kind", "tool") == "Nothing does that.\n"


def test_markdown_for_merge_requests(at):
    tomas = at("tomas")
    old = tomas.file("old.json", declared("berth-planner", "1.4.2"))
    new = tomas.file("new.json", declared("berth-planner", "1.5.0"))
    compared = tomas.run("compare", old, new, "--format", "markdown", "--gate", code=1)
    assert "**breaking** for callers: `basin` is now required" in compared
    checked = tomas.run("check", new, "--base", old, "--format", "markdown", code=1)
    assert "| overlaps | not checked, no catalog was given |" in checked
    asked = tomas.run("check", new, "--base", "berth-planner", "--format", "markdown", code=1)
    assert asked.startswith("### `berth-planner 1.5.0` does not pass")
    assert "| route | curators (1)" in asked


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_the_completion_script_names_the_command(tmp_path, shell):
    assert "tallshelf" in Terminal(tmp_path).run("completion", shell)


@pytest.mark.parametrize(
    ("line", "offered"),
    [
        ("tallshelf comp", {"compare", "completion"}),
        ("tallshelf compare --f", {"--format"}),
        ("tallshelf compare a b --format ", {"text", "json", "markdown"}),
        ("tallshelf admin ad", {"add-team", "add-user", "add-desk", "adopt"}),
    ],
)
def test_completion_offers_what_could_come_next(tmp_path, line, offered):
    answer = tmp_path / "answer"
    environ = {
        **os.environ,
        "_ARGCOMPLETE": "1",
        "_ARGCOMPLETE_IFS": "\n",
        "_ARGCOMPLETE_STDOUT_FILENAME": str(answer),
        "COMP_LINE": line,
        "COMP_POINT": str(len(line)),
        "COMP_TYPE": "9",
    }
    subprocess.run([sys.executable, "-m", "tallshelf"], env=environ, timeout=60, check=False)
    assert {word.strip() for word in answer.read_text("utf-8").split("\n")} == offered


def test_narrowing_and_standing_in_by_command(tmp_path):
    at = Terminal(tmp_path)
    old = at.file("old.json", declared("berth-planner", "1.4.2"))
    new = at.file("new.json", declared("berth-planner", "1.5.0"))
    silent = at.run("compare", old, new, "--impact", "silent")
    assert "metres became feet" in silent
    assert "is now required" not in silent
    only = at.json("compare", old, new, "--only", "release_berth", "--gate", code=1)
    assert {change["item"] for change in only["changes"]} == {"tool:release_berth"}
    assert "depth" in at.run("compare", old, new, "--reach", "receivers")
    roster = at.file("roster.json", declared("crew-roster", "2.1.0"))
    other = at.file("other.json", declared("crew-certificates", "0.3.0"))
    pair = (f"{roster}#find_crew_member", f"{other}#lookup_crew_member")
    answer = at.json("compare", *pair, "--stand-in")
    jsonschema.validate(answer, schema("stand-in-1"))
    assert answer["stands_in"] is True
    refused = at.run(
        "compare", f"{old}#find_free_berth", f"{new}#find_free_berth", "--stand-in", "--gate", code=1
    )
    assert "cannot take the place of" in refused
    assert "in the way of callers" in refused
    with pytest.raises(BadArgument, match="names no single tool"):
        at.run("compare", old, new, "--stand-in")


def test_the_life_of_an_item_by_command(at, published):
    published("1.4.1")
    published("1.4.2")
    runa = at("runa")
    text = runa.run("show", "berth-planner#find_free_berth", "--life")
    assert re.search(r"1\.4\.1 +came", text)
    assert re.search(r"1\.4\.2 +changed +caution", text)
    jsonschema.validate(runa.json("show", "berth-planner#book_berth", "--life"), schema("life-1"))
    with pytest.raises(NotFound, match="ever had"):
        runa.run("show", "berth-planner#nothing", "--life")
    with pytest.raises(BadArgument, match="names no item"):
        runa.run("show", "berth-planner", "--life")


@pytest.mark.parametrize(
    ("words", "kept_out"),
    [
        (["outline", "old.json"], {"core.words.reading", "core.compat", "core.style", "django", "httpx"}),
        (
            ["compare", "old.json", "narrower.json"],
            {"core.words.reading", "core.style", "core.overlap", "django"},
        ),
        (["compare", "old.json", "reworded.json"], {"core.style", "core.overlap", "django", "httpx"}),
        (["lint", "old.json"], {"core.changes", "core.overlap", "django", "httpx"}),
    ],
)
def test_a_command_loads_what_it_needs_and_no_more(tmp_path, words, kept_out):
    old = declared("berth-planner", "1.4.1")
    narrower, reworded = json.loads(json.dumps(old)), json.loads(json.dumps(old))
    narrower["tools"][0]["inputSchema"]["required"] = sorted(
        narrower["tools"][0]["inputSchema"]["properties"]
    )
    reworded["tools"][0]["description"] = "Finds a berth that is free."
    for name, document in (("old", old), ("narrower", narrower), ("reworded", reworded)):
        Terminal(tmp_path).file(f"{name}.json", document)
    code = (
        "import sys; from tallshelf.run.main import main; status = main(sys.argv[1:]); "
        "print(status, *sys.modules, file=sys.stderr)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, *words], cwd=tmp_path, capture_output=True, text=True, check=True
    )
    status, *loaded = done.stderr.splitlines()[-1].split()
    assert status == "0" and done.stdout
    assert not {one.removeprefix("tallshelf.") for one in loaded} & kept_out
    assert ("tallshelf.core.words.reading" in loaded) == ("reworded.json" in words or words[0] == "lint")


HOUSE = '[words]\nbanned = { berth = "slip" }\nabbreviations = { loa = "length overall" }\n'


def with_slips():
    """The berth planner as it is declared, with slips where its tools' texts had berths."""
    snapshot = json.loads(json.dumps(declared("berth-planner", "1.4.2")))
    for tool in snapshot["tools"]:
        tool["description"] = tool["description"].replace("berth", "slip")
    return snapshot


def test_files_are_compared_and_overlap_by_the_words_of_a_style(offline):
    old, new = (
        offline.file("old.json", declared("berth-planner", "1.4.2")),
        offline.file("new.json", with_slips()),
    )
    style = offline.file("house.toml", HOUSE)
    assert "silent" in offline.run("compare", old, new).splitlines()[0]
    assert re.fullmatch(
        r"\d compatible; \d+ items? untouched\.",
        offline.run("compare", old, new, "--style", style).splitlines()[0],
    )
    asked = [offline.json("overlap", old, new, *words)["overlaps"] for words in ([], ["--style", style])]
    scores = [sum(one["score"] for one in found if one["class"] == "same-job") for found in asked]
    assert scores[1] > scores[0]
    words = ("check", new, "--base", old, "--version", "1.4.3", "--format", "json")
    checked = [
        json.loads(offline.run(*words, *more, code=code)) for more, code in (((), 1), (("--style", style), 0))
    ]
    assert [one["passed"] for one in checked] == [False, True]
    assert [one["next_version"]["is_honest"] for one in checked] == [False, True]
    with pytest.raises(BadArgument, match="style of its own"):
        offline.run("check", new, "--base", "berth-planner", "--style", style)
    with pytest.raises(BadArgument, match="is not known"):
        offline.run("compare", old, new, "--style", offline.file("bad.toml", "words = 3\nodd = 1\n"))


def test_what_is_on_the_shelf_is_compared_by_the_words_of_the_service(at, published):
    published("1.4.1")
    tomas, ines, oskar = at("tomas"), at("ines"), at("oskar")
    new = tomas.file("new.json", with_slips())
    assert "silent" in tomas.run("compare", "berth-planner", new).splitlines()[0]
    style = ines.file("house.toml", HOUSE)
    assert "read as the same: berth and slip" in ines.run("style", "apply", style, "--note", "One word.")
    assert "silent" in tomas.run("compare", "berth-planner", new).splitlines()[0], "nobody agreed yet"
    oskar.run("style", "answer", "1", "agree")
    assert "silent" not in tomas.run("compare", "berth-planner", new).splitlines()[0]
    assert (
        "silent"
        in tomas.run("compare", "berth-planner", new, "--style", tomas.file("none.toml", "")).splitlines()[0]
    )
