"""Scoring a pair of items, with reasons.

The score is a weighted mean of what the two share: the words of their names (0.3), the words
of their descriptions weighted by rarity (0.4), and their parameters (0.3). Verbs that undo
each other keep a pair apart whatever else it shares.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from tallshelf.core.compat import stand_in
from tallshelf.core.overlap.index import CatalogItem, OverlapIndex
from tallshelf.core.overlap.result import Overlap, OverlapClass, Ruling, Side, is_ruled
from tallshelf.core.snapshot import Item, outline_item
from tallshelf.core.words import content_words, opposed, split_identifier, stem, verb_class

_WEIGHTS = {"name": 0.3, "description": 0.4, "parameters": 0.3}
_CLASSES: tuple[tuple[float, OverlapClass], ...] = ((0.62, "same-job"), (0.45, "near"), (0.32, "related"))


def find_overlaps(
    items: Iterable[Item], source: str, index: OverlapIndex, rulings: tuple[Ruling, ...] = ()
) -> tuple[Overlap, ...]:
    """Return the overlaps of some items of one source with an index, strongest first."""
    found: dict[frozenset[tuple[str, str]], Overlap] = {}
    for item in items:
        own = CatalogItem(source, item)
        for other in index.candidates(item, source):
            key = frozenset({(source, item.identity), (other.source, other.item.identity)})
            if key not in found:
                overlap = score_pair(own, other, index.rarity, rulings)
                if overlap is not None:
                    found[key] = overlap
    return tuple(sorted(found.values(), key=lambda one: (-one.score, one.a.item, one.b.source, one.b.item)))


def score_pair(
    a: CatalogItem,
    b: CatalogItem,
    rarity: Callable[[str], float],
    rulings: tuple[Ruling, ...] = (),
) -> Overlap | None:
    """Score one pair; None when they have too little in common to speak of."""
    verbs = [_verb(one.item) for one in (a, b)]
    if opposed(*verbs):
        return None
    signals = {
        "name": _name(a.item, b.item),
        "description": _description(a.item, b.item, rarity),
        "parameters": _parameters(a.item, b.item),
    }
    score = round(sum(weight * signals[name] for name, weight in _WEIGHTS.items()), 3)
    cls = next((name for least, name in _CLASSES if score >= least), None)
    if cls is None:
        return None
    sides = (Side(a.source, a.item.identity, a.item.digest), Side(b.source, b.item.identity, b.item.digest))
    reasons, differences = _reasons(a.item, b.item)
    return Overlap(
        *sides,
        cls=cls,
        score=score,
        reasons=reasons,
        differences=differences,
        stands_in=_stands_in(a.item, b.item) if cls == "same-job" else None,
        ruled=is_ruled(*sides, rulings),
    )


def _verb(item: Item) -> str | None:
    words = split_identifier(item.name)
    return verb_class(words[0]) if words else None


def _name_words(item: Item) -> frozenset[str]:
    words = split_identifier(item.name)
    verb = _verb(item)
    rest = words[1:] if verb else words
    return frozenset(map(stem, rest)) | ({f"({_looking(verb)})"} if verb else frozenset())


def _looking(verb: str) -> str:
    """Reading one, listing and finding are near enough for two names to mean one job."""
    return "look" if verb in ("read", "find", "list") else verb


def _name(a: Item, b: Item) -> float:
    return _share(_name_words(a), _name_words(b), lambda word: 1.0)


def _description(a: Item, b: Item, rarity: Callable[[str], float]) -> float:
    return _share(frozenset(content_words(a.description)), frozenset(content_words(b.description)), rarity)


def _parameters(a: Item, b: Item) -> float:
    left, right = _parameter_types(a), _parameter_types(b)
    if not left and not right:
        return 0.5
    return _share(frozenset(left.items()), frozenset(right.items()), lambda pair: 1.0)


def _parameter_types(item: Item) -> Mapping[str, str]:
    return {
        " ".join(map(stem, split_identifier(line.name))): line.type.split(",")[0]
        for line in outline_item(item).parameters
        if "." not in line.name
    }


def _share(left: frozenset[Any], right: frozenset[Any], weight: Callable[[Any], float]) -> float:
    """Return the weighted share of what two sets have in common (Jaccard index)."""
    whole = sum(weight(one) for one in left | right)
    return sum(weight(one) for one in left & right) / whole if whole else 0.0


def _reasons(a: Item, b: Item) -> tuple[tuple[str, ...], tuple[str, ...]]:
    reasons, differences = [], []
    same_name = sorted(_name_words(a) & _name_words(b))
    if same_name:
        reasons.append("the names share " + _quoted(word.strip("()") for word in same_name))
    texts = sorted(set(content_words(a.description)) & set(content_words(b.description)))
    if texts:
        reasons.append(f"the descriptions share {len(texts)} words, such as {_quoted(texts[:6])}")
    left, right = _parameter_types(a), _parameter_types(b)
    same = sorted(name for name in left if right.get(name) == left[name])
    if same:
        reasons.append(f"{len(same)} of {len({*left, *right})} parameters are the same: {_quoted(same)}")
    for own, other, where in ((left, right, "first"), (right, left, "second")):
        only = sorted(set(own) - set(other))
        if only:
            differences.append(f"only the {where} takes {_quoted(only)}")
    return tuple(reasons), tuple(differences)


def _quoted(words: Iterable[str]) -> str:
    return ", ".join(f"“{word}”" for word in words)


def _stands_in(a: Item, b: Item) -> bool | None:
    """Whether b takes every call that a takes, and returns nothing that a would not."""
    return stand_in(a.body, b.body).stands_in if a.kind == "tool" else None
