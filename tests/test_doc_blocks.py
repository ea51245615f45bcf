"""Each block of the documents that is not a command is read by what it is for; commands are in `test_docs.py`."""

from __future__ import annotations

import json
import re
import time
from pathlib import Path
from typing import Any

import pytest
import yaml

from tallshelf.core.routing import parse_routing
from tallshelf.core.snapshot import parse_launches
from tallshelf.core.style import parse_style
from tallshelf.core.telling import TYPES, sign, written_secret
from tallshelf.run.adopt import read_plan
from tallshelf.run.scenario.declarations import declared
from tallshelf.service.config import load_config

ROOT = Path(__file__).parents[1]
PAGES = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
BLOCKS = [
    (page.name, language, text)
    for page in PAGES
    for language, text in re.findall(r"^```(\w+)\n(.+?)^```", page.read_text("utf-8"), re.M | re.S)
]
# Commands are held against their parsers (and run, those that read); the rest is said beside each.
ELSEWHERE = {
    ("api.md", "python"),  # tests/e2e/test_cli_and_client.py runs it
    ("ci.md", "python"),  # tests/test_docs.py runs it
    ("operations.md", "cron"),
    ("operations.md", "nginx"),
}


def blocks(page, language):
    return [text for name, kind, text in BLOCKS if (name, kind) == (page, language)]


def test_there_is_no_block_that_nothing_reads():
    told = {(page, language) for page, language, _ in BLOCKS if language not in ("console", "sh", "text")}
    read = {(page, kind) for page, kind in told if kind in ("json", "toml", "yaml")}
    assert told - read - ELSEWHERE == {("guide.md", "python"), ("telling.md", "python")}  # run below


def test_rules_of_routing_can_be_put_in_force():
    rules = [rule for text in blocks("approvals.md", "toml") for rule in parse_routing(text).rules]
    told = [(rule.name, rule.desk, rule.sign_offs, rule.tell_hours) for rule in rules]
    assert told == [
        ("newly writing", "security", 1, 0),
        ("whom it breaks", "hit-teams", 1, 0),
        ("whom it may surprise", "hit-teams", 0, 24),
    ]


def test_a_house_style_can_be_put_in_force():
    (text,) = blocks("house-style.md", "toml")
    style = parse_style(text)
    assert style.words.banned["ship"] == "vessel"


def test_a_receiver_of_webhooks_tells_what_is_signed():
    (program,), (event,) = blocks("telling.md", "python"), blocks("telling.md", "json")
    key, now, names = b"k" * 32, int(time.time()), dict[str, Any]()
    exec(program, names)
    body = event.encode()
    headers = {
        "webhook-id": "msg_1",
        "webhook-timestamp": str(now),
        "webhook-signature": sign([key], "msg_1", now, body),
    }
    assert names["is_from_the_shelf"](headers, body, written_secret(key))
    assert not names["is_from_the_shelf"](headers, body + b" ", written_secret(key))
    assert json.loads(event)["type"].removeprefix("tallshelf.") in TYPES


def test_the_owners_file_can_be_adopted(tmp_path):
    (text,) = blocks("guide.md", "toml")
    (tmp_path / "owners.toml").write_text(text, "utf-8")
    (tmp_path / "crew-roster.json").write_text(json.dumps(declared("crew-roster", "2.1.0")), "utf-8")
    (one,) = read_plan(tmp_path).servers
    assert (one.slug, one.team, one.data_class) == ("crew-roster", "crew", "confidential")


@pytest.mark.parametrize("text", blocks("operations.md", "toml"))
def test_the_settings_can_be_loaded(tmp_path, text):
    (tmp_path / "tallshelf.toml").write_text(text, "utf-8")
    found = load_config({"TALLSHELF_DATA": str(tmp_path)})
    assert found.https or found.oidc_client_id == "tall-shelf"


def test_json_is_json_and_a_launch_record_is_one():
    (launch,) = blocks("guide.md", "json")
    assert parse_launches([json.loads(launch)])[0].environment == "production"
    (witness,) = blocks("comparing.md", "json")
    assert set(json.loads(witness)["ignored"][0][1:].split("/")) <= json.loads(witness)["instance"].keys()
    lines = [line for text in blocks("operations.md", "json") for line in text.splitlines()]
    for line in lines:
        assert json.loads(line.replace(", …}", "}"))["event"] == "answered"


@pytest.mark.parametrize("text", [text for _, kind, text in BLOCKS if kind == "yaml"])
def test_yaml_is_yaml(text):
    assert isinstance(yaml.safe_load(text), dict)


def test_the_client_of_the_guide_runs(monkeypatch, capsys):
    import httpx

    from tallshelf import client

    (text,) = blocks("guide.md", "python")
    hit = {"server": "berth-planner", "item": "tool:find_free_berth"}
    wire = httpx.MockTransport(lambda _: httpx.Response(200, json={"results": [hit], "next": None}))
    shelf = client.Shelf
    monkeypatch.setattr(client, "Shelf", lambda url, token: shelf(url, token, transport=wire))
    exec(compile(text, "guide.md", "exec"), {"token": "t"})
    assert capsys.readouterr().out == "berth-planner tool:find_free_berth\n"
