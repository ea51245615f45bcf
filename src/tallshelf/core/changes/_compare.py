"""Comparing two snapshots item by item; unchanged items cost only their canonical bytes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.changes._renames import renames
from tallshelf.core.changes._schemas import compare_tool_schemas
from tallshelf.core.changes._texts import compare_texts, told_words
from tallshelf.core.changes.result import IMPACTS, Change, SnapshotComparison
from tallshelf.core.changes.table import TABLE
from tallshelf.core.snapshot import LISTS, Item, Snapshot, json_equal

_SAFETY_HINTS = {
    "readOnlyHint": (True, "it no longer says that it only reads"),
    "destructiveHint": (False, "it no longer says that it destroys nothing"),
    "idempotentHint": (True, "it no longer says that repeating it is safe"),
    "openWorldHint": (False, "it no longer says that it stays inside"),
}
_KNOWN_FIELDS = frozenset(
    [
        "name",
        "title",
        "description",
        "inputSchema",
        "outputSchema",
        "annotations",
        "uri",
        "uriTemplate",
        "mimeType",
        "arguments",
    ]
)


def compare_snapshots(old: Snapshot, new: Snapshot) -> SnapshotComparison:
    """Return every change from one snapshot to another, worst first.

    A list that is absent on either side was not asked for there: it is named in
    ``not_checked`` and never compared as removed.
    """
    not_checked = tuple(name for name in LISTS if (name in old.lists) != (name in new.lists))
    changes: list[Change] = list(_server_changes(old, new))
    untouched = 0
    for name in LISTS:
        if name not in old.lists or name not in new.lists:
            continue
        before = {item.identity: item for item in old.lists[name]}
        after = {item.identity: item for item in new.lists[name]}
        twice = old.twice | new.twice
        renamed = renames(
            [item for identity, item in before.items() if identity not in after],
            [item for identity, item in after.items() if identity not in before],
        )
        named_anew = {now: (was, why) for was, (now, why) in renamed.items()}
        for identity in sorted({*before, *after}):
            if identity in twice:
                changes.extend(_declared_twice(identity, old, new))
            elif identity not in after:
                message = (
                    f"{_called(identity)} is gone{_seems(renamed.get(identity), 'it seems to be {} now')}"
                )
                changes.append(make("item-removed", identity, message, proof="protocol-table"))
            elif identity not in before:
                message = f"{_called(identity)} is new{_seems(named_anew.get(identity), 'it seems to have been {}')}"
                changes.append(make("item-added", identity, message))
            elif before[identity].canonical == after[identity].canonical:
                untouched += 1
            else:
                found = list(_item_changes(before[identity], after[identity]))
                changes.extend(found or [_unnamed(identity)])
    return SnapshotComparison(
        old.digest, new.digest, tuple(sorted(changes, key=_rank)), not_checked, untouched
    )


def make(kind: str, item: str, message: str, **fields: Any) -> Change:
    """Build a change with the impact and reach that its row of the table gives."""
    row = TABLE[kind]
    fields.setdefault("impact", row.impact)
    fields.setdefault("reach", row.reach)
    return Change(item=item, kind=kind, message=message, silent=row.silent, **fields)


def _rank(change: Change) -> tuple[Any, ...]:
    return (
        change.folded,
        IMPACTS.index(change.impact),
        not change.silent,
        change.item,
        change.new_pointer or change.old_pointer or "",
        change.kind,
        change.message,
    )


def _called(identity: str) -> str:
    kind, _, name = identity.partition(":")
    return f"the {kind} {name}"


def _seems(rename: tuple[str, str] | None, words: str) -> str:
    """Say which item another seems to be or to have been, with the evidence."""
    if rename is None:
        return ""
    return f"; {words.format(f'`{rename[0]}`')}: {rename[1]}"


def _unnamed(identity: str) -> Change:
    """What is told when an item's bytes changed in a way that no kind names."""
    return make(
        "metadata-changed", identity, f"{_called(identity)} changed in a place of no meaning known here"
    )


def _declared_twice(identity: str, old: Snapshot, new: Snapshot) -> Iterator[Change]:
    before = [item.digest for item in old.items if item.identity == identity]
    after = [item.digest for item in new.items if item.identity == identity]
    if before != after:
        yield make("declared-twice", identity, f"{_called(identity)} is declared more than once")


