"""Ranking what may fit a question: how much of what it asks for an entry says, and where."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.split import sentence_words, split_identifier, stem

Fit = Literal["good", "weak", "none"]

_FIELDS = {"name": 3.0, "words": 1.5, "text": 1.4, "parameters": 0.7, "server": 1.2}
_GOOD, _WEAK = 0.6, 0.34
_TOOL, _LENGTH, _NEAR_THE_BEST = 1.1, 0.15, 0.6
"""How much more a tool counts than what is only read, how much length costs, how near to the best one is shown."""


@dataclass(frozen=True)
class Asked:
    """One word that is asked for: what may say it, each with how nearly (by stem), and how telling it is.

    It ``begins`` a word where it is the last one, which may be unfinished.
    """

    word: str
    stems: Mapping[str, float]
    telling: float
    begins: bool = False


@dataclass(frozen=True)
class Entry:
    """What may be found: its texts by field, cut into stems once."""

    id: int
    fields: Mapping[str, frozenset[str]]
    texts: Mapping[str, str]
    is_tool: bool = False


@dataclass(frozen=True)
class Ranked:
    """An entry with its score, and how much of what is asked for it says (``share``, from 0 to 1)."""

    id: int
    score: float
    share: float


def entry(number: int, texts: Mapping[str, str], *, is_tool: bool = False) -> Entry:
    """Return an entry of its texts."""
    fields = {
        name: frozenset(
            root
            for word in (*sentence_words(text), *split_identifier(text))
            for root in (stem(word), lemma(word))
        )
        for name, text in texts.items()
    }
    return Entry(number, fields, texts, is_tool)


def telling(number: int, found: int) -> float:
    """Return how telling a word is that so many of so many entries hold (inverse document frequency, as in BM25)."""
    return math.log(1 + (number - found + 0.5) / (found + 0.5))


def ranked(asked: Sequence[Asked], entries: Iterable[Entry]) -> list[Ranked]:
    """Return entries by how well they fit, best first; those that say far less than the best are left out."""
    whole = sum(one.telling for one in asked) or 1.0
    rankeds = []
    for entry in entries:
        said = [_said(word, entry) for word in asked]
        score = sum(word.telling * best for word, (best, _) in zip(asked, said, strict=True)) / whole
        share = sum(word.telling * near for word, (_, near) in zip(asked, said, strict=True)) / whole
        if share:
            # Saying all that is asked for counts for more than saying a part of it well.
            weighed = (
                score
                * (0.4 + share)
                * (_TOOL if entry.is_tool else 1.0)
                * (0.85 + 0.3 * _named(asked, entry))
            )
            rankeds.append(
                Ranked(
                    entry.id, weighed - _LENGTH * math.log1p(len(entry.texts.get("text", "")) / 400), share
                )
            )
    least = max((one.share for one in rankeds), default=0.0) * _NEAR_THE_BEST
    return sorted((one for one in rankeds if one.share >= least), key=lambda one: (-one.score, one.id))


def _named(asked: Sequence[Asked], entry: Entry) -> float:
    """Return how much of an entry's name is asked for, from 0 to 1."""
    name = entry.fields.get("name", frozenset())
    return sum(any(root in word.stems for word in asked) for root in name) / len(name) if name else 0.0


def _said(word: Asked, entry: Entry) -> tuple[float, float]:
    """Return how well an entry says a word, by how nearly and where, and how nearly it says it anywhere."""
    best = near = 0.0
    for name, weight in _FIELDS.items():
        stems = entry.fields.get(name, frozenset())
        here = max((how for root, how in word.stems.items() if root in stems), default=0.0)
        if here < 1.0 and word.begins and any(root.startswith(word.word) for root in stems):
            here = 1.0
        best, near = max(best, here * weight), max(near, here)
    return best, near


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
    for name, weight in _FIELDS.items():
        text = entry.texts.get(name, "")
        for own in dict.fromkeys((*sentence_words(text), *split_identifier(text))):
            near = max(word.stems.get(stem(own), 0.0), word.stems.get(lemma(own), 0.0))
            if near < 1.0 and word.begins and own.startswith(word.word):
                near = 1.0
            best = max(
                best, (near * weight, own, "name" if name == "words" else name), key=lambda each: each[0]
            )
    return Said(word.word, best[1], best[2])


def fit(rankeds: Sequence[Ranked]) -> Fit:
    """Return how well the best of what was found fits."""
    if not rankeds or rankeds[0].share < _WEAK:
        return "none"
    return "good" if rankeds[0].share >= _GOOD else "weak"
