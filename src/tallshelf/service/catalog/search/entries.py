"""What is asked for and what may be found, as both are held against each other: by the roots of their words."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from tallshelf.core.words.asking import act_done
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.split import is_stop_word, sentence_words, split_identifier, stem

PLACES = ("name", "words", "lead", "server", "rest", "parameters")
"""Where an entry may say a word; its text is its lead, which says what it is about, and the rest."""

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

    @cached_property
    def own(self) -> frozenset[str]:
        """The roots of the word itself."""
        return frozenset(roots_of(self.word))

    def less(self, share: float) -> Asked:
        """Return the same word, for less."""
        worth = {root: value * share for root, value in self.worth.items()}
        return replace(self, telling=self.telling * share, worth=worth)


@dataclass(frozen=True)
class Entry:
    """What may be found: the roots of its words by place, its texts by field, and what it does.

    ``lead`` has the roots of each telling word of its lead, ``called`` the words of its name, and of a server's title.
    """

    id: int
    places: Mapping[str, frozenset[str]]
    texts: Mapping[str, str]
    lead: tuple[tuple[str, ...], ...] = ()
    called: frozenset[tuple[str, ...]] = frozenset()
    kind: str = ""
    act: str = ""

    @property
    def is_tool(self) -> bool:
        return self.kind == "tool"


def entry(number: int, texts: Mapping[str, str], *, kind: str = "") -> Entry:
    """Return an entry of its texts: name, words, text, parameters, server."""
    lead, rest = _lead(texts.get("text", ""))
    places = {**texts, "lead": lead, "rest": rest}
    roots = {place: frozenset(_roots(places.get(place, ""))) for place in PLACES}
    telling = tuple(roots_of(word) for word in sentence_words(lead) if not is_stop_word(word))
    act = act_done(texts.get("words", "").split() if kind == "tool" else (), lead)
    names = [texts.get("name", "")]
    if kind == "server":
        names.append(texts.get("server", "").removeprefix(names[0]))
    return Entry(number, roots, texts, telling, frozenset(map(words_of, names)), kind, act)


def words_of(name: str) -> tuple[str, ...]:
    """Return the words of a name, however it is written: berth-planner, Berth planner."""
    return tuple(piece for one in name.split() for piece in split_identifier(one))


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
