"""What of an entry speaks for its being what is asked for, in figures."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from tallshelf.core.words.asking import agreement
from tallshelf.service.catalog.search.entries import Asked, Entry

# Where a word may be said: what that counts for the order, and for how much of the question is said.
_PLACES = {
    "name": (3.0, 1.0),
    "words": (1.5, 1.0),
    "lead": (1.8, 1.0),
    "server": (1.6, 1.0),
    "rest": (0.8, 0.7),
    "parameters": (0.6, 0.4),
}
_NAME_AT_LEAST = 1.8
"""A name counts the more, the more of it is asked for."""
_BEGUN = 0.7
"""How nearly a longer word says what may be its beginning."""
_FEWEST_WORDS = 4
"""A lead of less words is as if it had so many."""


class Traits(NamedTuple):
    """What speaks for an entry; shares are of all that is asked for, each word by how telling it is."""

    best: float
    """How well the words are said, by how nearly and where each is said best."""
    share: float
    """How much of what is asked for is said, from 0 to 1."""
    hinted: float
    """The same with what only stands beside the words elsewhere."""
    agreement: float
    """How far what it does is what is wanted done (logarithm)."""
    is_tool: float
    length: float
    """How long its text is (logarithm)."""
    lead: float
    """How much of the lead is asked for, from 0 to 1."""
    named: float
    """How much of the name is asked for, from 0 to 1."""
    place: float
    """Its place in the order of the full-text index (logarithm)."""
    siblings: float
    """How much its server's other entries say of the question on average."""
    server: float
    """How much of the things is said by its server's name."""
    exact: float
    """How much its name says in the very words."""
    around: float
    """How much of the things its server's other entries say that it does not."""


class Spoken(NamedTuple):
    """An entry with its traits, and how much it says of the things; 1 where none are asked for."""

    entry: Entry
    traits: Traits
    things: float


class _How(NamedTuple):
    """How well an entry says a word by how nearly and where; then how nearly: anywhere, with what only hints, there."""

    best: float
    near: float
    hinted: float
    server: float


def spoken(asked: Sequence[Asked], entries: Sequence[Entry], act: str) -> list[Spoken]:
    """Return entries, which stand in the order of the index, with what speaks for each.

    ``act`` is what is wanted done (`act_asked`).
    """
    names = [_named(asked, entry) for entry in entries]
    said = [
        [_said(word, entry, named) for word in asked] for entry, named in zip(entries, names, strict=True)
    ]
    around = _around(entries, said)
    return [
        _spoken(asked, act, at, entries[at], names[at], said[at], around[at]) for at in range(len(entries))
    ]


def _around(entries: Sequence[Entry], said: Sequence[Sequence[_How]]) -> list[list[float]]:
    """Return, for each entry, how nearly the other entries of its server say each word on average."""
    kin: defaultdict[str, list[Sequence[_How]]] = defaultdict(list)
    for entry, hows in zip(entries, said, strict=True):
        kin[entry.texts.get("server", "")].append(hows)
    sums = {
        server: [sum(how.near for how in column) for column in zip(*rows, strict=True)]
        for server, rows in kin.items()
    }
    found = []
    for entry, hows in zip(entries, said, strict=True):
        server = entry.texts.get("server", "")
        others = max(len(kin[server]) - 1, 1)
        found.append([(total - how.near) / others for total, how in zip(sums[server], hows, strict=True)])
    return found


def _spoken(
    asked: Sequence[Asked],
    act: str,
    at: int,
    entry: Entry,
    named: float,
    said: Sequence[_How],
    around: Sequence[float],
) -> Spoken:
    whole = sum(one.telling for one in asked) or 1.0
    things = [(how, other) for word, how, other in zip(asked, said, around, strict=True) if not word.acts]
    telling = sum(word.telling for word in asked if not word.acts)
    exact = [word.telling for word in asked if not entry.places["words"].isdisjoint(word.own)]
    traits = Traits(
        best=sum(how.best for how in said) / whole,
        share=sum(how.near for how in said) / whole,
        hinted=sum(how.hinted for how in said) / whole,
        agreement=math.log(agreement(act, entry.act)),
        is_tool=float(entry.is_tool),
        length=math.log1p(len(entry.texts.get("text", "")) / 400),
        lead=_lead(asked, entry),
        named=named,
        place=math.log1p(at),
        siblings=sum(around) / whole,
        server=sum(how.server for how, _ in things) / whole,
        exact=sum(exact) / whole,
        around=sum(max(0.0, other - how.near) for how, other in things) / whole,
    )
    return Spoken(entry, traits, sum(how.near for how, _ in things) / telling if telling else 1.0)


def _named(asked: Sequence[Asked], entry: Entry) -> float:
    """Return how much of an entry's name is asked for, from 0 to 1."""
    name = entry.places["name"]
    return sum(any(root in word.worth for word in asked) for root in name) / len(name) if name else 0.0


def _lead(asked: Sequence[Asked], entry: Entry) -> float:
    asked_for = {root for word in asked for root in word.worth}
    met = sum(not asked_for.isdisjoint(roots) for roots in entry.lead)
    return met / max(_FEWEST_WORDS, len(entry.lead))


def _said(word: Asked, entry: Entry, named: float) -> _How:
    best = near = hinted = in_server = 0.0
    for place, (weight, counts) in _PLACES.items():
        roots = entry.places[place]
        here = _most(word.worth, roots)
        if here < word.telling and word.begins and any(root.startswith(word.word) for root in roots):
            here = max(here, word.telling * _BEGUN)
        if place == "server":
            in_server = here
        if place == "name":
            weight = _NAME_AT_LEAST + (weight - _NAME_AT_LEAST) * named
        near = max(near, here * counts)
        here = max(here, _most(word.company, roots))
        best, hinted = max(best, here * weight), max(hinted, here * counts)
    return _How(best, near, hinted, in_server)


def _most(worth: Mapping[str, float], roots: frozenset[str]) -> float:
    return max((value for root, value in worth.items() if root in roots), default=0.0)
