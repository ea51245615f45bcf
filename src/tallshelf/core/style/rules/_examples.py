"""Short ways to write the examples of rules."""

from __future__ import annotations

from typing import Any

GOOD_TEXT = "List the berths of one port with their length in metres. Returns at most fifty."


def tool(
    name: str = "list_berths",
    description: str | None = GOOD_TEXT,
    required: tuple[str, ...] = (),
    returns: dict[str, Any] | None = None,
    annotations: dict[str, Any] | None = None,
    **parameters: Any,
) -> dict[str, Any]:
    """One tool; a parameter that is a string is a text parameter with that description."""
    schema: dict[str, Any] = {
        "type": "object",
        "properties": {one: _schema(said) for one, said in parameters.items()},
    }
    if required:
        schema["required"] = list(required)
    made: dict[str, Any] = {"name": name, "inputSchema": schema}
    if description is not None:
        made["description"] = description
    if returns is not None:
        made["outputSchema"] = {"type": "object", "properties": returns}
    if annotations is not None:
        made["annotations"] = annotations
    return made


def _schema(said: Any) -> Any:
    return {"type": "string", "description": said} if isinstance(said, str) else said


def tools(*found: dict[str, Any]) -> dict[str, Any]:
    """A bare list of tools, as a snapshot document may be."""
    return {"tools": list(found)}


def says(description: str) -> dict[str, Any]:
    """A server with one tool of a description."""
    return tools(tool(description=description))


def takes(**parameters: Any) -> dict[str, Any]:
    """A server with one tool of some parameters."""
    return tools(tool(**parameters))


def server(**said: Any) -> dict[str, Any]:
    """A server with something said of itself, or other lists; it has no tools unless given."""
    lists: dict[str, Any] = {
        name: said.pop(name)
        for name in ("tools", "resources", "resourceTemplates", "prompts")
        if name in said
    }
    return {"format": "tallshelf.snapshot/1", "server": said, **lists}
