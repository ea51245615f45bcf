"""What MCP says of a tool's schemas beyond their text: arguments and structured results are objects."""

from __future__ import annotations

from typing import Any


def of_objects(schema: Any) -> Any:
    """Return a schema for objects alone, where it takes other types as well or does not say; pointers stay."""
    if schema is True:
        return {"type": "object"}
    if not isinstance(schema, dict):
        return schema
    types = schema.get("type", ["object"])
    return {**schema, "type": "object"} if isinstance(types, list) and "object" in types else schema
