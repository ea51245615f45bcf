"""Changes of a tool's schemas, judged by containment."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.changes._make import make
from tallshelf.core.changes._renames import renamed_members
from tallshelf.core.changes.result import Change
from tallshelf.core.compat import Difference, Position, compare_schemas, of_objects
from tallshelf.core.pointer import names_of
from tallshelf.core.snapshot import Item

_KINDS: dict[Position, dict[str, str]] = {
    "input": {"breaking": "argument-refused", "compatible": "argument-accepted"},
    "output": {"breaking": "result-widened", "compatible": "result-narrowed"},
}


def compare_tool_schemas(old: Item, new: Item) -> Iterator[Change]:
    """Yield the changes of a tool's input and output schema, as declared."""
    if "inputSchema" in old.body and "inputSchema" in new.body:
        yield from _positions(old, new, "inputSchema", "input")
    elif "inputSchema" in old.body or "inputSchema" in new.body:
        yield make("input-schema-missing", old.identity, "one side has no input schema")
    if "outputSchema" in old.body and "outputSchema" in new.body:
        yield from _positions(old, new, "outputSchema", "output")
    elif "outputSchema" in old.body:
        yield make(
            "output-schema-dropped",
            old.identity,
            "the output schema is dropped",
            old_pointer="/outputSchema",
        )
    elif "outputSchema" in new.body:
        yield make(
            "output-schema-added", old.identity, "an output schema is added", new_pointer="/outputSchema"
        )


def _positions(old: Item, new: Item, field: str, position: Position) -> Iterator[Change]:
    before, after = (of_objects(item.body[field]) for item in (old, new))
    comparison = compare_schemas(before, after, position, reading="as-declared")
    renamed = renamed_members(old.body[field], new.body[field])
    was = {new: old for old, new in renamed.items()}
    for difference in comparison.differences:
        message = difference.message
        before, now = (_member(one) for one in (difference.old_pointer, difference.new_pointer))
        if before in renamed:
            message += f"; it seems to be `{renamed[before]}` now"
        elif now in was and before is None:
            message += f"; it seems to have been `{was[now]}`"
        yield make(_kind(difference, position), old.identity, message, **_fields(difference, field))
    if comparison.untold:
        what = "arguments" if position == "input" else "results"
        message = f"{comparison.untold:,} more differences of the {what} are not told"
        yield make("more-differences", old.identity, message)


def _member(pointer: str | None) -> str | None:
    """Return the name of the argument or result, of the root, that a pointer leads to; None where it does not."""
    names = names_of(pointer or "")
    return names[1] if len(names) == 2 and names[0] == "properties" else None


def _kind(difference: Difference, position: Position) -> str:
    if difference.keyword == "undeclared-member":
        return "undeclared-member" if difference.verdict == "compatible" else _KINDS[position]["breaking"]
    if difference.keyword == "no-longer-declared":
        return "result-no-longer-declared"
    if difference.keyword == "newly-declared":
        return "result-added"
    if difference.verdict == "undecided":
        return "schema-undecided"
    if difference.keyword == "argument-ignored":
        return "argument-ignored"
    return _KINDS[position][difference.verdict]


def _fields(difference: Difference, field: str) -> dict[str, Any]:
    def below(pointer: str | None) -> str | None:
        return None if pointer is None else f"/{field}{pointer}"

    fields: dict[str, Any] = {
        "old_pointer": below(difference.old_pointer),
        "new_pointer": below(difference.new_pointer),
        "witness": difference.witness,
        "proof": _proof(difference),
        "folded": _is_folded(difference),
    }
    if difference.verdict == "undecided":
        fields["proof"] = ""
        fields["reach"] = ("callers",) if field == "inputSchema" else ("receivers",)
    return fields


def _proof(difference: Difference) -> str:
    if difference.counted:
        return "counted"
    return "witness" if difference.witness and not _is_folded(difference) else "shown"


def _is_folded(difference: Difference) -> bool:
    return difference.keyword == "undeclared-member" and difference.verdict == "compatible"
