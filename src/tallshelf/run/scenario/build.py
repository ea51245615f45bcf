"""Short ways to write a tool server's declarations."""

from __future__ import annotations

from typing import Any

from tallshelf.core.snapshot import FORMAT

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
