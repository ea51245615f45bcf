"""What an item may do to the world, as hosts take its annotations (MCP 2025-06-18, ToolAnnotations) and its text."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from tallshelf.core.changes import effective, seems_to_write

if TYPE_CHECKING:
    from tallshelf.core.snapshot import Item

Effect = Literal["reads", "writes", "destroys"]
EFFECTS: tuple[Effect, ...] = ("reads", "writes", "destroys")


class Risk(Struct, frozen=True):
    """What an item does at worst, whether it reaches outside, and by what it seems to write though it says not."""

    effect: Effect
    outside: bool = False
    doubt: str = ""


def risk_of(item: Item) -> Risk:
    """Return the risk of an item. Resources, templates and prompts are read only, by the protocol.

    A tool that says it only reads, and that its name, text or arguments say otherwise of, counts as writing.
    """
    if item.kind != "tool":
        return Risk("reads")
    annotations = item.body.get("annotations")
    hints = effective(annotations if isinstance(annotations, dict) else {})
    if hints["readOnlyHint"]:
        doubt = seems_to_write(item)
        return Risk("writes" if doubt else "reads", hints["openWorldHint"], doubt)
    return Risk("destroys" if hints["destructiveHint"] else "writes", hints["openWorldHint"])
