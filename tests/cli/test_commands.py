"""Each command in its own process space: handed-in streams, and the real service behind WSGI."""

from __future__ import annotations

import argparse
import io as streams
import json
import re
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.cli import inbox
from tallshelf.cli.io import IO
from tallshelf.cli.try_ import read_arguments
from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.changes import compare_snapshots, next_version
from tallshelf.core.errors import BadArgument, BadReference, Conflict, Denied, SignInNeeded
from tallshelf.core.formats import schema
from tallshelf.core.reports import (
    ANSI,
    PLAIN,
    assessment_text,
    comparison_text,
    lint_text,
    outline_text,
    overlaps_text,
    table,
)
from tallshelf.core.routing import DEFAULT_RULES
from tallshelf.core.snapshot import outline, snapshot_from
from tallshelf.core.style import lint
from tallshelf.run import main as entry
from tallshelf.run.scenario.declarations import declared, names
from tests.cli.conftest import HIDDEN, Terminal


def test_the_whole_way_by_command(at):
    tomas, ines, runa = at("tomas"), at("ines"), at("runa")
    words = ["--title", "Tides", "--team", "berths", "--contact", "c", "--tag", "harbour"]
    assert "on the shelf of Berths" in tomas.run("enrol", "tide-tables", *words)
    snapshot = tomas.file("tides.json", declared("tide-tables", "1.1.0"))
    launch = tomas.file(
        "launch.json", {"environment": "test", "transport": "stdio", "command": "tides --quiet"}
    )
    checked = tomas.json("check", snapshot, "--base", "tide-tables")
    assert (checked["passed"], checked["base"]) == (True, "first")
    jsonschema.validate(checked, schema("assessment-1"))
    text = tomas.run("submit", "tide-tables", snapshot, "--launch", launch, "--note", "First.")
    number = re.search(r"Request (\d+)", text).group(1)
    assert "Curators" in text
    assert "“First.”" in text
    assert "waits for you" in (ines.run("queue"), ines.notes)[1]
    assert "tide-tables 1.1.0" in tomas.run("queue", "--state", "all")
    assert tomas.run("queue", "--state", "done") == "Nothing waits.\n"
    assert "--agree" in (ines.run("show", number), ines.notes)[1]
    assert "Ines Varga at curators: agree: Fine." in ines.run("answer", number, "--agree", "--note", "Fine.")
    assert ines.json("answer", number, "--agree")["state"] == "agreed"  # again changes nothing
    assert "Published tide-tables 1.1.0" in tomas.run("publish", number)
    assert "current" in runa.run("show", "tide-tables")
    assert "1.1.0" in runa.run("show", "tide-tables@1.1.0")
    assert "get_clearance" in runa.run("show", "tide-tables#get_clearance")
    assert "no item" in runa.run("show", "tide-tables#gone")
    assert "get_clearance" in runa.run("outline", "tide-tables@1.1.0#get_clearance")
    block = json.loads(runa.run("connect", "tide-tables"))
    assert block["mcpServers"]["tide-tables"]["command"] == "tides --quiet"
    assert runa.json("connect", "tide-tables")["environment"] == "test"
    assert "no changes" in runa.run("compare", "tide-tables", snapshot)
    assert runa.json("overlap", snapshot, "--catalog")["format"] == "tallshelf.overlaps/1"
    drift = runa.json("watch", "--once", "tide-tables")
    assert drift["servers"][0]["standing"] == "not checked"
    assert "not checked" in runa.run("watch", "--once", "--environment", "production")
    assert "Suspended get" not in ines.run(
        "suspend", "tide-tables#get_clearance", "--reason", "wrong by a foot"
    )
    assert "Suspended tide-tables: wrong" in ines.run("suspend", "tide-tables", "--reason", "wrong by a foot")
    assert "suspended (the whole server)" in runa.run("show", "tide-tables")
    with pytest.raises(Conflict, match="wrong by a foot"):
        runa.run("connect", "tide-tables")
    events = {row["event"] for row in ines.json("ledger", "--subject", "tide-tables")["entries"]}
    assert {"server-enrolled", "release-submitted", "signed-off", "release-published", "suspended"} <= events


