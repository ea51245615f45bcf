"""What is told of everyday changes, word for word: kept in ``data/told.json``, so that each change of it is seen.

    python -m tests.core.told

writes it anew; read the difference before you commit it.
"""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.compat import compare_schemas
from tallshelf.core.reports import change_document
from tallshelf.core.snapshot import snapshot_from
from tests.core.release_pairs import BASE, PAIRS, edited

FILE = Path(__file__).with_name("data") / "told.json"
TEXT: dict[str, Any] = {"type": "string"}
GONE: Any = object()

ARGUMENTS: dict[str, Any] = {
    "type": "object",
    "properties": {
        "yard": {"type": "string", "minLength": 2, "maxLength": 9, "pattern": "^[a-z-]+$"},
        "limit": {"type": "integer", "minimum": 1, "maximum": 100},
        "rate": {"type": "number", "exclusiveMinimum": 0, "multipleOf": 0.5},
        "tags": {"type": "array", "items": TEXT, "minItems": 1, "maxItems": 5, "uniqueItems": True},
        "pair": {"type": "array", "prefixItems": [TEXT, {"type": "integer"}], "items": False},
        "state": {"enum": ["open", "done", None]},
        "kind": {"const": "dry"},
        "labels": {"type": "object", "additionalProperties": TEXT, "maxProperties": 3, "minProperties": 1},
        "names": {"type": "object", "patternProperties": {"^x_": TEXT}, "propertyNames": {"maxLength": 6}},
        "what": {
            "oneOf": [
                {
                    "type": "object",
                    "properties": {"by": {"const": "id"}, "id": TEXT},
                    "required": ["by", "id"],
                },
                {"type": "object", "properties": {"by": {"const": "name"}, "name": TEXT}, "required": ["by"]},
            ]
        },
        "when": {"anyOf": [{"type": "string", "format": "date"}, {"type": "integer"}, {"type": "null"}]},
        "tree": {"$ref": "#/$defs/node"},
    },
    "required": ["yard"],
    "$defs": {
        "node": {
            "type": "object",
            "properties": {
                "size": {"type": "integer", "maximum": 9},
                "below": {"type": "array", "items": {"$ref": "#/$defs/node"}},
            },
        }
    },
}
_P = "properties"
EDITS: list[tuple[str, Any]] = [
    ("required", ["yard", "limit"]),
    ("required", []),
    ("additionalProperties", False),
    ("additionalProperties", TEXT),
    ("minProperties", 2),
    ("maxProperties", 4),
    ("dependentRequired", {"limit": ["rate"]}),
    ("dependentSchemas", {"limit": {"required": ["rate"]}}),
    ("anyOf", [{"required": ["limit"]}, {"required": ["rate"]}]),
    ("not", {"required": ["limit", "rate"]}),
    ("if", {"required": ["limit"]}),
    ("propertyNames", {"enum": ["yard", "limit"]}),
    ("unevaluatedProperties", False),
    (f"{_P}/added", TEXT),
    (f"{_P}/yard", GONE),
    (f"{_P}/yard/minLength", 3),
    (f"{_P}/yard/minLength", 1),
    (f"{_P}/yard/maxLength", 8),
    (f"{_P}/yard/maxLength", GONE),
    (f"{_P}/yard/pattern", "^[a-z]+$"),
    (f"{_P}/yard/pattern", "^(?!-)[a-z-]+(?<!-)$"),
    (f"{_P}/yard/pattern", GONE),
    (f"{_P}/yard/type", ["string", "null"]),
    (f"{_P}/yard", {"enum": ["north", "south"]}),
    (f"{_P}/limit/maximum", 50),
    (f"{_P}/limit/maximum", 5),
    (f"{_P}/limit/maximum", 2**53),
    (f"{_P}/limit/minimum", 0),
    (f"{_P}/limit/minimum", 2),
    (f"{_P}/limit/type", "number"),
    (f"{_P}/limit/type", "string"),
    (f"{_P}/limit", {"type": "integer", "minimum": 1, "exclusiveMaximum": 101}),
    (f"{_P}/limit", {"type": "integer", "minimum": 1, "maximum": 100, "multipleOf": 5}),
    (f"{_P}/rate/type", "integer"),
    (f"{_P}/rate/exclusiveMinimum", -1),
    (f"{_P}/rate", {"type": "number", "minimum": 0, "multipleOf": 0.5}),
    (f"{_P}/rate/multipleOf", 0.25),
    (f"{_P}/rate/multipleOf", GONE),
    (f"{_P}/tags/items", {"type": "integer"}),
    (f"{_P}/tags/items", {"type": ["string", "integer"]}),
    (f"{_P}/tags/minItems", 2),
    (f"{_P}/tags/maxItems", 3),
    (f"{_P}/tags/maxItems", 9),
    (f"{_P}/tags/uniqueItems", False),
    (f"{_P}/tags/contains", {"const": "a"}),
    (f"{_P}/tags", {"type": "array", "items": {"enum": ["a", "b"]}}),
    (f"{_P}/pair/items", TEXT),
    (f"{_P}/pair/prefixItems", [TEXT, TEXT]),
    (f"{_P}/pair/prefixItems", [TEXT]),
    (f"{_P}/state/enum", ["open", "done"]),
    (f"{_P}/state/enum", ["done", "open", None, "held"]),
    (f"{_P}/state", {"type": ["string", "null"]}),
    (f"{_P}/kind/const", "wet"),
    (f"{_P}/kind", {"enum": ["dry", "wet"]}),
    (f"{_P}/labels/additionalProperties", {"type": "integer"}),
    (f"{_P}/labels/additionalProperties", False),
    (f"{_P}/labels/maxProperties", 2),
    (f"{_P}/labels/minProperties", 2),
    (f"{_P}/labels", {"type": "object", "properties": {"colour": TEXT}}),
    (f"{_P}/names/patternProperties", {"^x_": {"type": "integer"}}),
    (f"{_P}/names/patternProperties", {"^x": TEXT, "y$": TEXT}),
    (f"{_P}/names/propertyNames", {"maxLength": 5}),
    (f"{_P}/names/propertyNames", GONE),
    (f"{_P}/what/oneOf/0/properties/id", {"type": "integer"}),
    (f"{_P}/what/oneOf/1/required", ["by", "name"]),
    (f"{_P}/what/oneOf/1/properties/name", GONE),
    (f"{_P}/what/oneOf/1", GONE),
    (f"{_P}/when/anyOf/2", GONE),
    (f"{_P}/when/anyOf/0", {"type": "array"}),
    (f"{_P}/when", {}),
    (f"{_P}/tree", {"type": "object"}),
    ("$defs/node/properties/size/maximum", 8),
    ("$defs/node/properties/size/maximum", GONE),
    ("$defs/node/required", ["size"]),
    ("$defs/node/properties/below", GONE),
]
"""One edit each: a place of `ARGUMENTS`, and what stands there then."""


