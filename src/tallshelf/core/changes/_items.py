"""The fields of one item, apart from its schemas and texts."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.changes._consent import HINTS, consent_changes
from tallshelf.core.changes._content import mime_changes
from tallshelf.core.changes._make import make
from tallshelf.core.changes._schemas import compare_tool_schemas
from tallshelf.core.changes._texts import compare_texts
from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Item, json_equal
from tallshelf.core.words.terms import HouseTerms

_KNOWN_FIELDS = frozenset(
    [
        "name",
        "title",
        "description",
        "inputSchema",
        "outputSchema",
        "annotations",
        "execution",
        "uri",
        "uriTemplate",
        "mimeType",
        "arguments",
    ]
)


def item_changes(old: Item, new: Item, terms: HouseTerms) -> Iterator[Change]:
    """Yield every change from one item to another of the same identity, texts read by the terms of a house."""
    if old.kind == "tool":
        yield from compare_tool_schemas(old, new)
        yield from _hints(old, new)
        yield from _tasks(old, new)
    else:
        yield from _audience(old, new)
    if old.kind == "prompt":
        yield from _arguments_changes(old, new)
    yield from mime_changes(old, new)
    if old.kind in ("resource", "template") and old.body.get("name") != new.body.get("name"):
        message = f"its name was {old.body.get('name')} and is now {new.body.get('name')}"
        yield make("name-changed", old.identity, message, old_pointer="/name", new_pointer="/name")
    yield from compare_texts(old, new, terms)
    for field in sorted({*old.body, *new.body} - _KNOWN_FIELDS):
        yield from _told(old, new, field, f"the field {field} changed")


def _told(old: Item, new: Item, path: str, message: str) -> Iterator[Change]:
    """Tell of a field without meaning for callers, where it changed."""
    was, now = (_inside(item, path) for item in (old, new))
    if not json_equal(was, now):
        yield make(
            "metadata-changed",
            old.identity,
            message,
            old_pointer=None if was is None else f"/{path}",
            new_pointer=None if now is None else f"/{path}",
        )


def _inside(item: Item, path: str) -> Any:
    value: Any = item.body
    for step in path.split("/"):
        value = _object(value).get(step)
    return value


def _hints(old: Item, new: Item) -> Iterator[Change]:
    yield from consent_changes(old, new)
    before, after = (_object(item.body.get("annotations")) for item in (old, new))
    if before.get("title") != after.get("title"):
        message = f"the title was {before.get('title')} and is now {after.get('title')}"
        yield make("title-changed", old.identity, message, **_annotation("title", before, after))
    for name in sorted({*before, *after} - {*HINTS, "title"}):
        yield from _told(old, new, f"annotations/{name}", f"the annotation {name} changed")


def _annotation(name: str, before: dict[str, Any], after: dict[str, Any]) -> dict[str, str | None]:
    """Return the pointers to an annotation on either side."""
    return {
        "old_pointer": f"/annotations/{name}" if name in before else None,
        "new_pointer": f"/annotations/{name}" if name in after else None,
    }


def _tasks(old: Item, new: Item) -> Iterator[Change]:
    """Compare ``execution.taskSupport``: forbidden unless it is said to be optional or required."""
    was, now = (str(_inside(item, "execution/taskSupport") or "forbidden") for item in (old, new))
    where = {"old_pointer": "/execution", "new_pointer": "/execution"}
    if was != now:
        kind = (
            "task-refused" if now == "forbidden" else "task-required" if now == "required" else "task-offered"
        )
        message = f"calls as a task were {was} and are now {now}"
        yield make(kind, old.identity, message, **where)
    for name in sorted({*_object(old.body.get("execution")), *_object(new.body.get("execution"))}):
        if name != "taskSupport":
            yield from _told(old, new, f"execution/{name}", f"the field execution.{name} changed")


def _audience(old: Item, new: Item) -> Iterator[Change]:
    before, after = (_object(item.body.get("annotations")) for item in (old, new))
    if not json_equal(before.get("audience"), after.get("audience")):
        words = [_listed(side.get("audience")) for side in (before, after)]
        where = _annotation("audience", before, after)
        message = f"it was for {words[0]} and is now for {words[1]}"
        yield make("audience-changed", old.identity, message, **where)
    for name in sorted({*before, *after} - {"audience"}):
        yield from _told(old, new, f"annotations/{name}", f"the annotation {name} changed")


def _listed(audience: Any) -> str:
    return " and ".join(map(str, audience)) if isinstance(audience, list) and audience else "anyone"


def _arguments_changes(old: Item, new: Item) -> Iterator[Change]:
    before, after = _arguments(old), _arguments(new)
    for name in sorted({*before, *after}):
        was, now = before.get(name), after.get(name)
        where = {
            "old_pointer": f"/arguments/{was[0]}" if was else None,
            "new_pointer": f"/arguments/{now[0]}" if now else None,
        }
        if now and now[1] and not (was and was[1]):
            word = "is now required" if was else "is new and required"
            yield make("prompt-argument-required", old.identity, f"`{name}` {word}", **where)
        elif was and not now:
            yield make("prompt-argument-removed", old.identity, f"`{name}` is gone", **where)
        elif now and not was:
            yield make("prompt-argument-added", old.identity, f"`{name}` is new and optional", **where)
        elif was and now and was[1] and not now[1]:
            yield make("prompt-argument-optional", old.identity, f"`{name}` is no longer required", **where)


def _arguments(item: Item) -> dict[str, tuple[int, bool]]:
    arguments = item.body.get("arguments")
    return {
        str(argument.get("name")): (index, argument.get("required") is True)
        for index, argument in enumerate(arguments if isinstance(arguments, list) else [])
        if isinstance(argument, dict)
    }


def _object(value: Any) -> dict[str, Any]:
    return value if isinstance(value, dict) else {}
