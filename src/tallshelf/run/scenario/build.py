"""Short ways to write a tool server's declarations."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.core.snapshot import FORMAT, sort_key

READS = {"readOnlyHint": True, "openWorldHint": False}
WRITES = {"readOnlyHint": False, "destructiveHint": False, "idempotentHint": True}
DESTROYS = {"readOnlyHint": False, "destructiveHint": True}


def text(description: str, **more: Any) -> dict[str, Any]:
    return {"type": "string", "description": description, **more}


def number(description: str, **more: Any) -> dict[str, Any]:
    return {"type": "number", "description": description, **more}


def whole(description: str, **more: Any) -> dict[str, Any]:
    return {"type": "integer", "description": description, **more}


def flag(description: str, **more: Any) -> dict[str, Any]:
    return {"type": "boolean", "description": description, **more}


def record(properties: dict[str, Any], optional: tuple[str, ...] = ()) -> dict[str, Any]:
    """An object whose members are all required, but for some."""
    required = [name for name in properties if name not in optional]
    return {"type": "object", "properties": properties, **({"required": required} if required else {})}


def rows(properties: dict[str, Any], optional: tuple[str, ...] = ()) -> dict[str, Any]:
    return {"type": "array", "items": record(properties, optional)}


def tool(
    name: str,
    description: str,
    parameters: dict[str, Any],
    returns: dict[str, Any] | None = None,
    annotations: dict[str, Any] | None = None,
    optional: tuple[str, ...] = (),
    **more: Any,
) -> dict[str, Any]:
    """One MCP tool object."""
    made: dict[str, Any] = {
        "name": name,
        "description": description,
        "inputSchema": record(parameters, optional),
        "annotations": READS if annotations is None else annotations,
        **more,
    }
    if returns is not None:
        made["outputSchema"] = returns
    return made


def server(
    name: str,
    version: str,
    tools: list[dict[str, Any]],
    *,
    title: str = "",
    instructions: str = "",
    resources: list[dict[str, Any]] | None = None,
    templates: list[dict[str, Any]] | None = None,
    prompts: list[dict[str, Any]] | None = None,
) -> dict[str, Any]:
    """A snapshot document as a capture of the server would give it."""
    capabilities: dict[str, Any] = {"tools": {"listChanged": False}}
    if resources or templates:
        capabilities["resources"] = {"subscribe": False, "listChanged": False}
    if prompts:
        capabilities["prompts"] = {"listChanged": False}
    info = {"name": name, "version": version, **({"title": title} if title else {})}
    return {
        "format": FORMAT,
        "server": {
            "capabilities": capabilities,
            "serverInfo": info,
            **({"instructions": instructions} if instructions else {}),
        },
        "tools": tools,
        "resources": resources or [],
        "resourceTemplates": templates or [],
        "prompts": prompts or [],
    }


_TYPES: dict[str, dict[str, Any]] = {
    "text": {"type": "string"},
    "date": {"type": "string", "format": "date"},
    "moment": {"type": "string", "format": "date-time"},
    "number": {"type": "number"},
    "whole": {"type": "integer"},
    "flag": {"type": "boolean"},
    "names": {"type": "array", "items": {"type": "string"}},
}


def members(lines: str) -> tuple[dict[str, Any], tuple[str, ...]]:
    """Read members written one a line, ``name type description {"more": 1}``, a ``?`` after optional names.

    Returns their schemas and the names of the optional ones.
    """
    properties, optional = {}, []
    for line in filter(None, map(str.strip, lines.splitlines())):
        name, kind, rest = line.split(" ", 2)
        description, brace, more = rest.partition(" {")
        if name.endswith("?"):
            name = name[:-1]
            optional.append(name)
        extra = json.loads("{" + more) if brace else {}
        properties[name] = {**_TYPES[kind], "description": description, **extra}
    return properties, tuple(optional)


def job(
    name: str,
    description: str,
    takes: str = "",
    returns: str = "",
    annotations: dict[str, Any] | None = None,
    *,
    listed: str = "",
) -> dict[str, Any]:
    """One tool from members in short; with ``listed`` it returns a list of such objects by that name."""
    parameters, optional = members(takes)
    found, missing = members(returns)
    result = None
    if returns:
        result = record({listed: rows(found, missing)}) if listed else record(found, missing)
    return tool(name, description, parameters, result, annotations, optional)


def resource(uri: str, name: str, description: str, mime_type: str = "application/json") -> dict[str, Any]:
    """One MCP resource; without a type when that is empty."""
    typed = {"mimeType": mime_type} if mime_type else {}
    return {"uri": uri, "name": name, "description": description, **typed}


def template(uri: str, name: str, description: str, mime_type: str = "application/json") -> dict[str, Any]:
    """One MCP resource template."""
    return {"uriTemplate": uri, "name": name, "description": description, "mimeType": mime_type}


def prompt(name: str, description: str, **arguments: str) -> dict[str, Any]:
    """One MCP prompt, whose arguments are all required."""
    needed = [{"name": one, "description": words, "required": True} for one, words in arguments.items()]
    return {"name": name, "description": description, "arguments": needed}


def since(version: str, first: str) -> bool:
    """Whether a version is at or after another."""
    return sort_key(version) >= sort_key(first)