def told() -> dict[str, Any]:
    """Return, by case, every difference and every change as documents."""
    found: dict[str, Any] = {}
    for place, value in EDITS:
        new = copy.deepcopy(ARGUMENTS)
        _put(new, place.split("/"), value)
        for position in ("input", "output"):
            name = f"{position} {place} {'gone' if value is GONE else json.dumps(value)}"
            found[name] = _differences(ARGUMENTS, new, position)
            found[f"{name}, back"] = _differences(new, ARGUMENTS, position)
    for pair in PAIRS:
        comparison = compare_snapshots(snapshot_from(BASE), snapshot_from(edited(pair.edits)))
        found[f"release: {pair.name}"] = [
            {name: value for name, value in change_document(one).items() if name not in ("basis", "ruled")}
            for one in comparison.changes
        ]
    return found


def _put(value: Any, way: list[str], new: Any) -> None:
    *before, last = way
    for step in before:
        value = value[int(step)] if isinstance(value, list) else value[step]
    key: Any = int(last) if isinstance(value, list) else last
    if new is GONE:
        del value[key]
    else:
        value[key] = new


def _differences(old: Any, new: Any, position: Any) -> dict[str, Any]:
    comparison = compare_schemas(old, new, position, "as-declared")
    return {"verdict": comparison.verdict, "differences": list(_lines(comparison.differences))}


def _lines(differences: Any) -> Iterator[list[Any]]:
    for one in differences:
        witness = one.witness
        shown = [witness.instance, witness.accepted_by, *witness.ignored] if witness else None
        yield [one.keyword, one.verdict, one.message, one.old_pointer, one.new_pointer, shown]


def written() -> str:
    """Return the file's text: a line for each difference or change."""
    cases = []
    for name, rows in told().items():
        verdict = f"{rows['verdict']!r}".replace("'", '"') if isinstance(rows, dict) else "null"
        lines = [
            json.dumps(one, ensure_ascii=False)
            for one in (rows["differences"] if isinstance(rows, dict) else rows)
        ]
        inner = ",\n    ".join([verdict, *lines])
        cases.append(f"  {json.dumps(name, ensure_ascii=False)}: [\n    {inner}\n  ]")
    return "{\n" + ",\n".join(cases) + "\n}\n"


if __name__ == "__main__":
    FILE.parent.mkdir(exist_ok=True)
    FILE.write_text(written(), "utf-8")
