"""Items that went and came under another name: nearly the same otherwise."""

from __future__ import annotations

from collections.abc import Iterable, Sequence, Set
from difflib import SequenceMatcher
from typing import Any

from tallshelf.core.snapshot import Item, digest, json_equal, outline_item
from tallshelf.core.words.split import content_words

_NEARLY = 0.75
_NAMES = ("name", "title", "uri", "uriTemplate")
_NOTES = frozenset({"title", "description", "default", "examples", "example"})
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


def renamed_members(old: Any, new: Any) -> dict[str, str]:
    """Return, by the name of a member that a schema's root lost, the new one that it seems to be now."""
    before, after = _declared(old), _declared(new)
    pairs = sorted(
        (
            (_member_likeness(was, before[was], now, after[now]), was, now)
            for was in before.keys() - after.keys()
            for now in after.keys() - before.keys()
        ),
        key=lambda pair: (-pair[0], pair[1], pair[2]),
    )
    found: dict[str, str] = {}
    for likeness, was, now in pairs[:_MOST_PAIRS]:
        if likeness >= _NEARLY and was not in found and now not in found.values():
            found[was] = now
    return found


def _declared(schema: Any) -> dict[str, Any]:
    properties = schema.get("properties") if isinstance(schema, dict) else None
    return properties if isinstance(properties, dict) else {}


def _member_likeness(was: str, old: Any, now: str, new: Any) -> float:
    """Return the mean of two: whether both take the same, and how much name or description is the same."""
    if not isinstance(old, dict) or not isinstance(new, dict):
        return 0.0
    bare = [{keyword: value for keyword, value in one.items() if keyword not in _NOTES} for one in (old, new)]
    words = [set(content_words(str(one.get("description", "")))) for one in (old, new)]
    names = SequenceMatcher(None, was.lower(), now.lower(), False).ratio()
    return (float(json_equal(*bare)) + max(names, _share(*words))) / 2


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