def _item_changes(old: Item, new: Item) -> Iterator[Change]:
    if old.kind == "tool":
        yield from compare_tool_schemas(old, new, make)
        yield from _annotation_changes(old, new)
    if old.kind == "prompt":
        yield from _argument_changes(old, new)
    if old.body.get("mimeType") != new.body.get("mimeType"):
        message = f"the MIME type was {old.body.get('mimeType')} and is now {new.body.get('mimeType')}"
        yield make(
            "mime-type-changed", old.identity, message, old_pointer="/mimeType", new_pointer="/mimeType"
        )
    if old.kind in ("resource", "template") and old.body.get("name") != new.body.get("name"):
        message = f"its name was {old.body.get('name')} and is now {new.body.get('name')}"
        yield make("name-changed", old.identity, message, old_pointer="/name", new_pointer="/name")
    yield from compare_texts(old, new, make)
    for field in sorted({*old.body, *new.body} - _KNOWN_FIELDS):
        if not json_equal(old.body.get(field), new.body.get(field)):
            yield make(
                "metadata-changed",
                old.identity,
                f"the field {field} changed",
                old_pointer=f"/{field}" if field in old.body else None,
                new_pointer=f"/{field}" if field in new.body else None,
            )


def _annotation_changes(old: Item, new: Item) -> Iterator[Change]:
    before, after = (_object(item.body.get("annotations")) for item in (old, new))
    where = {"old_pointer": "/annotations", "new_pointer": "/annotations"}
    for hint, (safe, lost) in _SAFETY_HINTS.items():
        was, now = before.get(hint) is safe, after.get(hint) is safe
        if was and not now:
            yield make("annotation-lost", old.identity, lost, **where)
        elif now and not was:
            yield make(
                "annotation-gained", old.identity, f"it now says {hint} is {str(safe).lower()}", **where
            )
    for name in sorted({*before, *after} - {*_SAFETY_HINTS}):
        if not json_equal(before.get(name), after.get(name)):
            yield make("metadata-changed", old.identity, f"the annotation {name} changed", **where)


def _argument_changes(old: Item, new: Item) -> Iterator[Change]:
    before, after = _arguments(old), _arguments(new)
    for name in sorted({*before, *after}):
        was, now = before.get(name), after.get(name)
        where = {
            "old_pointer": f"/arguments/{was[0]}" if was else None,
            "new_pointer": f"/arguments/{now[0]}" if now else None,
        }
        if now and now[1] and not (was and was[1]):
            word = "is now required" if was else "is new and required"
            yield make(
                "prompt-argument-required", old.identity, f"`{name}` {word}", proof="protocol-table", **where
            )
        elif was and not now:
            yield make(
                "prompt-argument-removed", old.identity, f"`{name}` is gone", proof="protocol-table", **where
            )
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


def _server_changes(old: Snapshot, new: Snapshot) -> Iterator[Change]:
    before, after = (_object(side.server.get("capabilities")) for side in (old, new))
    if "capabilities" in old.server and "capabilities" in new.server:
        for name in sorted({*before, *after}):
            if name not in after:
                yield make(
                    "capability-dropped",
                    "server",
                    f"the capability {name} is dropped",
                    old_pointer=f"/capabilities/{name}",
                    proof="protocol-table",
                )
            elif name not in before:
                yield make(
                    "capability-added",
                    "server",
                    f"the capability {name} is new",
                    new_pointer=f"/capabilities/{name}",
                )
    texts = [side.server.get("instructions") for side in (old, new)]
    if texts[0] != texts[1]:
        yield make(
            "instructions-changed",
            "server",
            f"the instructions to the model changed: {told_words(texts[0] or '', texts[1] or '')}",
            old_pointer="/instructions" if texts[0] else None,
            new_pointer="/instructions" if texts[1] else None,
        )
    for name, kind in (
        ("name", "name-changed"),
        ("title", "title-changed"),
        ("version", "version-string-changed"),
    ):
        was, now = old.server_info.get(name), new.server_info.get(name)
        if not json_equal(was, now):
            yield make(
                kind,
                "server",
                f"the server's {name} was {was} and is now {now}",
                old_pointer=f"/serverInfo/{name}",
                new_pointer=f"/serverInfo/{name}",
            )


def _object(value: Any) -> dict[str, Any]:
    return value if isinstance(value, dict) else {}
