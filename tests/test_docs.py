"""What the documents point at is there, and the table of the security standard is whole."""

from __future__ import annotations

import argparse
import importlib
import json
import re
import shlex
import sys
from collections import Counter
from pathlib import Path

import httpx
import pytest

from tallshelf.cli.registry import COMMANDS

ROOT = Path(__file__).parents[1]
PAGES = [ROOT / "README.md", ROOT / "CHANGELOG.md", *sorted((ROOT / "docs").glob("*.md"))]


def anchors(page: Path) -> set[str]:
    """Return the fragments by which headings of a page are reached."""
    heads = re.findall(r"^#+ (.+)$", page.read_text("utf-8"), re.M)
    return {re.sub(r"[^\w\- ]", "", head.lower()).replace(" ", "-") for head in heads}


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_and_files_that_are_named_are_there(page):
    text = page.read_text("utf-8")
    for target in re.findall(r"\]\((?!https?:|mailto:)([^)\s]+)\)", text):
        name, _, fragment = target.partition("#")
        place = page.parent / name if name else page
        assert place.exists(), target
        assert not fragment or fragment in anchors(place), target
    for name in re.findall(r"`((?:src|tests|docs|bench|packaging|console)/[\w./-]+)`", text):
        assert (ROOT / name).exists() or (ROOT / f"{name}.py").exists(), name


def test_each_point_of_the_standard_is_answered_once():
    """ASVS 5.0.0 has 70 points of level 1 and 183 of level 2."""
    text = (ROOT / "docs/asvs.md").read_text("utf-8")
    rows = re.findall(r"^\| (\d+\.\d+\.\d+) \| ([12]) \| .+ \| (yes|part|–) \| ?(.*)\|$", text, re.M)
    assert len({number for number, *_ in rows}) == len(rows)
    assert Counter(level for _, level, *_ in rows) == {"1": 70, "2": 183}
    met = Counter(answer for *_, answer, _ in rows)
    assert f"| {met['yes']} | {met['part']} | {met['–']} |" in text
    assert [number for number, _, answer, how in rows if answer == "part" and not how.strip()] == []


def test_each_promise_of_the_security_page_names_a_test_that_is_there():
    text = (ROOT / "docs/security.md").read_text("utf-8")
    named = re.findall(r"`(tests/[\w/]+\.py)::(\w+)`", text)
    assert len(named) >= 15
    for path, name in named:
        assert f"def {name}(" in (ROOT / path).read_text("utf-8"), name


def test_the_recipe_for_one_note_writes_over_its_own(tmp_path, monkeypatch):
    page = (ROOT / "docs/ci.md").read_text("utf-8")
    (recipe,) = re.findall(r"^```python\n(.+?)^```", page, re.M | re.S)
    notes = {7: "a remark of somebody"}

    def answer(request: httpx.Request) -> httpx.Response:
        assert request.headers["PRIVATE-TOKEN"] == "t"
        if request.method == "GET":
            return httpx.Response(200, json=[{"id": number, "body": text} for number, text in notes.items()])
        number = int(request.url.path.rpartition("/")[2]) if request.method == "PUT" else 8
        notes[number] = json.loads(request.content)["body"]
        return httpx.Response(200, json={"id": number})

    (tmp_path / "report.md").write_text("first")
    monkeypatch.setattr(sys, "argv", ["one_note.py", str(tmp_path / "report.md")])
    for name, value in (
        ("CI_API_V4_URL", "http://code.example/api/v4"),
        ("CI_PROJECT_ID", "3"),
        ("CI_MERGE_REQUEST_IID", "12"),
        ("REPORT_TOKEN", "t"),
    ):
        monkeypatch.setenv(name, value)
    client = httpx.Client
    monkeypatch.setattr(httpx, "Client", lambda **more: client(transport=httpx.MockTransport(answer), **more))
    exec(compile(recipe, "one_note.py", "exec"), {})
    (tmp_path / "report.md").write_text("second")
    exec(compile(recipe, "one_note.py", "exec"), {})
    assert notes[7] == "a remark of somebody" and notes[8].endswith("second") and len(notes) == 2


COMMAND = re.compile(
    r"(?:^\s*(?:\$ |- (?:run: )?)?|\()(?:[A-Z_]+=\S+ )*(?:\.venv/bin/|/\S+/bin/)?tallshelf ([a-z].*)"
)


def commands(page: Path) -> set[str]:
    """Return the lines of a page's code blocks that call the command line, whole."""
    blocks = re.findall(r"^```\w*\n(.+?)^```", page.read_text("utf-8"), re.M | re.S)
    lines = [line for block in blocks for line in block.replace("\\\n", " ").splitlines()]
    found = (COMMAND.search(line) for line in lines)
    return {match[1] for match in found if match}


CALLS = sorted({(page.name, line) for page in PAGES for line in commands(page)})


@pytest.mark.parametrize(("page", "line"), CALLS, ids=[f"{page}: {line[:50]}" for page, line in CALLS])
def test_each_command_that_is_shown_is_one(page, line):
    bare = re.sub(r"[)\"']*$", "", line) if line.count("(") < line.count(")") else line
    words = shlex.split(re.split(r"\s(?:\||>|2>|&&|#)\s?", bare)[0].replace("…", "x"), comments=False)
    command = COMMANDS.get(words[0])
    assert command is not None, words[0]
    parser = argparse.ArgumentParser(exit_on_error=False)
    importlib.import_module(command.module).add_arguments(parser)
    known, unknown = parser.parse_known_args(words[1:])
    assert not [one for one in unknown if one.startswith("-")], (unknown, known)


def test_there_are_commands_to_hold_against_the_parser():
    assert len(CALLS) > 45
