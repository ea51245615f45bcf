"""Linting by command: what is shown, other programs' formats, house styles, and mended copies."""

from __future__ import annotations

import json
import re
import xml.etree.ElementTree as ET
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tallshelf.core.errors import BadArgument, BadDocument
from tallshelf.core.formats import schema
from tallshelf.core.reports import lint_sarif, lint_text
from tallshelf.core.reports.lines import WIDTH
from tallshelf.core.snapshot import parse_snapshot
from tallshelf.core.style import RULES, Finding, lint
from tallshelf.run.scenario.declarations import declared, names

CERTIFICATES = declared("crew-certificates", "0.3.0")
_SCHEMA = json.loads((Path(__file__).parent / "standards" / "sarif-2.1.0.json").read_text("utf-8"))
SARIF = jsonschema.Draft202012Validator(_SCHEMA, format_checker=jsonschema.FormatChecker())


def test_findings_quote_the_text_and_mark_the_spot(offline):
    found = offline.file("found.json", CERTIFICATES)
    text = offline.run("lint", found, "--level", "warning", code=1)
    assert "    │ TODO\n    │ ^^^^\n" in text
    assert "note" not in text
    alone = offline.run("lint", found, "--rule", "vague-name", code=1)
    assert alone.startswith("1 warning.\n\ntool:process_data\n")
    jsonschema.validate(offline.json("lint", found, code=1), schema("findings-1"))


ODD = st.text(st.sampled_from("ab \u202e\U000e0064"), max_size=200)


@given(ODD, ODD)
def test_a_quote_cuts_no_escape_and_fits(before, after):
    tool = {"name": "list_berths", "description": f"{before}TODO{after}", "inputSchema": {"type": "object"}}
    snapshot = parse_snapshot(json.dumps({"tools": [tool]}).encode())
    at = Finding(
        rule="placeholder-text",
        family="words",
        covers=(),
        level="warning",
        item="tool:list_berths",
        pointer="/description",
        span=(len(before), len(before) + 4),
        message="m",
        suggestion=None,
        fingerprint="f",
    )
    line, mark = lint_text([at], snapshot=snapshot).splitlines()[-2:]
    assert len(line) <= WIDTH and line[mark.index("^") :].startswith("TODO")
    left = re.sub(r"\\u\{[0-9a-f]{4,5}\}", "", line)
    assert not set(left) & set("\\{}")


def test_a_copy_is_mended_and_the_rest_is_told(offline):
    found, mended = offline.file("found.json", CERTIFICATES), offline.home / "mended.json"
    text = offline.run("lint", found, "--fix", str(mended), "--level", "error", code=1)
    assert text.startswith("1 suggestion was applied;")
    snapshot = parse_snapshot(mended.read_bytes())
    rules = {one.rule for one in lint(snapshot)}
    assert "hidden-characters" not in rules
    assert "orders-to-the-model" in rules
    assert {tool.name for tool in snapshot.tools} == {tool["name"] for tool in CERTIFICATES["tools"]}


def test_other_programs_formats(offline):
    found = offline.file("found at sea.json", CERTIFICATES)
    sarif = _sarif(offline, found, code=1)
    assert sarif["version"] == "2.1.0"
    regions = [
        one["locations"][0]["physicalLocation"]["region"]["startLine"] for one in sarif["runs"][0]["results"]
    ]
    assert all(line >= 1 for line in regions)
    (run,) = sarif["runs"]
    rules = run["tool"]["driver"]["rules"]
    assert [rule["id"] for rule in rules] == [rule.id for rule in RULES]
    for result in run["results"]:
        assert rules[result["ruleIndex"]]["id"] == result["ruleId"]
        assert result["level"] in ("error", "warning", "note")
        assert result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"]
    tree = ET.fromstring(offline.run("lint", found, "--format", "junit", code=1))
    (suite,) = tree
    assert int(suite.attrib["tests"]) == len(suite) == len(run["results"])
    assert int(suite.attrib["failures"]) == len(suite.findall("testcase/failure")) == 3
    assert "| ■ error | hidden-characters |" in offline.run("lint", found, "--format", "markdown", code=1)


