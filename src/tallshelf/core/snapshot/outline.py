"""What a model will see of a server, and about how much of its context that takes.

The estimate is one token for every four UTF-8 bytes of the compact JSON that a host
hands to the model: for a tool its name, description and input schema; for a prompt its
name, description and arguments; for a resource or template its address, name and
description. Tokenisers differ by about a fifth to either side on such text.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import orjson
from msgspec import Struct

from tallshelf.core.pointer import name_of
from tallshelf.core.snapshot.model import NAME_FIELDS, Item, ItemKind, Snapshot

TOKEN_METHOD = "about one token for every 4 bytes of the compact JSON a host hands to the model"

_SEEN: dict[ItemKind, tuple[str, ...]] = {
    "tool": ("name", "description", "inputSchema"),
    "resource": ("uri", "name", "description"),
    "template": ("uriTemplate", "name", "description"),
    "prompt": ("name", "description", "arguments"),
}


class Line(Struct, frozen=True):
    """One parameter or result field: its name (with nesting), type in words, and text."""

    name: str
    type: str
    required: bool
    description: str
    pointer: str


class ItemOutline(Struct, frozen=True):
    """One item as a model sees it."""

    identity: str
    kind: ItemKind
    name: str
    description: str
    tokens: int
    parameters: tuple[Line, ...]
    results: tuple[Line, ...]


class Outline(Struct, frozen=True):
    """A whole snapshot as a model sees it."""

    server: str
    instructions: str
    items: tuple[ItemOutline, ...]
    tokens: int


def estimate_tokens(value: Any) -> int:
    """Estimate the tokens of a JSON value; see the module's text for the method."""
    return -(-len(orjson.dumps(value, option=orjson.OPT_PASSTHROUGH_SUBCLASS)) // 4)


def item_tokens(item: Item) -> int:
    """Estimate what one item takes of a model's context."""
    seen = {name: item.body[name] for name in _SEEN[item.kind] if name in item.body}
    try:
        return estimate_tokens(seen)
    except TypeError:
        # orjson does not write integers beyond 64 bits; the canonical form is as long.
        return -(-len(item.canonical) // 4)


def outline(snapshot: Snapshot) -> Outline:
    """Return what a model will see of a snapshot."""
    items = tuple(map(outline_item, snapshot.items))
    instructions = snapshot.server.get("instructions")
    text = instructions if isinstance(instructions, str) else ""
    return Outline(
        server=snapshot.server_name,
        instructions=text,
        items=items,
        tokens=sum(item.tokens for item in items) + (estimate_tokens(text) if text else 0),
    )


def outline_item(item: Item) -> ItemOutline:
    """Return what a model will see of one item."""
    return ItemOutline(
        identity=item.identity,
        kind=item.kind,
        name=str(item.body.get(NAME_FIELDS[item.kind], "")),
        description=item.description,
        tokens=item_tokens(item),
        parameters=_parameters(item),
        results=_members(item.body.get("outputSchema"), "/outputSchema", item.body.get("outputSchema")),
    )


def _parameters(item: Item) -> tuple[Line, ...]:
    if item.kind == "tool":
        return _members(item.body.get("inputSchema"), "/inputSchema", item.body.get("inputSchema"))
    arguments = item.body.get("arguments")
    if item.kind != "prompt" or not isinstance(arguments, list):
        return ()
    return tuple(
        Line(
            name=str(argument.get("name", "")),
            type="string",
            required=argument.get("required") is True,
            description=_text(argument.get("description")),
            pointer=f"/arguments/{index}",
        )
        for index, argument in enumerate(arguments)
        if isinstance(argument, dict)
    )


def _members(schema: Any, pointer: str, root: Any, prefix: str = "", depth: int = 0) -> tuple[Line, ...]:
    if not isinstance(schema, dict) or depth > 3:
        return ()
    properties = schema.get("properties")
    if not isinstance(properties, dict):
        return ()
    required = schema.get("required")
    needed = {name for name in required if isinstance(name, str)} if isinstance(required, list) else set()
    lines: list[Line] = []
    for name, declared in properties.items():
        where = f"{pointer}/properties/{name.replace('~', '~0').replace('/', '~1')}"
        child = _followed(declared, root)
        words, inner, label = _describe(child, root)
        text = _text(_field(declared, "description")) or _text(_field(child, "description"))
        lines.append(Line(prefix + name, words, name in needed, text, where))
        if inner is not None:
            below = where + ("/items" if label == "[]" else "")
            lines.extend(_members(inner, below, root, f"{prefix}{name}{label}.", depth + 1))
    return tuple(lines)


def _followed(schema: Any, root: Any) -> Any:
    """Follow a local reference to a definition, once; anything else is left as it is."""
    reference = _field(schema, "$ref")
    if not isinstance(reference, str) or not reference.startswith(("#/$defs/", "#/definitions/")):
        return schema
    place, _, name = reference[2:].partition("/")
    return _field(_field(root, place), name_of(name)) or schema


def _describe(schema: Any, root: Any) -> tuple[str, Mapping[str, Any] | None, str]:
    """Return a schema's type in words, and the object below it with its label."""
    if not isinstance(schema, dict):
        return ("anything" if schema is True else "nothing"), None, ""
    words = type_words(schema)
    if isinstance(schema.get("properties"), dict):
        return words, schema, ""
    items = _followed(schema.get("items"), root)
    if isinstance(items, dict) and isinstance(items.get("properties"), dict):
        return "list of object" if "type" in schema else words, items, "[]"
    return words, None, ""


def type_words(schema: Any) -> str:
    """Say in a few words what a schema takes, such as ``string, date-time`` or ``north | east``."""
    if not isinstance(schema, dict):
        return "anything"
    if "const" in schema:
        return _literal(schema["const"])
    if isinstance(schema.get("enum"), list):
        values = [_literal(value) for value in schema["enum"]]
        return " | ".join(values[:6]) + (f" | {len(values) - 6} more" if len(values) > 6 else "")
    declared = schema.get("type")
    if isinstance(declared, list):
        return " or ".join(map(str, declared))
    if isinstance(schema.get("anyOf"), list):
        return " or ".join(type_words(child) for child in schema["anyOf"][:4])
    if "$ref" in schema:
        return str(schema["$ref"]).rpartition("/")[2] or "anything"
    if declared == "array":
        return "list of " + type_words(schema.get("items"))
    words = str(declared) if declared else "anything"
    return f"{words}, {schema['format']}" if isinstance(schema.get("format"), str) else words


def _literal(value: Any) -> str:
    return value if isinstance(value, str) else orjson.dumps(value).decode()


def _text(value: Any) -> str:
    return value if isinstance(value, str) else ""


def _field(schema: Any, name: str) -> Any:
    return schema.get(name) if isinstance(schema, dict) else None
