"""The command line and the client library, against the running demo."""

from __future__ import annotations

import json
import os
import re
import shlex
import stat
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx
import jsonschema
import pytest

from tallshelf.cli.registry import COMMANDS
from tallshelf.client import Shelf
from tallshelf.core.errors import Denied, InputsMoved, NotFound, Unreachable
from tallshelf.core.formats import schema
from tallshelf.run.scenario.declarations import declared
from tests.test_docs import CALLS

pytestmark = pytest.mark.xdist_group("demo")
SERVER = f"{sys.executable} -m tallshelf.run.scenario.tool_server"


@pytest.fixture
def files(tmp_path):
    """Snapshots of the scenario as files."""
    for name, version in (
        ("berth-planner", "1.4.2"),
        ("berth-planner", "1.5.0"),
        ("crew-roster", "2.1.0"),
        ("crew-certificates", "0.3.0"),
    ):
        (tmp_path / f"{name}-{version}.json").write_text(json.dumps(declared(name, version)), "utf-8")
    return tmp_path


@pytest.mark.parametrize("command", COMMANDS)
def test_every_command_explains_itself_with_examples(demo, command):
    done = demo.run(command, "--help")
    assert done.returncode == 0
    assert "examples:" in done.stdout
    assert f"tallshelf {command}" in done.stdout
    assert max(map(len, done.stdout.splitlines())) <= 124


@pytest.mark.parametrize(
    ("question", "item"),
    [
        ("a tool that tells me when the next ferry leaves", "tool:search_sailings"),
        ("who is on duty", "tool:list_pilots_on_duty"),
        ("get a berth for a vessel next week", "tool:get_berth_plan"),
        ("book a berth for next week", "tool:book_berth"),
        ("call off a bokking", "tool:cancel_booking"),
    ],
)
def test_questions_to_the_demo_find_what_does_it_first(demo, question, item):
    found = json.loads(demo.run("find", question, "--format", "json", by="ines").stdout)
    assert found["results"][0]["item"] == item


def test_help_and_wrong_words(demo):
    assert "capture" in demo.run("--help").stdout
    wrong = demo.run("comprae")
    assert (wrong.returncode, "did you mean compare?" in wrong.stderr) == (2, True)
    assert demo.run("lint", "--nonsense").returncode == 2
    assert demo.run("--version").stdout.startswith("tallshelf ")


def test_the_file_commands_and_their_exit_codes(demo, files):
    old, new = str(files / "berth-planner-1.4.2.json"), str(files / "berth-planner-1.5.0.json")
    compare = demo.run("compare", old, new, "--format", "json")
    document = json.loads(compare.stdout)
    assert compare.returncode == 0
    assert document["next_version"]["honest"] == "2.0.0"
    assert {"item", "kind", "impact", "reach", "verdict", "silent", "witness"} <= document["changes"][
        0
    ].keys()
    assert demo.run("compare", old, new, "--gate").returncode == 1
    assert demo.run("compare", old, old, "--gate").returncode == 0
    assert demo.run("lint", new).returncode == 1
    findings = json.loads(demo.run("lint", new, "--format", "json").stdout)["findings"]
    assert "contradicting-annotation" in {one["rule"] for one in findings}
    overlap = demo.run(
        "overlap", str(files / "crew-roster-2.1.0.json"), str(files / "crew-certificates-0.3.0.json")
    )
    assert "same-job" in overlap.stdout
    check = demo.run("check", new, "--base", old, "--format", "json")
    assert (check.returncode, json.loads(check.stdout)["passed"]) == (1, False)
    outline = demo.run("outline", f"{old}#find_free_berth").stdout
    assert "vessel_length" in outline
    assert "book_berth" not in outline


def test_bad_input_is_exit_2_and_unreachable_is_exit_3(demo, tmp_path):
    bad = tmp_path / "bad.json"
    bad.write_text('{"tools": [], "tools": []}', "utf-8")
    for words in (["lint", str(bad)], ["lint", "./nowhere.json"], ["check", str(bad)], ["show", "Bad Name"]):
        done = demo.run(*words, by="ines")
        assert done.returncode == 2, words
        assert done.stderr.startswith(f"tallshelf {words[0]}: ")
    assert demo.run("queue").returncode == 2  # nobody signed in
    assert demo.run("queue", TALLSHELF_URL="http://127.0.0.1:9", TALLSHELF_TOKEN="x").returncode == 3
    assert demo.run("capture", "--stdio", "/no/such/program").returncode == 3
    assert demo.run("capture", "--http", "http://127.0.0.1:9/", "--bearer-from", "UNSET").returncode == 2


def test_capture_and_try(demo, tmp_path):
    target = tmp_path / "out.json"
    done = demo.run("capture", "--stdio", f"{SERVER} berth-planner 1.4.2", "-o", str(target))
    assert done.returncode == 0
    assert json.loads(target.read_text())["server"]["serverInfo"]["version"] == "1.4.2"
    port = int(demo.url.rpartition(":")[2]) + 2
    call = ("try", "quote_fare", "crossing=a", "--http", f"http://127.0.0.1:{port}/mcp", "--format", "json")
    refused = demo.run(*call)
    assert (refused.returncode, "do not fit the input schema" in refused.stderr) == (2, True)
    tried = demo.run(*call, "--unchecked")
    assert tried.returncode == 1
    assert json.loads(tried.stdout)["fits_output_schema"] is False
    jsonschema.validate(json.loads(tried.stdout), schema("call-1"))


