"""Rules on schemas."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.compat import Unusable, validator
from tallshelf.core.style.rule import Rule, Spot, Subject

_FIELDS = ("inputSchema", "outputSchema")


def _invalid_schema(subject: Subject) -> Iterator[Spot]:
    for item in subject.snapshot.tools:
        for field in _FIELDS:
            if field not in item.body:
                if field == "inputSchema":
                    yield Spot(item.identity, "", "there is no input schema; MCP asks every tool for one")
                continue
            schema = item.body[field]
            if not isinstance(schema, dict):
                yield Spot(item.identity, f"/{field}", "a schema here must be an object")
                continue
            try:
                validator(schema)
            except Unusable as fault:
                yield Spot(item.identity, f"/{field}", str(fault))


def _undeclared_required(subject: Subject) -> Iterator[Spot]:
    for item in subject.snapshot.tools:
        for field in _FIELDS:
            yield from _required_in(item.identity, item.body.get(field), f"/{field}", 0)


def _required_in(item: str, schema: Any, pointer: str, depth: int) -> Iterator[Spot]:
    if not isinstance(schema, dict) or depth > 40:
        return
    properties, required = schema.get("properties"), schema.get("required")
    if isinstance(required, list) and not schema.keys() & {
        "allOf",
        "anyOf",
        "oneOf",
        "$ref",
        "patternProperties",
    }:
        for index, name in enumerate(required):
            if isinstance(name, str) and name not in (properties if isinstance(properties, dict) else {}):
                where = f"{pointer}/required/{index}"
                yield Spot(
                    item,
                    where,
                    f"`{name}` is required but not declared; declare it, or drop it from required",
                    suggestion=({"op": "remove", "path": where},),
                )
    for name, child in (properties if isinstance(properties, dict) else {}).items():
        step = name.replace("~", "~0").replace("/", "~1")
        yield from _required_in(item, child, f"{pointer}/properties/{step}", depth + 1)
    yield from _required_in(item, schema.get("items"), f"{pointer}/items", depth + 1)


RULES = (
    Rule(
        id="invalid-schema",
        family="schemas",
        covers=("invalid-schema",),
        level="error",
        reason="A schema that no validator can use checks nothing, and cannot be compared with the next release.",
        check=_invalid_schema,
        bad={"tools": [{"name": "find_crew", "inputSchema": {"type": "objekt"}}]},
        good={"tools": [{"name": "find_crew", "inputSchema": {"type": "object"}}]},
    ),
    Rule(
        id="undeclared-required",
        family="schemas",
        covers=("required-undeclared",),
        level="error",
        reason="A required parameter that is not declared cannot be filled by anyone who reads the schema.",
        check=_undeclared_required,
        bad={
            "tools": [{"name": "find_crew", "inputSchema": {"type": "object", "required": ["staff_number"]}}]
        },
        good={
            "tools": [
                {
                    "name": "find_crew",
                    "inputSchema": {
                        "type": "object",
                        "properties": {"staff_number": {"type": "string"}},
                        "required": ["staff_number"],
                    },
                }
            ]
        },
    ),
)
