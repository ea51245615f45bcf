"""Items that went and came under another name: nearly the same otherwise."""

from __future__ import annotations

from collections.abc import Iterable, Sequence, Set

from tallshelf.core.snapshot import Item, digest, outline_item
from tallshelf.core.words import content_words

_NEARLY = 0.75
_NAMES = ("name", "title", "uri", "uriTemplate")
_MOST_PAIRS = 20_000


def renames(gone: Sequence[Item], come: Sequence[Item]) -> dict[str, tuple[str, str]]:
    """Return, by the identity of an item that went, the one it seems to be now and the evidence.

    Each item is used once, the likest pairs first; beyond a bound of pairs only items that are
    the same but for their name are looked for.
    """
    found = _same_but_for_the_name(gone, come)
    taken = {now for now, _ in found.values()}
    left = [item for item in gone if item.identity not in found]
    others = [item for item in come if item.identity not in taken]
    if len(left) * len(others) > _MOST_PAIRS:
        return found
    pairs = sorted(
        (
            (_likeness(old, new), old.identity, new.identity)
            for old in left
            for new in others
            if old.kind == new.kind
        ),
        key=lambda pair: (-pair[0], pair[1], pair[2]),
    )
    for likeness, old, new in pairs:
        if likeness < _NEARLY or old in found or new in taken:
            continue
        found[old] = (new, f"{round(likeness * 100)} % of its words and members are the same")
        taken.add(new)
    return found


def _same_but_for_the_name(gone: Iterable[Item], come: Iterable[Item]) -> dict[str, tuple[str, str]]:
    by_rest = {_rest(item): item.identity for item in come}
    found: dict[str, tuple[str, str]] = {}
    for item in gone:
        now = by_rest.pop(_rest(item), None)
        if now is not None:
            found[item.identity] = (now, "all but its name is the same")
    return found


def _rest(item: Item) -> tuple[str, str]:
    return item.kind, digest({name: value for name, value in item.body.items() if name not in _NAMES})


def _likeness(old: Item, new: Item) -> float:
    """Return the mean Jaccard index of the descriptions' words and of the declared members."""
    words = _share(set(content_words(old.description)), set(content_words(new.description)))
    members = _share(_members(old), _members(new))
    return (words + members) / 2


def _members(item: Item) -> set[tuple[str, str]]:
    seen = outline_item(item)
    return {(line.name, line.type) for line in (*seen.parameters, *seen.results)}


def _share(left: Set[object], right: Set[object]) -> float:
    return len(left & right) / len(left | right) if left | right else 0.0