def test_a_token_in_a_text_is_told_and_not_shown(offline):
    token = "tls_" + "q7Zp0" * 6
    tool = {"name": "find_berth", "description": f"Finds a berth. Send {token} in the header of the call."}
    found = offline.file("leaked.json", {"tools": [tool | {"inputSchema": {"type": "object"}}]})
    for words in (("lint",), ("lint", "--format", "markdown"), ("lint", "--format", "json"), ("outline",)):
        command, *more = words
        text = offline.run(command, found, *more, code=1 if command == "lint" else 0)
        assert token[:14] not in text
    assert "Send tls_… in" in offline.run("outline", found)


def test_sarif_keeps_to_its_schema_whatever_was_found(offline):
    files = [offline.file(f"{name}.json", declared(name, "1.0.0")) for name in names()]
    assert _sarif(offline, *files, code=1)["runs"][0]["results"]
    fine = {"name": "count_berths", "description": "Counts the berths of one pier and returns their number."}
    quiet = offline.file("quiet.json", {"tools": [fine | {"inputSchema": {"type": "object"}}]})
    assert _sarif(offline, quiet, "--level", "error")["runs"][0]["results"] == []
    first, second, *_ = lint(parse_snapshot(json.dumps(CERTIFICATES).encode()))
    aside = [replace(first, waived="W-7"), replace(second, known=True)]
    log = lint_sarif({"crew-certificates@0.3.0": aside}, "1.0.0")
    SARIF.validate(log)
    whys = [one["suppressions"][0]["justification"] for one in log["runs"][0]["results"]]
    assert whys == ["waived by W-7", "accepted when the server was taken in"]


def _sarif(offline, *arguments, code=0):
    document = json.loads(offline.run("lint", *arguments, "--format", "sarif", code=code))
    SARIF.validate(document)
    return document


STYLE = """
name = "pellam"
[levels]
hidden-characters = "off"
orders-to-the-model = "note"
asks-for-secrets = "note"
[settings.short-description]
fewest_words = 1
[words]
banned = { certificate = "licence" }
[[profiles]]
name = "bridge desk"
name_length = 20
"""


def test_a_house_style_from_a_file(offline):
    found, style = offline.file("found.json", CERTIFICATES), offline.file("house.toml", STYLE)
    findings = offline.json("lint", found, "--style", style)["findings"]
    rules = {one["rule"]: one for one in findings}
    assert "hidden-characters" not in rules
    assert "short-description" not in rules
    assert rules["orders-to-the-model"]["level"] == "note"
    assert "hosts cut it at 20" in rules["long-name"]["message"]
    (operation,) = rules["banned-term"]["suggestion"]
    assert "licence" in operation["value"]


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("levels = [", "the style is no TOML"),
        ("[levels]\nvague = 'error'", "line 2, key levels.vague: it names no rule"),
        ("[levels]\nvague-name = 'bad'", "line 2, key levels.vague-name: it must be one of"),
        ("[settings.long-name]\nmost = 3", "line 2, key settings.long-name.most: it is not known"),
        ("[settings.long-name]\nmost_characters = 'x'", "must be a whole number, not 'x'"),
        ("[settings.long-name]\nmost_characters = true", "must be a whole number, not True"),
        ("[words]\nvague = [1]", "key words.vague: it must be a text, not 1"),
        ("colours = 1", "line 1, key colours: it is not known"),
        ("[[profiles]]\ntools = 3", "key profiles: it needs a name"),
    ],
)
def test_a_style_that_does_not_fit_is_refused_with_line_and_key(offline, text, message):
    found, style = offline.file("found.json", CERTIFICATES), offline.file("house.toml", text)
    with pytest.raises(BadDocument, match=r"(?s)" + message.replace("[", r"\[").replace(".", r"\.")):
        offline.run("lint", found, "--style", style)


def test_rules_are_listed_and_explained(offline):
    listed = offline.json("lint", "--rules")
    assert len(listed) == len(RULES) >= 60
    assert {"rule", "family", "covers", "level", "reason", "settings", "bad", "good"} <= listed[0].keys()
    explained = offline.run("lint", "--explain", "long-name")
    assert "settings  most_characters = 64" in explained
    with pytest.raises(BadArgument) as fault:
        offline.run("lint", "--explain", "vage-name")
    assert "Did you mean vague-name?" in fault.value.remedy
