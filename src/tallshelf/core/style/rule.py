"""A rule is one unit: its id, its reason, its check, its settings, and two examples that are its tests."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import cached_property
from typing import Any

from msgspec import Struct

from tallshelf.core.snapshot import Item, LaunchRecord, Snapshot
from tallshelf.core.style.finding import Level
from tallshelf.core.style.house import HouseStyle
from tallshelf.core.style.text import Text
from tallshelf.core.style.view import View


class Subject(Struct, frozen=True, eq=False, dict=True):
    """What is linted: a snapshot, how it is submitted, and the style; parts not given are None.

    ``before`` is the published snapshot that it follows.
    """

    snapshot: Snapshot
    style: HouseStyle
    version: str | None = None
    launches: tuple[LaunchRecord, ...] | None = None
    data_class: str | None = None
    before: Snapshot | None = None

    @cached_property
    def view(self) -> View:
        """The snapshot split up once for all rules."""
        return View(self.snapshot)

    @cached_property
    def by_identity(self) -> dict[str, tuple[Item, ...]]:
        """The items of each identity: more than one where a name is declared twice."""
        found: dict[str, tuple[Item, ...]] = {}
        for item in self.snapshot.items:
            found[item.identity] = (*found.get(item.identity, ()), item)
        return found

    def of(self, setting: Setting) -> Any:
        """Return what the style says for a setting, or its default."""
        return self.style.setting(setting.rule, setting.name, setting.default)


class RuleHit(Struct, frozen=True):
    """Where a rule found something, and what it says there."""

    item: str
    pointer: str
    message: str
    span: tuple[int, int] | None = None
    suggestion: tuple[dict[str, Any], ...] | None = None


def at(text: Text, message: str, span: tuple[int, int] | None = None, **more: Any) -> RuleHit:
    """Return a hit in a text; the span is left out where what was read is not what is written."""
    return RuleHit(
        text.item, text.pointer, message, span if span and text.read == text.text else None, **more
    )


def rewritten(text: Text, span: tuple[int, int], instead: str) -> tuple[dict[str, Any], ...]:
    """Return the patch that puts something else into a text at a span."""
    value = f"{text.text[: span[0]]}{instead}{text.text[span[1] :]}"
    return ({"op": "replace", "path": text.pointer, "value": value},)


class Setting(Struct, frozen=True):
    """One setting of a rule; its type is that of the default: a number, a flag or a list of words."""

    rule: str
    name: str
    default: int | bool | tuple[str, ...]
    means: str


class Rule(Struct, frozen=True):
    """One rule of the house style.

    ``bad`` and ``good`` are snapshot documents (a bare ``tools`` list will do): the rule finds
    something in the one and nothing in the other, both submitted as ``submitted_as``, with the
    launch records ``launch``, if any, beside the bad one, which follows ``before``. ``fix_is_safe`` says that what it
    suggests changes no call and no result.
    """

    id: str
    family: str
    covers: tuple[str, ...]
    level: Level
    reason: str
    check: Callable[[Subject], Iterator[RuleHit]]
    bad: Mapping[str, Any]
    good: Mapping[str, Any]
    settings: tuple[Setting, ...] = ()
    submitted_as: str | None = None
    launch: tuple[Mapping[str, Any], ...] = ()
    data_class: str | None = None
    before: Mapping[str, Any] | None = None
    fix_is_safe: bool = True
