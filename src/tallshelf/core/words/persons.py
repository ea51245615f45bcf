"""Whether a text speaks of people: by a word for them, by a noun that is a person, or by what only people do."""

from __future__ import annotations

import itertools
import re
from collections.abc import Collection

from tallshelf.core.words.commanding import WORD
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

_PERSON, _BY_PEOPLE = 18, frozenset({31, 32, 37})
"""Files of WordNet: of nouns for people, and of verbs of thinking, saying and feeling."""
_NO_PERSON = word_set(
    """
server client parent child host master worker agent model owner author holder reader provider publisher subscriber
listener handler controller builder runner scanner counter member descendant ancestor neighbour neighbor successor
"""
)
_PERSON_OR_THING = word_set(
    "owner author holder member parent child provider publisher subscriber neighbour neighbor"
)
"""Of these, who may be meant where people's verbs follow; a server that says so is none."""
_PEOPLE = Pattern(
    r"\b(?:users?|persons?|people|customers?|clients?|humans?|operators?|anyone|anybody|everyone|everybody|somebody|"
    r"someone|whoever|audience)\b",
    re.IGNORECASE,
)


def names_people(text: str, own: Collection[str]) -> bool:
    """Whether a text speaks of people: by a word for them, or by a noun whose first sense is a person (WordNet)."""
    if speaks_of(_PEOPLE, text, own) or _acts_as_people_do(text, own):
        return True
    nouns = (lemma(word) for word in WORD.findall(text) if word.islower())
    return any(
        (found := parts(noun).get("n")) is not None
        and found.file == _PERSON
        and verb_share(noun) < 0.3
        and noun not in _NO_PERSON
        and noun.rstrip("s") not in own
        for noun in nouns
    )


def _acts_as_people_do(text: str, own: Collection[str]) -> bool:
    """Whether a noun that may be a person or a thing does what people do: the owner asks, the client worries."""
    words = [word.lower() for word in WORD.findall(text)]
    return any(
        word.rstrip("s") in _PERSON_OR_THING
        and word.rstrip("s") not in own
        and (found := parts(lemma(after)).get("v")) is not None
        and found.file in _BY_PEOPLE
        and verb_share(lemma(after)) >= 0.3
        for word, after in itertools.pairwise(words)
    )


def speaks_of(form: Pattern, text: str, own: Collection[str]) -> bool:
    """Whether a form is found in a text, and none of its words is one of what the tool works on."""
    return any(
        not any(word.rstrip("s") in own for word in re.findall(r"[a-z]+", found.group().lower()))
        for found in form.finditer(text)
    )
