"""Changes of a tool's schemas, judged by containment."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from tallshelf.core.changes.result import Change
from tallshelf.core.compat import Difference, Position, compare_schemas
from tallshelf.core.snapshot import Item

Make = Callable[..., Change]

_KINDS: dict[Position, dict[str, str]] = {
    "input": {"breaking": "argument-refused", "compatible": "argument-accepted"},
    "output": {"breaking": "result-widened", "compatible": "result-narrowed"},
}


def compare_tool_schemas(old: Item, new: Item, make: Make) -> Iterator[Change]:
    """Yield the changes of a tool's input and output schema, as declared."""
    if "inputSchema" in old.body and "inputSchema" in new.body:
        yield from _positions(old, new, "inputSchema", "input", make)
    elif "inputSchema" in old.body or "inputSchema" in new.body:
        yield make("input-schema-missing", old.identity, "one side has no input schema")
    if "outputSchema" in old.body and "outputSchema" in new.body:
        yield from _positions(old, new, "outputSchema", "output", make)
    elif "outputSchema" in old.body:
        yield make(
            "output-schema-dropped",
            old.identity,
            "the output schema is dropped",
            old_pointer="/outputSchema",
            proof="protocol-table",
        )
    elif "outputSchema" in new.body:
        yield make(
            "output-schema-added", old.identity, "an output schema is added", new_pointer="/outputSchema"
        )


def _positions(old: Item, new: Item, field: str, position: Position, make: Make) -> Iterator[Change]:
    comparison = compare_schemas(old.body[field], new.body[field], position, reading="as-declared")
    for difference in comparison.differences:
        yield make(
            _kind(difference, position),
            old.identity,
            difference.message,
            **_fields(difference, field),
        )


def _kind(difference: Difference, position: Position) -> str:
    if difference.keyword == "undeclared-member":
        return "undeclared-member" if difference.verdict == "compatible" else _KINDS[position]["breaking"]
    if difference.keyword == "no-longer-declared":
        return "no-longer-declared" if position == "input" else "result-no-longer-declared"
    if difference.verdict == "undecided":
        return "schema-undecided"
    return _KINDS[position][difference.verdict]


def _fields(difference: Difference, field: str) -> dict[str, Any]:
    def below(pointer: str | None) -> str | None:
        return None if pointer is None else f"/{field}{pointer}"

    fields: dict[str, Any] = {
        "old_pointer": below(difference.old_pointer),
        "new_pointer": below(difference.new_pointer),
        "witness": difference.witness,
        "proof": "witness" if difference.verdict == "breaking" else "shown",
        "folded": difference.keyword == "undeclared-member" and difference.verdict == "compatible",
    }
    if difference.verdict == "undecided":
        fields["proof"] = ""
        fields["reach"] = ("callers",) if field == "inputSchema" else ("receivers",)
    return fields
