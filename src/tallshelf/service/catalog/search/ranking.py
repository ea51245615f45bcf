"""Ranking what may fit a question: how much of what it asks for an entry says, where, and whether it does it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple

from tallshelf.core.words.asking import act_done, agreement, wants_done
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.split import sentence_words, split_identifier, stem

Fit = Literal["good", "weak", "none"]

# Where a word may be said: what that counts for the order, and for how much of the question is said.
_PLACES = {
    "name": (3.0, 1.0),
    "words": (1.5, 1.0),
    "lead": (1.8, 1.0),
    "server": (1.6, 1.0),
    "rest": (0.8, 0.7),
    "parameters": (0.6, 0.4),
}
_NAME_AT_LEAST, _NAMED = 1.8, 0.3
"""A name counts the more, the more of it is asked for."""
_SHOWN = {"name": 3.0, "words": 1.5, "text": 1.4, "server": 1.2, "parameters": 0.7}
_GOOD, _WEAK, _LEAST_OF_THINGS = 0.6, 0.38, 0.2
_TOOL, _NO_TOOL, _LENGTH, _NEAR_THE_BEST = 1.1, 0.7, 0.15, 0.45
"""How much more a tool counts than what is only read, how much length costs, how near to the best one is shown."""
_BEGUN = 0.7
"""How nearly a longer word says what may be its beginning."""
_PART = 0.2
"""What saying a part of the question well is worth beside saying all of it."""
_ENDS, _LONGEST_LEAD = (". ", ".\n", "\n\n", "。"), 240


@dataclass(frozen=True)
class Asked:
    """One word that is asked for: how telling it is, and what each root that may say it is ``worth``, at most that.

    It ``begins`` a word where it is the last one, which may be unfinished; ``acts`` where it says what is to be done.
    What stands beside it in the catalog (``company``) hints at it: that counts for the order, and not for how well an
    entry fits.
    """

    word: str
    telling: float
    worth: Mapping[str, float]
    begins: bool = False
    acts: bool = False
    company: Mapping[str, float] = field(default_factory=dict)

    def less(self, share: float) -> Asked:
        """Return the same word, for less."""
        worth = {root: value * share for root, value in self.worth.items()}
        return replace(self, telling=self.telling * share, worth=worth)


@dataclass(frozen=True)
class Entry:
    """What may be found: the roots of its words by place, its texts by field, and what it does."""

    id: int
    places: Mapping[str, frozenset[str]]
    texts: Mapping[str, str]
    is_tool: bool = False
    act: str = ""


@dataclass(frozen=True)
class Ranked:
    """An entry with its score, and how much of what is asked for it says, from 0 to 1.

    ``share`` is of all words, ``things`` of those that say to what something is to be done; 1 where there are none.
    """

    id: int
    score: float
    share: float
    things: float


def entry(number: int, texts: Mapping[str, str], *, is_tool: bool = False) -> Entry:
    """Return an entry of its texts: name, words, text, parameters, server."""
    lead, rest = _lead(texts.get("text", ""))
    places = {**texts, "lead": lead, "rest": rest}
    roots = {place: frozenset(_roots(places.get(place, ""))) for place in _PLACES}
    return Entry(
        number, roots, texts, is_tool, act_done(texts.get("words", "").split() if is_tool else (), lead)
    )


def _lead(text: str) -> tuple[str, str]:
    """Cut a text after its first sentence, which says what it is about."""
    ends = [at + 1 for end in _ENDS if (at := text.find(end, 1)) > 0]
    at = min([*ends, _LONGEST_LEAD])
    return text[:at], text[at:]


def _roots(text: str) -> Iterator[str]:
    for word in (*sentence_words(text), *split_identifier(text)):
        yield from roots_of(word)


def roots_of(word: str) -> tuple[str, str, str]:
    """Return by what a word is known: as it stands, its stem, its base form."""
    return word, stem(word), lemma(word)


def telling(number: int, found: int) -> float:
    """Return how telling a word is that so many of so many entries hold (inverse document frequency, as in BM25)."""
    return math.log(1 + (number - found + 0.5) / (found + 0.5))


def ranked(asked: Sequence[Asked], entries: Iterable[Entry], act: str = "") -> list[Ranked]:
    """Return entries by how well they fit, best first; those that say far less than the best are left out.

    ``act`` is what is wanted done (`act_asked`).
    """
    whole = sum(one.telling for one in asked) or 1.0
    rankeds = []
    for entry in entries:
        named = _named(asked, entry)
        said = [_said(word, entry, named) for word in asked]
        share = sum(one.near for one in said) / whole
        if share:
            # Saying all that is asked for counts for more than saying a part of it well.
            hinted = sum(one.hinted for one in said) / whole
            weighed = sum(one.best for one in said) / whole * (_PART + hinted)
            weighed *= (_TOOL if entry.is_tool else _NO_TOOL if wants_done(act) else 1.0) * (
                1 - _NAMED / 2 + _NAMED * named
            )
            weighed *= agreement(act, entry.act)
            length = _LENGTH * math.log1p(len(entry.texts.get("text", "")) / 400)
            rankeds.append(Ranked(entry.id, weighed - length, share, _things(asked, said)))
    least = max((one.share for one in rankeds), default=0.0) * _NEAR_THE_BEST
    return sorted((one for one in rankeds if one.share >= least), key=lambda one: (-one.score, one.id))


class _How(NamedTuple):
    """How well an entry says a word by how nearly and where, how nearly anywhere, and that with what only hints."""

    best: float
    near: float
    hinted: float


def _things(asked: Sequence[Asked], said: Sequence[_How]) -> float:
    things = [(word.telling, how.near) for word, how in zip(asked, said, strict=True) if not word.acts]
    whole = sum(telling for telling, _ in things)
    return sum(near for _, near in things) / whole if whole else 1.0


def _named(asked: Sequence[Asked], entry: Entry) -> float:
    """Return how much of an entry's name is asked for, from 0 to 1."""
    name = entry.places["name"]
    return sum(any(root in word.worth for word in asked) for root in name) / len(name) if name else 0.0


