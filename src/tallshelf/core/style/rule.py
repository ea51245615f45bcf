"""A rule is one unit: its id, its reason, its check, and two examples that are its tests."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tallshelf.core.snapshot import Item, Snapshot
from tallshelf.core.style.finding import Level
from tallshelf.core.style.house import HouseStyle


@dataclass(frozen=True)
class Subject:
    """What is linted: a snapshot, and the version it is submitted as (None when not given)."""

    snapshot: Snapshot
    style: HouseStyle
    version: str | None = None


@dataclass(frozen=True)
class Spot:
    """Where a rule found something, and what it says there."""

    item: str
    pointer: str
    message: str
    span: tuple[int, int] | None = None
    suggestion: tuple[dict[str, Any], ...] | None = None


@dataclass(frozen=True)
class Rule:
    """One rule of the house style.

    ``bad`` and ``good`` are snapshot documents (a bare ``tools`` list will do): the rule finds
    something in the one and nothing in the other, both submitted as ``submitted_as``.
    """

    id: str
    family: str
    covers: tuple[str, ...]
    level: Level
    reason: str
    check: Callable[[Subject], Iterator[Spot]]
    bad: Mapping[str, Any]
    good: Mapping[str, Any]
    submitted_as: str | None = None


@dataclass(frozen=True)
class Text:
    """One text of an item: where it is, and what it says."""

    item: str
    pointer: str
    text: str


def texts_of(item: Item) -> Iterator[Text]:
    """Yield the title and every description of an item and of its parameters and results."""
    for field in ("title", "description"):
        value = item.body.get(field)
        if isinstance(value, str):
            yield Text(item.identity, f"/{field}", value)
    for field in ("inputSchema", "outputSchema", "arguments"):
        yield from _described(item.identity, item.body.get(field), f"/{field}", 0)


def server_texts(snapshot: Snapshot) -> Iterator[Text]:
    """Yield the texts that a server declares about itself."""
    instructions = snapshot.server.get("instructions")
    if isinstance(instructions, str):
        yield Text("server", "/instructions", instructions)


def all_texts(snapshot: Snapshot) -> Iterator[Text]:
    """Yield every text of a snapshot."""
    yield from server_texts(snapshot)
    for item in snapshot.items:
        yield from texts_of(item)


def _described(item: str, value: Any, pointer: str, depth: int) -> Iterator[Text]:
    if depth > 40:
        return
    if isinstance(value, dict):
        for key, child in value.items():
            where = f"{pointer}/{key.replace('~', '~0').replace('/', '~1')}"
            if key in ("description", "title") and isinstance(child, str):
                yield Text(item, where, child)
            else:
                yield from _described(item, child, where, depth + 1)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            yield from _described(item, child, f"{pointer}/{index}", depth + 1)
