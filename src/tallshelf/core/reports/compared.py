"""A comparison for people: the verdict, a line for each item, groups, and what breaks; one screen or two."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

from tallshelf.core.changes import (
    Change,
    ChangeGroup,
    ItemChanges,
    NextVersion,
    SnapshotComparison,
    groups_of,
    items_of,
    subject_of,
    word_of,
)
from tallshelf.core.reports.lines import by_item, clip, colour_of, count, escape, wrap
from tallshelf.core.reports.paint import PLAIN, Paint

if TYPE_CHECKING:
    from tallshelf.core.compat import Witness

MOST_LINES = 60
_MOST_ITEMS, _MOST_GROUPS, _MOST_PLACES = 16, 8, 3
_SMALLEST_GROUP = 3
_NOT_SHOWN = 2
_MARKS: dict[str, str] = {"breaking": "◆", "undecided": "○", "caution": "▲", "compatible": "●"}
_SAID = {
    "breaking": ("breaks", "break"),
    "undecided": ("is undecided", "are undecided"),
    "silent": ("changes in silence", "change in silence"),
    "caution": ("needs caution", "need caution"),
}


def comparison_text(
    comparison: SnapshotComparison, version: NextVersion, paint: Paint = PLAIN, *, everything: bool = False
) -> str:
    """Return a comparison for people, worst first: at most 60 lines, unless everything is asked for."""
    if everything:
        return "\n".join([*verdict_lines(comparison, version, paint), *_all(comparison, paint)])
    items, groups = items_of(comparison.changes), groups_of(comparison.changes)
    lines = verdict_lines(comparison, version, paint)
    for name in comparison.not_checked:
        lines.append(paint.amber(f"{name}: not checked, one side did not ask for it"))
    many = [one for one in groups if len(one.changes) >= _SMALLEST_GROUP]
    if len(items) > 1:
        lines += ["", *_items(items, paint)]
    if many:
        lines += ["", *_groups(many, paint)]
    # What is worse than a caution is shown once in full, for its proof.
    grouped = {id(change) for group in many for change in group.changes[_is_grave(group) :]}
    details = [change for change in comparison.changes if not change.folded and id(change) not in grouped]
    closing = _closing(comparison, paint)
    room = MOST_LINES - len("\n".join([*lines, *closing]).split("\n"))
    return "\n".join([*lines, *_details(details, room, paint), *closing])


def _is_grave(group: ChangeGroup) -> bool:
    return group.silent or group.impact in ("breaking", "undecided")


def verdict_lines(comparison: SnapshotComparison, version: NextVersion, paint: Paint = PLAIN) -> list[str]:
    """Return what a comparison comes to: counts, and, where there is a base, the versions and why."""
    lines = [counts_line(comparison, paint)]
    if version.scheme == "calendar" and comparison.changes:
        undeclared = "" if version.is_honest else paint.red(" (not honest)")
        said = (
            f"Declared {version.declared or 'nothing'}, {'breaking' if version.breaking else 'not breaking'}"
        )
        return [*lines, f"{said}{undeclared}: {_because(comparison)}"]
    if not version.honest:
        return lines
    too_low = "" if version.is_honest else paint.red(" (too low)")
    declared = f"Declared {version.declared or 'nothing'}{too_low}, honest {version.honest}"
    lines.append(f"{declared}: {_because(comparison)}")
    return lines


def counts_line(comparison: SnapshotComparison, paint: Paint = PLAIN) -> str:
    """Return how many changes there are of each impact, in a sentence."""
    silent = len(comparison.silent)
    counts = [
        (paint.red, comparison.count("breaking"), "breaking"),
        (paint.blue, comparison.count("undecided"), "undecided"),
        (paint.amber, silent, "silent"),
        (paint.amber, comparison.count("caution") - silent, "caution"),
        (paint.green, comparison.count("compatible"), "compatible"),
    ]
    parts = [colour(f"{number:,} {word}") for colour, number, word in counts if number]
    return f"{', '.join(parts) if parts else 'no changes'}; {count(comparison.untouched, 'item')} untouched."


def _because(comparison: SnapshotComparison) -> str:
    """Say in a sentence what decides the honest version: how many items break, or are changed otherwise."""
    items = items_of(comparison.changes)
    for word, (said_of_one, said_of_many) in _SAID.items():
        hit = [clip(escape(item.item), 40) for item in items if item.counts.get(word)]
        if len(hit) == 1:
            return f"{hit[0]} {said_of_one}."
        if hit:
            return f"{hit[0]} and {len(hit) - 1:,} more {said_of_many}."
    return "nothing breaks." if items else "nothing that anybody would notice."


def change_mark(change: Change | ChangeGroup) -> tuple[str, str]:
    """Return the mark and the word for a change."""
    return ("▲̸", "silent") if change.silent else (_MARKS[change.impact], change.impact)


def _items(items: Sequence[ItemChanges], paint: Paint) -> list[str]:
    """Return a line for each of the worst items, and one for those that are left."""
    shown = items if len(items) <= _MOST_ITEMS + 1 else items[:_MOST_ITEMS]
    width = min(48, max(len(escape(item.item)) for item in shown))
    lines = []
    for changes in shown:
        worst = next(iter(changes.counts))
        colour = colour_of(changes.impact, paint)
        mark = "▲̸" if worst == "silent" else _MARKS[changes.impact]
        whom = f" for {', '.join(changes.reach)}" if changes.reach else ""
        first, *rest = (f"{number:,} {word}" for word, number in changes.counts.items())
        said = ", ".join([colour(f"{first}{whom}"), *rest])
        lines.append(f"{colour(mark)} {clip(escape(changes.item), 48).ljust(width)}  {said}")
    left = items[len(shown) :]
    if left:
        words = dict.fromkeys(word for item in left for word in item.counts)
        lines.append(paint.dim(f"  and {count(len(left), 'more item')}: {', '.join(words)}"))
    return lines


def _groups(groups: Sequence[ChangeGroup], paint: Paint) -> list[str]:
    lines = [paint.bold("The same at many places")]
    for group in groups[:_MOST_GROUPS]:
        mark, _ = change_mark(group)
        line = clip(f"{mark} {group.message}: {places_line(group)}", 190)
        lines.append(colour_of(group.impact, paint)(wrap(line, "  ", "")))
    left = groups[_MOST_GROUPS:]
    if left:
        number = sum(len(group.changes) for group in left)
        lines.append(paint.dim(f"  and {number:,} changes in {count(len(left), 'more group')}"))
    return lines


def places_line(group: ChangeGroup) -> str:
    """Return the first places of a group: argument and item."""
    places = list(dict.fromkeys(_place(change) for change in group.changes))
    more = f" and {len(places) - _MOST_PLACES:,} more" if len(places) > _MOST_PLACES else ""
    return ", ".join(places[:_MOST_PLACES]) + more


def _place(change: Change) -> str:
    subject, name = escape(subject_of(change)), escape(change.item.partition(":")[2] or change.item)
    return f"{subject} of {name}" if subject else name


def _details(changes: Sequence[Change], room: int, paint: Paint) -> list[str]:
    """Return changes one by one as long as there is room, and how many of each impact there was none for."""
    lines: list[str] = []
    left: list[Change] = []
    for item, group in by_item(changes, lambda change: change.item):
        head = ["", paint.bold(escape(item))]
        for change in group:
            told = [line for part in change_lines(change, paint) for line in part.split("\n")]
            if left or len(lines) + len(head) + len(told) > room - _NOT_SHOWN:
                left.append(change)
                continue
            lines += [*head, *told]
            head = []
    if left:
        words = dict.fromkeys(map(word_of, left))
        not_told = ", ".join(f"{sum(word_of(one) == word for one in left):,} {word}" for word in words)
        lines += ["", paint.dim(f"Not shown one by one: {not_told}; --all shows everything.")]
    return lines


def _all(comparison: SnapshotComparison, paint: Paint) -> Iterable[str]:
    for name in comparison.not_checked:
        yield paint.amber(f"{name}: not checked, one side did not ask for it")
    for item, group in by_item(comparison.changes, lambda change: change.item):
        yield from ("", paint.bold(escape(item)))
        for change in group:
            yield from change_lines(change, paint)


def _closing(comparison: SnapshotComparison, paint: Paint) -> list[str]:
    hidden = sum(change.folded for change in comparison.changes)
    said = f"{count(hidden, 'change')} that nobody meets folded away; --all shows them."
    return ["", paint.dim(said)] if hidden else []


def change_lines(change: Change, paint: Paint = PLAIN) -> list[str]:
    """Return one change with its place and its proof."""
    colour = colour_of(change.impact, paint)
    mark, word = change_mark(change)
    reach = f" for {', '.join(change.reach)}" if change.reach else ""
    noticed = f", {change.notice:.0%} of the key words changed" if change.notice else ""
    lines = [f"  {colour(f'{mark} {word}{reach}')}{paint.dim(noticed)}", wrap(change.message, "    ")]
    where = change.new_pointer if change.new_pointer is not None else change.old_pointer
    if where:
        lines.append(paint.dim(f"    at {clip(escape(where), 93)}"))
    if change.ruled:
        lines.append(paint.dim(wrap(f"ruled: {change.ruled}", "    ")))
    if change.proof == "counted":
        lines.append(
            paint.dim("    shown by counting: what it takes to see it is too large to be written down")
        )
    if change.witness and not change.folded:
        lines += proof_lines(change.witness, paint, witness_words(change.witness))
    return lines


def witness_words(witness: Witness) -> str:
    """Return what a witness shows, for the line above it."""
    if witness.accepted_by == "both":
        return f"This is answered as if {', '.join(witness.ignored)} were not there:"
    return "This worked and is refused:" if witness.accepted_by == "old" else "This may come now:"


def proof_lines(witness: Witness, paint: Paint, words: str) -> list[str]:
    """Return a witness under a line of words."""
    instance = clip(json.dumps(witness.instance, ensure_ascii=True), 600)
    return [f"    {escape(words)}", paint.bold(wrap(instance, "      "))]
