"""Within /api/v1 nothing is taken away or narrowed, held against the document of the last release."""

from __future__ import annotations

import copy
import json
import lzma
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from tallshelf.core.compat import compare_schemas

OPEN = {"risen", "withdraw", "remark", "over-budget"}
"""A value of each open list: what waits in an inbox, kinds of requests and of comments, what is wrong with a kit."""
LAST = Path(__file__).parent / "data" / "openapi-last-release.json.xz"
"""Written by ``python -m tests.service.test_api_policy`` from docs/openapi.json when a release is made."""


def bodies(call: dict[str, Any]) -> tuple[Any, Any]:
    """Return the schemas of what a call takes and of what it answers when it is done."""
    taken = call.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema")
    done = next((one for status, one in call["responses"].items() if status in ("200", "201")), {})
    return taken, done.get("content", {}).get("application/json", {}).get("schema")


def departures(old: dict[str, Any], new: dict[str, Any]) -> list[str]:
    """Return what a program that was written for the old document may no longer do, in words."""
    found = []
    for path, calls in old["paths"].items():
        for method, before in calls.items():
            name = f"{method.upper()} {path}"
            after = new["paths"].get(path, {}).get(method)
            if after is None:
                found.append(f"{name} is gone")
                continue
            known = {(one["in"], one["name"]) for one in after.get("parameters", ())}
            asked = {(one["in"], one["name"]) for one in before.get("parameters", ())}
            found += [f"{name} takes {one[1]} no more" for one in sorted(asked - known)]
            found += [
                f"{name} needs {one['name']}"
                for one in after.get("parameters", ())
                if one.get("required") and (one["in"], one["name"]) not in asked
            ]
            sides = zip(bodies(before), bodies(after), ("input", "output"), strict=True)
            for left, right, position in sides:
                if left is not None and _with(left, old) != _with(right, new):
                    before_it, after_it = _with(left, old), _with(right, new)
                    if position == "output":
                        before_it, after_it = _opened(before_it), _opened(after_it)
                    verdict = compare_schemas(before_it, after_it, position, "as-declared").verdict
                    found += [f"{name}: its {position} is {verdict}"] if verdict == "breaking" else []
    return found


def _with(schema: Any, document: dict[str, Any]) -> Any:
    """Return a schema with the components that it refers to, and no others."""
    components = document["components"]["schemas"]
    wanted, seen = [schema], {}
    while wanted:
        one = wanted.pop()
        if isinstance(one, dict):
            name = str(one.get("$ref", "")).removeprefix("#/components/schemas/")
            if name in components and name not in seen:
                seen[name] = components[name]
                wanted.append(components[name])
            wanted += one.values()
        elif isinstance(one, list):
            wanted += one
    return {**schema, "components": {"schemas": seen}} if isinstance(schema, dict) else schema


def _opened(schema: Any) -> Any:
    """Return what is answered as programs are told to read it.

    They pass over members, and over values of lists that are told to be open, that they do not know.
    """
    if isinstance(schema, list):
        return [_opened(one) for one in schema]
    if not isinstance(schema, dict):
        return schema
    if OPEN & set(map(str, schema.get("enum", ()))):
        return {key: one for key, one in schema.items() if key != "enum"}
    closed = schema.get("additionalProperties") is False
    return {
        key: _opened(one) for key, one in schema.items() if not (closed and key == "additionalProperties")
    }


@pytest.fixture(scope="module")
def last():
    return json.loads(lzma.decompress(LAST.read_bytes()))


def test_no_call_takes_less_or_answers_otherwise_than_in_the_last_release(last, db):
    now = Client().get("/api/v1/openapi.json").json()
    assert departures(last, now) == []


def test_the_comparison_sees_what_is_taken_away(last):
    for change, told in (
        (lambda d: d["paths"].pop("/api/v1/find"), "GET /api/v1/find is gone"),
        (lambda d: d["paths"]["/api/v1/find"]["get"]["parameters"].pop(0), "GET /api/v1/find takes"),
        (
            lambda d: d["components"]["schemas"]["NewServer"]["required"].append("scheme"),
            "POST /api/v1/servers: its input is breaking",
        ),
        (
            lambda d: d["components"]["schemas"]["Hit"]["properties"]["server"].update(type="integer"),
            "GET /api/v1/find: its output is breaking",
        ),
    ):
        less = copy.deepcopy(last)
        change(less)
        assert any(one.startswith(told) for one in departures(last, less)), told


if __name__ == "__main__":
    document = json.loads((Path(__file__).parents[2] / "docs" / "openapi.json").read_text("utf-8"))
    LAST.write_bytes(lzma.compress(json.dumps(document, sort_keys=True).encode()))
