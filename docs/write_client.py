"""Writes the kinds of records that the client answers with, from the OpenAPI document; ``--check`` only compares."""

from __future__ import annotations

import json
import keyword
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
TARGET = ROOT / "src/tallshelf/client/results.py"
HEAD = '''"""The kinds of records that the client answers with; written from the OpenAPI document by `docs/write_client.py`."""

from __future__ import annotations

from tallshelf.client._record import Record
'''
_PLAIN = {"string": "str", "integer": "int", "number": "float", "boolean": "bool", "null": "None"}


def written(document: dict[str, Any]) -> str:
    """Return the module: a class for each object that some call answers with, and for those inside it."""
    components = document["components"]["schemas"]
    wanted = [
        name
        for calls in document["paths"].values()
        for call in calls.values()
        for status in ("200", "201")
        for name in _named(call["responses"].get(status, {}))
    ]
    names: list[str] = []
    while wanted:
        name = wanted.pop()
        if name not in names and components[name].get("properties") is not None:
            names.append(name)
            wanted += _named(components[name])
    classes = [_class(name, components) for name in sorted(names)]
    inside = [line for name in sorted(names) if (line := _records(name, components))]
    return HEAD + "".join(classes) + "\n\n" + "\n".join(inside) + "\n"


def class_name(component: str) -> str:
    """Return the name of the class of a component."""
    return "".join(part[:1].upper() + part[1:] for part in component.replace("-", "_").split("_"))


def _class(name: str, components: dict[str, Any]) -> str:
    shape = components[name]
    members = []
    for member, value in sorted(shape["properties"].items()):
        kind, _ = _type(value, components)
        if not keyword.iskeyword(member) and member.isidentifier() and not hasattr(dict, member):
            members.append(f"    {member}: {kind}")
    doc = str(shape.get("description", "")).strip().split("\n")[0][:110]
    lines = [f'\n\nclass {class_name(name)}(Record):', f'    """{doc or f"The component {name}."}"""', ""]
    return "\n".join([*lines, *(members or ["    pass"]), ""])


def _records(name: str, components: dict[str, Any]) -> str:
    """Return the line that says which members of a class hold records of which class."""
    found = {
        member: record
        for member, value in sorted(components[name]["properties"].items())
        if (record := _type(value, components)[1])
    }
    inside = ", ".join(f'"{member}": {record}' for member, record in found.items())
    return f"{class_name(name)}._records = {{{inside}}}" if found else ""


def _type(value: Any, components: dict[str, Any]) -> tuple[str, str]:
    """Return a member's type, and the class of the record that it holds, if it holds one."""
    if not isinstance(value, dict):
        return "Any", ""
    if "$ref" in value:
        name = value["$ref"].rpartition("/")[2]
        shape = components[name]
        if shape.get("properties") is not None:
            return class_name(name), class_name(name)
        return _type(shape, components)
    for keyword_ in ("anyOf", "oneOf", "allOf"):
        if keyword_ in value:
            found = [_type(one, components) for one in value[keyword_]]
            kinds = dict.fromkeys(kind for kind, _ in found)
            record = next((one for _, one in found if one), "")
            return ("Any" if "Any" in kinds else " | ".join(kinds)), record
    types = value.get("type")
    if isinstance(types, list):
        kinds = dict.fromkeys(_type({**value, "type": one}, components)[0] for one in types)
        record = next((found for one in types if (found := _type({**value, "type": one}, components)[1])), "")
        return ("Any" if "Any" in kinds else " | ".join(kinds)), record
    if types == "array":
        inner, record = _type(value.get("items", {}), components)
        return f"list[{inner}]", record
    if types == "object":
        return "Record", ""
    if types is None and "enum" in value:
        return ("str | None" if None in value["enum"] else "str"), ""
    return _PLAIN.get(str(types), "Any"), ""


def _named(value: Any) -> list[str]:
    if isinstance(value, dict):
        reference = value.get("$ref")
        if isinstance(reference, str) and reference.startswith("#/components/schemas/"):
            return [reference.rpartition("/")[2]]
        return [name for one in value.values() for name in _named(one)]
    if isinstance(value, list):
        return [name for one in value for name in _named(one)]
    return []


def main() -> None:
    text = written(json.loads((ROOT / "docs/openapi.json").read_text("utf-8")))
    if "--check" in sys.argv:
        if not TARGET.exists() or TARGET.read_text("utf-8") != text:
            sys.exit(f"{TARGET.name} is not current: run docs/write_client.py")
    else:
        TARGET.write_text(text, "utf-8")


if __name__ == "__main__":
    main()