def test_signing_in_keeps_the_token_to_oneself(demo):
    done = demo.run("sign-in", demo.url, "--token-from", "@-", stdin=demo.token("ines") + "\n")
    assert "as ines (curator)" in done.stdout
    kept = demo.data / ".config" / "tallshelf" / "sign-in.json"
    assert stat.S_IMODE(kept.stat().st_mode) == 0o600
    assert demo.run("queue").returncode == 0
    assert demo.run("sign-in", demo.url, "--token-from", "@-", stdin="wrong\n").returncode == 2
    kept.unlink()


def test_the_service_commands(demo, files):
    assert "current" in demo.run("show", "berth-planner", by="runa").stdout
    assert "release digest" in demo.run("show", "berth-planner@1.4.2", by="runa").stdout
    assert '"inputSchema"' in demo.run("show", "berth-planner#find_free_berth", by="runa").stdout
    assert "mcpServers" in demo.run("connect", "berth-planner", by="runa").stdout
    deprecated = demo.run("connect", "berth-planner@1.4.1", by="runa")
    assert (deprecated.returncode, "deprecated" in deprecated.stderr) == (0, True)
    assert demo.run("connect", "freight-manifest", by="runa").returncode == 2
    drift = demo.run("watch", "--once", "tide-tables", by="ines")
    assert (drift.returncode, "drifted" in drift.stdout) == (1, True)
    check = demo.run("check", str(files / "berth-planner-1.5.0.json"), "--base", "berth-planner", by="tomas")
    assert (check.returncode, "berth-planner@1.4.2" in check.stdout) == (1, True)
    catalog = demo.run("overlap", str(files / "crew-certificates-0.3.0.json"), "--catalog", by="mira")
    assert "find_crew_member" in catalog.stdout
    assert "release-published" in demo.run("ledger", "--event", "release-published", by="ines").stdout
    assert demo.run("ledger", by="runa").returncode == 2
    assert demo.run("admin", "verify-ledger").stdout.startswith("The ledger holds")
    answered = demo.run("answer", "8", "--agree", "--digest", "000000", by="ines")
    assert (answered.returncode, "is about" in answered.stderr) == (2, True)


@pytest.mark.parametrize(
    ("format_name", "words"),
    [
        ("queue", ["queue"]),
        ("inbox", ["inbox"]),
        ("ledger", ["ledger"]),
        ("drift", ["watch", "--once", "tide-tables", "berth-planner"]),
    ],
)
def test_json_output_fits_its_format(demo, format_name, words):
    done = demo.run(*words, "--format", "json", by="ines")
    jsonschema.validate(json.loads(done.stdout), schema(f"{format_name}-1"))


def test_backup_and_restore(demo, tmp_path):
    backup = tmp_path / "shelf.sqlite3"
    assert demo.run("admin", "backup", str(backup)).returncode == 0
    assert demo.run("admin", "backup", str(backup)).returncode == 2  # never overwritten
    elsewhere = str(tmp_path / "elsewhere")
    assert demo.run("admin", "--data", elsewhere, "restore", str(backup)).returncode == 0
    without = demo.run("admin", "--data", elsewhere, "verify-ledger")
    assert (without.returncode, "ledger.key is gone" in without.stderr) == (2, True)
    (tmp_path / "elsewhere/ledger.key").write_bytes((demo.data / "ledger.key").read_bytes())
    assert "holds" in demo.run("admin", "--data", elsewhere, "verify-ledger").stdout
    assert not (tmp_path / "elsewhere/restored.json").exists(), "with the key it is recorded"
    served = demo.run("admin", "restore", str(backup))
    assert (served.returncode, "is in use" in served.stderr) == (2, True)
    again = demo.run("serve", "--port", "46007")
    assert (again.returncode, "a service runs on" in again.stderr) == (2, True)
    nowhere = demo.run("serve", "--data", str(tmp_path / "nowhere"))
    assert (nowhere.returncode, "there is no service in" in nowhere.stderr) == (2, True)
    broken = tmp_path / "broken.sqlite3"
    broken.write_bytes(b"SQLite format 3\0" + b"\xff" * 5000)
    assert demo.run("admin", "--data", elsewhere, "restore", str(broken)).returncode == 2
    assert "holds" in demo.run("admin", "--data", elsewhere, "verify-ledger").stdout