def test_answers_that_are_refused(at):
    tomas, ines = at("tomas"), at("ines")
    snapshot = tomas.file("plan.json", declared("berth-planner", "1.4.2"))
    number = str(tomas.json("submit", "berth-planner", snapshot)["id"])
    with pytest.raises(Denied, match="nobody signs off what they submitted"):
        tomas.run("answer", number, "--agree")
    with pytest.raises(BadArgument, match="say why"):
        ines.run("answer", number, "--send-back")
    with pytest.raises(Conflict, match="is about"):
        ines.run("answer", number, "--agree", "--digest", "0000")
    with pytest.raises(Denied, match="lacks the scope 'submit'"):
        at("tomas", "read").run("submit", "berth-planner", snapshot)
    with pytest.raises(BadReference):
        ines.run("suspend", "berth-planner@1.4.2", "--reason", "x")
    with pytest.raises(BadReference):
        ines.run("connect", "plan.json")
    assert "was sent back" in ines.run("answer", number, "--send-back", "--note", "Say what it returns.")


def test_files_need_no_service(tmp_path):
    here = Terminal(tmp_path)
    old = here.file("old.json", declared("berth-planner", "1.4.2"))
    new = here.file("new.json", declared("berth-planner", "1.5.0"))
    assert "honest 2.0.0" in here.run("compare", old, new, "--all")
    assert here.json("compare", old, new, "--gate", code=1)["next_version"]["is_honest"] is False
    assert "contradicting-annotation" in here.run("lint", new, code=1)
    assert old in here.run("lint", old, new, code=1)
    assert set(here.json("lint", old, new, code=1)) == {old, new}
    assert "vague-name" in here.run("lint", "--rules")
    assert {"rule", "family", "covers", "level", "reason"} <= here.json("lint", "--rules")[0].keys()
    assert "does not pass" in here.run("check", new, "--base", old, code=1)
    assert here.json("check", old)["not_checked"]
    assert here.json("outline", f"{old}#find_free_berth")["items"][0]["name"] == "find_free_berth"
    assert here.run("overlap", old, new)
    with pytest.raises(SignInNeeded):
        here.run("queue")
    with pytest.raises(BadArgument, match="no item"):
        here.run("outline", f"{old}#nowhere")
    with pytest.raises(BadArgument, match="nothing to check"):
        here.run("lint")
    with pytest.raises(BadArgument, match="not a SemVer"):
        here.run("check", old, "--version", "two")
    with pytest.raises(BadArgument, match="cannot write"):
        IO(streams.StringIO(), streams.StringIO(), {}).write_file("/no/such/place/x", "")


def test_secrets_come_from_the_environment_or_a_file_only(tmp_path):
    from tallshelf.cli.options import add_endpoint, endpoint_from

    key = tmp_path / "key.txt"
    key.write_text("hunter22\n", "utf-8")
    parser = argparse.ArgumentParser()
    add_endpoint(parser)

    def endpoint(*words: str, **environ: str) -> tuple[Any, str, Any]:
        io = IO(streams.StringIO(), streams.StringIO(), environ)
        return endpoint_from(parser.parse_args(list(words)), io)

    web = ("--http", "https://x.example/mcp")
    found, name, _ = endpoint(*web, "--bearer-from", "KEY", "--header-from", f"X-Key=@{key}", KEY="s3cret")
    assert dict(found.headers) == {"X-Key": "hunter22", "Authorization": "Bearer s3cret"}
    assert (name, "s3cret" in repr(found), "hunter22" in repr(found)) == ("X-Key, KEY", False, False)
    found, name, _ = endpoint("--stdio", "run 'two words'", "--pass", "KEY", KEY="s3cret")
    assert (found.command, found.args, dict(found.env), name) == (
        "run",
        ("two words",),
        {"KEY": "s3cret"},
        "KEY",
    )
    for words in (
        (*web, "--bearer-from", "UNSET"),
        (*web, "--header-from", "X-Key"),
        (*web, "--header-from", "X-Key=@/no/such/file"),
        (*web, "--pass", "KEY"),
        ("--stdio", "x", "--bearer-from", "KEY"),
        ("--stdio", "'unclosed"),
        ("--stdio", " "),
    ):
        with pytest.raises(BadArgument):
            endpoint(*words, KEY="x")


