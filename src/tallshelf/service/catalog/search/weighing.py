"""Weighing what is asked for: how telling each word is in this catalog, and what may say it instead."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import combinations, pairwise
from typing import Any, NamedTuple

from tallshelf.core.words.asking import (
    Question,
    answered_by,
    asked_words,
    denied_words,
    ended_in,
    is_state,
    nouns_in,
    places_in,
    values_in,
    who_does,
)
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.split import is_stop_word, sentence_words, stem
from tallshelf.core.words.standing_for import (
    RELATED,
    SAME,
    halves,
    is_misspelt,
    like_verbs,
    may_stand_for,
    verb_classes,
)
from tallshelf.core.words.terms import HouseTerms
from tallshelf.service.catalog.search.entries import Asked, telling

_COUNTED = 4_000
"""Up to how many entries that hold a word are counted."""
_SHORTEST_NAME = 4
_STATE, _KIND, _DENIED, _UNDONE, _WRITTEN, _VALUE = 0.6, 0.6, 0.4, 0.9, 0.5, 0.25


class Weighed(NamedTuple):
    """What is asked for, weighed, and every word that may say it."""

    words: list[Asked]
    phrases: set[str]


def weighed(cursor: Any, question: Question, words: list[str], terms: HouseTerms) -> Weighed:
    """Return the words that are asked for, each with what may stand for it and how telling it is.

    ``words`` are those of the question that are looked for, ``terms`` those of the house.
    """
    counts = _Counts(cursor)
    found, phrases = [], set()
    denied, words = denied_words(question.text), _with_ends_read(counts, question.text, words)
    instead = _Instead(counts, question, terms)
    asked = [half for one in asked_words(words) for half in _spread(counts, one)]
    meant = _meant_by_several(counts, asked)
    for word in asked:
        others = _others(word, denied=word in denied) | instead.of(word)
        others |= {one: SAME for one in others if one in meant and others[one] >= RELATED * _STATE}
        if word in instead.nouns:
            like = like_verbs(word)
            others = {one: near for one, near in others.items() if near >= RELATED or one not in like}
        is_name = len(word) >= _SHORTEST_NAME and is_misspelt(word)  # postgres, postgresql
        begins = word == words[-1] or is_name
        found.append(_asked(counts, word, others, begins=begins, denied=word in denied))
        phrases |= {word, lemma(word), *others}
    found = _with_values_light(counts, question.text, found)
    first, kinds = answered_by(question.text)
    if kinds:
        each = {one: counts.telling([one]) for one in kinds}
        worth = {root: value * _KIND for one, value in each.items() for root in (one, stem(one))}
        answer = Asked(first, max(worth.values()), worth)
        most = max(
            one.telling for one in found
        )  # how rare an answer is makes it no more than what it is about
        found.append(answer.less(min(1.0, most / answer.telling)))
        phrases.update(kinds)
    return Weighed(found, phrases)


def _meant_by_several(counts: _Counts, words: Sequence[str]) -> frozenset[str]:
    """Return what two words may be said by at once, which is what they mean together: a ferry leaves, a sailing.

    One of the two stands nowhere here, or what they mean would be called by it.
    """
    near = {
        word: {one for one, how in may_stand_for(word).items() if RELATED <= how < SAME} for word in words
    }
    return frozenset(
        one
        for here, there in combinations(near, 2)
        if not (counts.of([here]) and counts.of([there]))
        for one in near[here] & near[there]
    )


class _Instead:
    """What may be said instead of a word by how it stands in the question, and by the house's own terms."""

    def __init__(self, counts: _Counts, question: Question, terms: HouseTerms) -> None:
        self.nouns = nouns_in(question.text)
        self._counts, self._question, self._terms = counts, question, terms
        self._persons = who_does(question.text)
        self._joined = _joined(counts, sentence_words(question.text))

    def of(self, word: str) -> dict[str, float]:
        of_the_house = self._terms.standing_for(word, self._question.text)
        found = {one: SAME for one in of_the_house if one.isalnum() and not is_stop_word(one)}
        if word in self._persons and self._counts.of([self._persons[word]]):
            found[self._persons[word]] = SAME
        found |= dict.fromkeys(self._joined.get(word, ()), SAME)
        found |= dict.fromkeys(self._question.called.get(word, ()), RELATED)
        if word in self._question.written:
            found[self._question.written[word].split()[0]] = _WRITTEN
        return found