def test_the_client_pages_and_raises_problems(demo):
    with demo.shelf("ines") as ines:
        assert {row["slug"] for row in ines.servers()} >= {"berth-planner", "fare-desk"}
        assert ines.snapshot("berth-planner", "1.4.2").tools
        assert ines.me()["role"] == "curator"
        rules = {one["rule"] for one in ines.findings("crew-certificates", "0.3.0")}
        assert {"hidden-characters", "orders-to-the-model", "placeholder-text"} <= rules
        comparison = ines.comparison("berth-planner@1.4.1", "berth-planner@1.4.2")
        assert comparison["next_version"]["honest"] == "1.5.0"
        with pytest.raises(NotFound) as missing:
            ines.release("nowhere")
        assert missing.value.problem["status"] == 404
        with pytest.raises(InputsMoved):
            ines.sign_off(8, "agree", release_digest="sha256:other", assessment_digest="sha256:x")
    with demo.shelf("runa") as runa, pytest.raises(Denied, match="a reader may not"):
        runa.enrol("new-one", title="New", team="berths", contact="c")


def test_the_client_repeats_only_what_is_safe():
    calls = []

    def flaky(request: httpx.Request) -> httpx.Response:
        calls.append(request.method)
        if len(calls) < 3:
            raise httpx.ConnectError("refused")
        return httpx.Response(200, json={"person": {"username": "x"}})

    with Shelf("http://shelf.example", "t", transport=httpx.MockTransport(flaky)) as shelf:
        assert shelf.me() == {"username": "x"}
        calls.clear()
        with pytest.raises(Unreachable):
            shelf.make_token("n", ["read"])
        assert calls == ["POST"]


def test_two_people_publishing_at_once_publish_once(demo):
    launch = [{"environment": "test", "transport": "stdio", "command": "x"}]
    with demo.shelf("jonas") as jonas, demo.shelf("ines") as ines, demo.shelf("runa") as runa:
        snapshot = declared("freight-manifest", "1.0.0")
        snapshot["tools"][0]["description"] += " Sorted by number."
        request = jonas.submit("freight-manifest", snapshot, version="1.1.0", launch=launch)
        for reviewer in (ines, runa):
            if ines.request(request["id"])["state"] == "open":
                reviewer.sign_off(
                    request["id"],
                    "agree",
                    release_digest=request["release_digest"],
                    assessment_digest=request["assessment"]["digest"],
                )
        with ThreadPoolExecutor(8) as pool:
            states = list(pool.map(lambda who: who.publish(request["id"])["state"], [jonas, ines] * 4))
        assert set(states) == {"done"}
        published = [
            row["body"]["version"]
            for row in ines.ledger(subject="freight-manifest", event="release-published")
        ]
        assert published.count("1.1.0") == 1


def test_the_demo_refuses_a_directory_that_is_not_its_own(tmp_path):
    (tmp_path / "precious.txt").write_text("mine", "utf-8")
    words = [sys.executable, "-m", "tallshelf", "demo", "--data", str(tmp_path), "--port", "46001"]
    done = subprocess.run(words, capture_output=True, text=True, timeout=60, check=False)
    assert (done.returncode, "not a demo's" in done.stderr) == (2, True)


def test_the_program_of_the_documentation_runs(demo, tmp_path):
    page = (Path(__file__).parents[2] / "docs/api.md").read_text("utf-8")
    (block,) = re.findall(r"^```python\n(.+?)^```", page, re.M | re.S)
    program = tmp_path / "moving_on.py"
    program.write_text(block)

    def run(team, **env):
        sent = {
            "TALLSHELF_URL": demo.url,
            "TALLSHELF_TOKEN": demo.token("runa"),
            "PATH": os.environ["PATH"],
            **env,
        }
        return subprocess.run(
            [sys.executable, program, team], env=sent, capture_output=True, text=True, timeout=60, check=False
        )

    done = run("berths")
    assert "berth-planner 1.4.1:" in done.stdout and done.returncode in (0, 1), done.stderr
    assert run("none").stdout == ""
    refused = run("berths", TALLSHELF_TOKEN="tls_wrong")
    assert refused.returncode == 1 and "sign-in-needed" in refused.stderr


READING = ("compare ", "find ", "inbox", "lint ", "overlap ", "routing show", "routing try", "show ")
READING += ("ruling list", "style history", "style preview", "style show", "waiver list", "watch ")


def test_each_shown_command_that_reads_runs_on_the_demo(demo, tmp_path):
    for file, server, version in (
        ("published", "berth-planner", "1.4.2"),
        ("next", "berth-planner", "1.5.0"),
        ("roster", "crew-roster", "2.1.0"),
        ("certificates", "crew-certificates", "0.3.0"),
        ("dry-dock", "dry-dock", "1.0.0"),
        ("tide-tables", "tide-tables", "1.1.0"),
    ):
        (tmp_path / f"{file}.json").write_text(json.dumps(declared(server, version)), "utf-8")
    for file, words in (("routing.toml", "routing show"), ("house.toml", "style show")):
        (tmp_path / file).write_text(demo.run(*words.split(), by="ines").stdout, "utf-8")
    tried = 0
    for page, line in CALLS:
        if line.startswith(READING):
            words = shlex.split(re.split(r"\s[>#]\s", line)[0])
            done = demo.run(*words, by="ines", at=tmp_path)
            assert done.returncode in (0, 1), (page, line, done.stderr)
            assert done.stdout + done.stderr, (page, line)
            tried += 1
    assert tried > 15
