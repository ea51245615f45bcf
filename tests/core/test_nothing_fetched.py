"""Strangers' schemas name addresses; comparing and linting them never goes there."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.snapshot import Snapshot, snapshot_from
from tallshelf.core.style import lint

AROUND = {
    "itself": lambda schema: schema,
    "a member": lambda schema: {"properties": {"quay": schema}},
    "members not told": lambda schema: {"unevaluatedProperties": schema},
    "a part that is left whole": lambda schema: {"allOf": [schema], "unevaluatedProperties": False},
    "names": lambda schema: {"propertyNames": schema},
    "a condition": lambda schema: {"if": schema, "then": {"maxProperties": 2}},
    "its opposite": lambda schema: {"not": schema},
    "an identified part": lambda schema: {
        "$defs": {"quay": {"$id": "urn:quay", **schema}},
        "$ref": "urn:quay",
    },
}


@pytest.fixture(scope="module")
def stranger() -> Iterator[tuple[str, list[str]]]:
    asked: list[str] = []

    class Listening(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            asked.append(self.path)
            self.send_response(200)
            self.end_headers()
            self.wfile.write(b'{"type": "object"}')

        def log_message(self, *_: Any) -> None: ...

    server = HTTPServer(("127.0.0.1", 0), Listening)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}", asked
    server.shutdown()
    server.server_close()


@pytest.mark.parametrize("where", AROUND)
@pytest.mark.parametrize("keyword", ["$ref", "$dynamicRef", "$schema", "$recursiveRef"])
def test_no_address_in_a_schema_is_gone_to(stranger, keyword, where):
    address, asked = stranger
    old, new = (
        _declared(AROUND[where]({keyword: f"{address}/quay", "type": types}))
        for types in ("object", ["object", "null"])
    )
    for before, after in ((old, new), (new, old), (old, _declared({"type": "object"}))):
        compare_snapshots(before, after)
    lint(new)
    assert asked == []


@pytest.mark.parametrize("dialect", ["https://dialects.example/none", "file:///etc/hostname", "quay", "", 5])
def test_a_dialect_that_is_not_known_is_a_finding_and_undecided(dialect):
    schema = {"$schema": dialect, "type": "object", "properties": {"quay": {"type": "string"}}}
    found = {(one.pointer, one.level) for one in lint(_declared(schema)) if one.rule == "invalid-schema"}
    assert found == {("/inputSchema", "error"), ("/outputSchema", "error")}
    narrower = {**schema, "required": ["quay"]}
    changes = compare_snapshots(_declared(schema), _declared(narrower)).changes
    assert {one.impact for one in changes} == {"undecided"}


def _declared(schema: Any) -> Snapshot:
    tool = {
        "name": "find_quay",
        "description": "Finds a quay.",
        "inputSchema": schema,
        "outputSchema": schema,
    }
    return snapshot_from({"tools": [tool]})
