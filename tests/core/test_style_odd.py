"""No declaration, however odd, switches a rule off."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.core.snapshot import FORMAT, snapshot_from
from tallshelf.core.style import lint

NAMES = ["_", "___", "²", "码头", "a", "RUN", "set_-_", "list_berths", "١٢", "é", "x" * 64, "..", "0"]
PARAMETERS = [
    *("code", "script", "statement", "expression", "command", "path", "url", "query", "token", "_", "²"),
    *("date", "unit", "limit", "currency", "format", "mode", "page", "from", "to", "id", "é_", "-"),
]
WORDS = [
    *("run", "runs", "the", "code", "²", "½", "half an hour", "defaults to", "one of", "'a', 'b'", "12.5.3"),
    *(
        "at most",
        "between",
        "and",
        "m³/h",
        "UTC+25",
        "-",
        "`",
        "```",
        "{",
        "2026-02-31",
        "—",
        "…",
        "\n\n",
        "۳",
    ),
    *("must be", "ignore", "always", "use `_`", "null", "1e999", "%", "§", "(", ")", "ß", "؟", "https://"),
]
SENTENCES = st.lists(st.sampled_from(WORDS), max_size=9).map(" ".join)
VALUES = st.sampled_from(
    [None, True, 0, -1, 1.5, 1e308, 2**70, "", "a", "²", [], ["a", None], {}, {"a": 1}, [[1]], "half an hour"]
)
SCHEMAS = st.one_of(
    st.booleans(),
    st.fixed_dictionaries(
        {},
        optional={
            "description": SENTENCES,
            "title": SENTENCES,
            "type": st.sampled_from(["string", "number", "integer", "boolean", "array", "object", "null"]),
            "default": VALUES,
            "enum": st.lists(VALUES, min_size=1, max_size=3, unique_by=repr),
            "examples": st.lists(VALUES, max_size=2),
            "format": st.sampled_from(["date", "date-time", "uri", "²", ""]),
            "minimum": st.sampled_from([0, -5, 1.5, 1e300]),
            "maximum": st.sampled_from([0, 100, -1e300]),
            "maxLength": st.sampled_from([0, 5]),
            "pattern": st.sampled_from(["", "^a$", "[", "(?=a)b"]),
            "items": st.sampled_from([{"type": "string"}, True, {"enum": [None]}]),
        },
    ),
)
TOOLS = st.fixed_dictionaries(
    {
        "name": st.sampled_from(NAMES),
        "inputSchema": st.dictionaries(st.sampled_from(PARAMETERS), SCHEMAS, max_size=4).map(
            lambda members: {"type": "object", "properties": members, "required": sorted(members)[:1]}
        ),
    },
    optional={
        "title": SENTENCES,
        "description": SENTENCES,
        "annotations": st.fixed_dictionaries(
            {}, optional={"readOnlyHint": st.booleans(), "title": SENTENCES, "destructiveHint": st.booleans()}
        ),
        "outputSchema": st.just({"type": "object"}),
        "_meta": st.dictionaries(st.sampled_from(["a.b/c", "²"]), VALUES, max_size=1),
    },
)
SERVERS = st.fixed_dictionaries(
    {
        "format": st.just(FORMAT),
        "server": st.fixed_dictionaries({"instructions": SENTENCES}),
        "tools": st.lists(TOOLS, min_size=1, max_size=3, unique_by=lambda tool: tool["name"]),
    },
    optional={
        "prompts": st.lists(
            st.fixed_dictionaries(
                {"name": st.sampled_from(NAMES), "description": SENTENCES},
                optional={"arguments": st.just([{"name": "_"}, {"name": "code", "description": "²"}])},
            ),
            max_size=1,
        ),
        "resources": st.lists(
            st.fixed_dictionaries({"uri": st.just("berth://a"), "name": st.sampled_from(NAMES)}), max_size=1
        ),
    },
)


@settings(max_examples=120)
@given(SERVERS)
def test_no_declaration_makes_a_rule_fail(document):
    assert [one.message for one in lint(snapshot_from(document)) if "failed here" in one.message] == []


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("parameter", ["code", "script", "statement", "expression"])
def test_a_tool_whose_name_has_no_words_hides_no_raw_command(name, parameter):
    members = {parameter: {"type": "string", "description": "Run in a shell as it is."}}
    tool = {"name": name, "inputSchema": {"type": "object", "properties": members}}
    found = {one.rule for one in lint(snapshot_from({"tools": [tool]}))}
    assert "raw-command-parameter" in found
