"""How an entry says what is asked for, as people are told it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tallshelf.core.words.split import sentence_words, split_identifier
from tallshelf.service.catalog.search.entries import Asked, Entry, roots_of

_SHOWN = {"name": 3.0, "words": 1.5, "text": 1.4, "server": 1.2, "parameters": 0.7}


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