def _said(word: Asked, entry: Entry, named: float) -> _How:
    best = near = hinted = 0.0
    for place, (weight, counts) in _PLACES.items():
        roots = entry.places[place]
        here = _most(word.worth, roots)
        if here < word.telling and word.begins and any(root.startswith(word.word) for root in roots):
            here = max(here, word.telling * _BEGUN)
        if place == "name":
            weight = _NAME_AT_LEAST + (weight - _NAME_AT_LEAST) * named
        near = max(near, here * counts)
        here = max(here, _most(word.company, roots))
        best, hinted = max(best, here * weight), max(hinted, here * counts)
    return _How(best, near, hinted)


def _most(worth: Mapping[str, float], roots: frozenset[str]) -> float:
    return max((value for root, value in worth.items() if root in roots), default=0.0)


@dataclass(frozen=True)
class Said:
    """How an entry says a word that is asked for: by which word of its own, and where; both empty where it does not."""

    asked: str
    said: str
    where: str


def says(asked: Sequence[Asked], entry: Entry) -> list[Said]:
    """Return how an entry says each word that is asked for, in the order of asking."""
    return [_how(word, entry) for word in asked]


def _how(word: Asked, entry: Entry) -> Said:
    best = (0.0, "", "")
    for place, weight in _SHOWN.items():
        text = entry.texts.get(place, "")
        for own in dict.fromkeys((*sentence_words(text), *split_identifier(text))):
            worth = max(word.worth.get(root, 0.0) for root in roots_of(own))
            if worth < word.telling and word.begins and own.startswith(word.word):
                worth = word.telling
            where = "name" if place == "words" else place
            best = max(best, (worth * weight, own, where), key=lambda each: each[0])
    return Said(word.word, best[1], best[2])


def fit(rankeds: Sequence[Ranked]) -> Fit:
    """Return how well the best of what was found fits."""
    if not rankeds or rankeds[0].share < _WEAK or rankeds[0].things < _LEAST_OF_THINGS:
        return "none"
    return "good" if rankeds[0].share >= _GOOD else "weak"