@pytest.mark.parametrize(
    ("words", "arguments"),
    [
        ([], {}),
        (["n=84", "s=north", "on=true", 'rows=["a"]', "empty=", "text=a=b"], None),
        (['{"n": 84}'], {"n": 84}),
    ],
)
def test_arguments_of_a_call(words, arguments):
    whole = {"n": 84, "s": "north", "on": True, "rows": ["a"], "empty": "", "text": "a=b"}
    assert read_arguments(words) == (whole if arguments is None else arguments)


@pytest.mark.parametrize("words", [["x"], ["=1"], ["{"], ["[1]"]])
def test_arguments_that_cannot_be_read(words):
    with pytest.raises(BadArgument):
        read_arguments(words)


def test_errors_come_out_as_a_reason_a_remedy_and_an_exit_code(capsys, tmp_path):
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "tallshelf.snapshot/1", "server": {}, "tools": [1, 2]}', "utf-8")
    assert entry.main(["lint", str(bad)]) == 2
    said = capsys.readouterr().err.splitlines()
    assert said[0].startswith("tallshelf lint: not a snapshot at /tools/0")
    assert '  at /tools/1: 2 is not of type "object"' in said
    assert said[-1].startswith("  Take it with")
    assert entry.main(["capture", "--http", "http://127.0.0.1:9/", "--time-limit", "1"]) == 3
    assert entry.main([]) == 2
    assert "exit" in capsys.readouterr().out.lower()


TEXTS = st.text(st.characters(exclude_categories=["Cs"]), max_size=120)


@settings(max_examples=60)
@given(TEXTS, TEXTS, TEXTS)
def test_no_report_lets_hidden_characters_of_a_server_through(name, text, other):
    def snapshot(description: str) -> Any:
        tool = {
            "name": name,
            "description": description,
            "inputSchema": {"properties": {text: {"const": other}}},
        }
        info = {"name": text, "version": other}
        return snapshot_from(
            {
                "format": "tallshelf.snapshot/1",
                "server": {"serverInfo": info, "instructions": other},
                "tools": [tool],
            }
        )

    old, new = snapshot(text), snapshot(other)
    comparison = compare_snapshots(old, new)
    assessment = assess(new, Context(base=Base(text, None, old), rules=DEFAULT_RULES))
    for report in (
        outline_text(outline(new)),
        comparison_text(comparison, next_version("1.0.0", None, comparison), everything=True),
        lint_text(lint(new), snapshot=new),
        assessment_text(assessment, "x"),
    ):
        assert not HIDDEN.search(report)


@pytest.mark.parametrize("name", names())
def test_reports_fit_a_hundred_columns_and_colour_adds_nothing_but_colour(name):
    old, new = snapshot_from(declared(name, "1.0.0")), snapshot_from(declared(name, "1.5.0"))
    comparison = compare_snapshots(old, new)
    version = next_version("1.0.0", "1.0.1", comparison)
    assessment = assess(new, Context(base=Base("base.json", "1.0.0", old), rules=DEFAULT_RULES))
    for draw in (
        lambda paint: outline_text(outline(new), paint),
        lambda paint: comparison_text(comparison, version, paint),
        lambda paint: lint_text(lint(new), paint, new),
        lambda paint: overlaps_text((), paint),
        lambda paint: assessment_text(assessment, name, paint),
    ):
        plain, coloured = draw(PLAIN), draw(ANSI)
        assert re.sub(r"\x1b\[\d+m", "", coloured) == plain
        assert max(map(len, plain.splitlines())) <= 100


def test_tables_align():
    assert table([("a", "bb"), ("ccc", "d")], ("x", "y")) == "x    y\na    bb\nccc  d"
    assert table([]) == ""


def test_the_inbox_has_a_word_for_whatever_may_wait():
    kinds = schema("inbox-1")["properties"]["inbox"]["items"]["properties"]["kind"]["enum"]
    assert set(kinds) == set(inbox._WORDS)


def test_a_queue_that_is_cut_says_so_in_every_format(at, published, submitted):
    published("1.4.2")
    submitted("1.5.0")
    ines = at("ines")
    for words in (["--format", "json"], []):
        said = ines.run("queue", "--state", "all", "--limit", "1", *words)
        assert "1.5.0" in said and "1.4.2" not in said and "the newest 1; more: --limit" in ines.notes
    ines.run("queue", "--limit", "1")
    assert "more: --limit" not in ines.notes  # of what is not decided yet nothing is left out
    with pytest.raises(SystemExit):
        ines.run("queue", "--limit", "0")
