"""Safety hints as hosts take them: by MCP's defaults where they are not said (revision 2025-06-18, ToolAnnotations)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.changes._make import make
from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Item, json_equal, outline_item
from tallshelf.core.words.classes import verb_class, writes
from tallshelf.core.words.split import sentence_words, split_identifier

HINTS = ("readOnlyHint", "destructiveHint", "idempotentHint", "openWorldHint")
# Hint: what makes hosts ask less, and how the two are said.
_LOOSE: dict[str, tuple[bool, str, str]] = {
    "readOnlyHint": (True, "only reads", "may write"),
    "destructiveHint": (False, "destroys nothing", "may destroy"),
    "idempotentHint": (True, "may be repeated safely", "is not safe to repeat"),
    "openWorldHint": (False, "stays inside", "may reach outside"),
}
_ARGUMENTS_THAT_WRITE = frozenset({"dry", "force", "overwrite", "confirm"})


def effective(annotations: Mapping[str, Any]) -> dict[str, bool]:
    """Return what hosts take each hint to be; whether it destroys or repeats counts only where it may write."""
    reads = annotations.get("readOnlyHint") is True
    return {
        "readOnlyHint": reads,
        "destructiveHint": not reads and annotations.get("destructiveHint") is not False,
        "idempotentHint": reads or annotations.get("idempotentHint") is True,
        "openWorldHint": annotations.get("openWorldHint") is not False,
    }


def consent_changes(old: Item, new: Item) -> Iterator[Change]:
    """Yield how hosts ask people less or more before they call a tool, by item."""
    before, after = (_annotations(item) for item in (old, new))
    was, now = effective(before), effective(after)
    moved = [hint for hint in HINTS if was[hint] != now[hint]]
    if "readOnlyHint" in moved:  # which decides the next two
        moved = [hint for hint in moved if hint in ("readOnlyHint", "openWorldHint")]
    for hint in moved:
        loose, calm, alarming = _LOOSE[hint]
        where = _at(hint, before, after)
        if now[hint] is not loose:
            yield make("consent-tightened", old.identity, f"hosts now take it that it {alarming}", **where)
            continue
        against = _evidence(new, hint)
        message = f"hosts now take it that it {calm}, and ask less"
        if against:
            yield make("consent-misplaced", old.identity, f"{message}; but {against}", **where)
        else:
            yield make("consent-loosened", old.identity, message, **where)
    for hint in HINTS:
        if hint not in moved and not json_equal(before.get(hint), after.get(hint)):
            message = f"the annotation {hint} changed in the text and not in what hosts take it for"
            yield make("metadata-changed", old.identity, message, **_at(hint, before, after))


def seems_to_write(item: Item) -> str:
    """Say by what a tool seems to write: its name, the first word of its text or an argument; or nothing."""
    return _evidence(item, "readOnlyHint")


def _evidence(item: Item, hint: str) -> str:
    """Say by what a tool seems to write, or to destroy: its name, the first word of its text or an argument."""
    if hint not in ("readOnlyHint", "destructiveHint"):
        return ""
    does = writes if hint == "readOnlyHint" else _destroys
    for word in split_identifier(item.name)[:1]:
        if does(word.lower()):
            return f"its name says “{word}”"
    for word in sentence_words(item.description)[:1]:
        if does(_base(word.lower())):
            return f"its text says “{word}”"
    for line in outline_item(item).parameters:
        if _ARGUMENTS_THAT_WRITE & {word.lower() for word in split_identifier(line.name)}:
            return f"it takes {line.name!r}"
    return ""


def _destroys(verb: str) -> bool:
    return verb_class(verb) in ("remove", "stop") or verb in ("overwrite", "replace", "reset")


def _base(verb: str) -> str:
    """Return a verb as it is listed, also where a text begins with ``Deletes``."""
    return verb if writes(verb) or not verb.endswith("s") else verb.removesuffix("s")


def _annotations(item: Item) -> Mapping[str, Any]:
    found = item.body.get("annotations")
    return found if isinstance(found, dict) else {}


def _at(hint: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> dict[str, str | None]:
    return {
        "old_pointer": f"/annotations/{hint}" if hint in before else None,
        "new_pointer": f"/annotations/{hint}" if hint in after else None,
    }
