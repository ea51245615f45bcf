"""Changes in fewer words: one line for each item, and the same change at many places as one group."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from msgspec import Struct

from tallshelf.core.changes.result import IMPACTS, Change, Impact, Reach
from tallshelf.core.changes.table import worst

COUNTED = ("breaking", "undecided", "silent", "caution", "compatible")
"""By what changes are counted, from worst to mildest; a silent caution counts as silent alone."""
_SUBJECT = re.compile(r"^`[^`]*`:? ?")
_OF_TEXTS = {
    "description-changed": "descriptions changed",
    "description-reworded": "descriptions say the same in other words",
    "description-added": "descriptions were added",
    "title-changed": "titles changed",
    "metadata-changed": "fields without meaning for callers changed",
    "example-changed": "examples changed",
    "default-changed": "defaults changed",
    "format-changed": "formats changed",
    "explanation-changed": "explanations of values changed",
    "meaning-moved": "texts now say something else",
    "limit-moved": "numbers in texts moved",
    "written-down": "places of a schema say what was so before",
    "item-added": "items are new",
    "item-removed": "items are gone",
}
"""Kinds whose messages quote what differs from place to place, and what many of them are called."""
_MANY = (
    (r"^is ", "are "),
    (r"^was ", "were "),
    (r"\bis now\b", "are now"),
    (r"\bit is ignored\b", "they are ignored"),
    (r"\bgive it\b", "give them"),
    (r"\baccepts\b", "accept"),
    (r"\btakes\b", "take"),
    (r"\bhas to\b", "have to"),
    (r"\bdiffers\b", "differ"),
    (r"^the ", "the "),
)


class ItemChanges(Struct, frozen=True):
    """What happens to one item: its worst impact, whom its changes reach, and how many there are of each."""

    item: str
    impact: Impact
    reach: tuple[Reach, ...]
    counts: dict[str, int]


class ChangeGroup(Struct, frozen=True):
    """The same change at one place or more, in the order of the changes."""

    kind: str
    impact: Impact
    silent: bool
    reach: tuple[Reach, ...]
    message: str
    changes: tuple[Change, ...]


def word_of(change: Change) -> str:
    """Return by which word a change is counted."""
    return "silent" if change.silent else change.impact


def items_of(changes: Iterable[Change]) -> tuple[ItemChanges, ...]:
    """Return one summary for each item that somebody would notice a change of, worst first, then by name."""
    by_item: dict[str, list[Change]] = {}
    for change in changes:
        if not change.folded:
            by_item.setdefault(change.item, []).append(change)
    items = [_item(item, own) for item, own in by_item.items()]
    return tuple(
        sorted(items, key=lambda one: (*(-one.counts.get(word, 0) for word in COUNTED[:-1]), one.item))
    )


def _item(item: str, changes: Sequence[Change]) -> ItemChanges:
    impact = worst(changes) or "compatible"
    telling = [change for change in changes if change.impact == impact]
    reach = dict.fromkeys(name for change in telling for name in change.reach)
    counts = {word: sum(word_of(change) == word for change in changes) for word in COUNTED}
    return ItemChanges(
        item, impact, tuple(reach), {word: number for word, number in counts.items() if number}
    )


def groups_of(changes: Iterable[Change]) -> tuple[ChangeGroup, ...]:
    """Return all changes that somebody would notice, each in one group; the worst groups first."""
    found: dict[tuple[object, ...], list[Change]] = {}
    for change in changes:
        if not change.folded:
            said = "" if change.kind in _OF_TEXTS else _SUBJECT.sub("", change.message)
            place = (change.old_pointer or change.new_pointer or "").split("/")[1:2]
            found.setdefault(
                (change.kind, change.impact, change.silent, change.reach, tuple(place), said), []
            ).append(change)
    groups = [_group(own) for own in found.values()]
    return tuple(
        sorted(groups, key=lambda group: (IMPACTS.index(group.impact), not group.silent, -len(group.changes)))
    )


def _group(changes: Sequence[Change]) -> ChangeGroup:
    first = changes[0]
    message = first.message if len(changes) == 1 else _of_many(changes)
    return ChangeGroup(first.kind, first.impact, first.silent, first.reach, message, tuple(changes))


def _of_many(changes: Sequence[Change]) -> str:
    first, number = changes[0], f"{len(changes):,}"
    if first.kind in _OF_TEXTS:
        return f"{number} {_OF_TEXTS[first.kind]}"
    said = _SUBJECT.sub("", first.message)
    if said == first.message:
        return f"{said} ({number} times)"
    if first.message.startswith(f"{subject_of(first)}: "):
        return f"{number} {_noun(first)}: {said}"
    for one, many in _MANY:
        said = re.sub(one, many, said)
    return f"{number} {_noun(first)} {said}"


def subject_of(change: Change) -> str:
    """Return the argument or result that a change is about, in backticks; nothing where it is about the item."""
    match = re.match(r"^`[^`]*`", change.message)
    return match[0] if match else ""


def _noun(change: Change) -> str:
    pointer = change.old_pointer or change.new_pointer or ""
    if pointer.startswith("/inputSchema"):
        return "arguments"
    return "results" if pointer.startswith("/outputSchema") else "places"