def _with_ends_read(counts: _Counts, text: str, words: list[str]) -> list[str]:
    """Read *stop muting* as *unmute* where the catalog says that: who stops running containers unruns none."""
    for (ends, verb), undo in ended_in(text).items():
        if counts.of([undo]):
            words = [undo if word == verb else word for word in words if word != ends]
    return words


def _with_values_light(counts: _Counts, text: str, asked: list[Asked]) -> list[Asked]:
    """Let what a tool would be given, such as a time or a place that nobody here knows, weigh little."""
    values = values_in(text) | {word for word in places_in(text) if not counts.of([word])}
    if all(one.word in values for one in asked):
        return asked
    return [one.less(_VALUE) if one.word in values else one for one in asked]


def _others(word: str, *, denied: bool) -> dict[str, float]:
    """Return what may say a word instead, each with how nearly."""
    others = {one: near for one, near in may_stand_for(word).items() if one.isalnum() and len(one) > 1}
    if is_state(word):  # what says another state says more of it than what does something
        others = {one: near if is_state(one) else near * _STATE for one, near in others.items()}
    if denied:  # what was not read is unread
        others = {one: near * _DENIED for one, near in others.items()} | {f"un{word}": _UNDONE}
    return others


def _asked(counts: _Counts, word: str, others: dict[str, float], *, begins: bool, denied: bool) -> Asked:
    # What is the same by another name is one thing: it is as telling as all of them are together.
    same = sorted(one for one, near in others.items() if near >= SAME and not denied)
    held = [word, *same]
    if not counts.of(held, begins=begins):  # it is as telling as what people mean by it
        related = [one for one, near in others.items() if near >= RELATED]
        held = related if counts.of(related) else held
    whole = counts.telling(held, begins=begins)
    common = counts.of(held, begins=begins) == _COUNTED
    worth: dict[str, float] = {}
    for one, near in others.items():
        # Of what stands for a common word it makes no difference how common that is.
        value = whole if one in same else near * (whole if common else min(whole, counts.telling([one])))
        worth |= {root: max(value, worth.get(root, 0.0)) for root in (one, stem(one))}
    own = whole * (_DENIED if denied else 1.0)
    worth |= {lemma(word): own * (_STATE if is_state(word) else 1.0)}
    worth |= {stem(word): own, word: own}
    return Asked(word, whole, worth, begins=begins and not denied, acts=bool(verb_classes(word)))


def _joined(counts: _Counts, words: Sequence[str]) -> dict[str, list[str]]:
    """Return, by each of two words that stand together, the one word that the catalog writes: screen shot."""
    found: dict[str, list[str]] = {}
    for one, other in pairwise(words):
        if len(one) > 1 and len(other) > 1 and counts.of([one + other]):
            for word in (one, other):
                found.setdefault(word, []).append(one + other)
    return found


def _spread(counts: _Counts, word: str) -> Iterable[str]:
    """Read a compound that stands nowhere as the two words it is made of, where both do."""
    if counts.of([word]):
        return (word,)
    both = halves(word)
    return both if both and all(counts.of([one]) for one in both) else (word,)


class _Counts:
    """How many entries hold a word, counted once each."""

    def __init__(self, cursor: Any) -> None:
        self._cursor = cursor
        self._known: dict[str, int] = {}
        cursor.execute("SELECT count(*) FROM catalog_searchentry")
        self._number: int = cursor.fetchone()[0]

    def telling(self, words: Iterable[str], *, begins: bool = False) -> float:
        return telling(self._number, self.of(words, begins=begins))

    def of(self, words: Iterable[str], *, begins: bool = False) -> int:
        """Return how many entries hold one of some words, up to a few thousand; the first may be a beginning."""
        match = " OR ".join(_phrases(words, begins=begins))
        if match and match not in self._known:
            self._cursor.execute(
                "SELECT count(*) FROM (SELECT 1 FROM catalog_search WHERE catalog_search MATCH %s LIMIT %s)",
                [match, _COUNTED],
            )
            self._known[match] = int(self._cursor.fetchone()[0])
        return self._known.get(match, 0)


def _phrases(words: Iterable[str], *, begins: bool) -> Iterator[str]:
    for at, word in enumerate(words):
        yield f'"{word}"*' if begins and at == 0 else f'"{word}"'
