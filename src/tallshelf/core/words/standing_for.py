"""What may stand for a word that is asked for: synonyms, verbs of the same work, what the trades call it else."""

from __future__ import annotations

import functools

from tallshelf.core.words.acts import is_light
from tallshelf.core.words.classes import VERB_CLASSES
from tallshelf.core.words.lexicon import base_forms, is_word, lemma, words_for
from tallshelf.core.words.meaning import alike
from tallshelf.core.words.trades import related

SAME = 0.8
"""How near is what is the same thing by another name."""
RELATED = 0.65
"""How near is what people ask by for it, in the trades at large."""
_SYNONYM, _SAME_WORK = 0.55, 0.5
_READING = frozenset({"read", "list", "find"})
_SHORTEST_COMPOUND, _SHORTEST_HALF = 7, 3


def may_stand_for(word: str) -> dict[str, float]:
    """Return the base forms that may say what a word asks for, each with how nearly, from 0 to 1."""
    own = lemma(word)
    # A verb that says little of what is done, as make or take, has synonyms for everything.
    found = {} if is_light(own) else dict.fromkeys(words_for(own), _SYNONYM)
    found |= dict.fromkeys(related(word) | related(own), RELATED)
    found |= dict.fromkeys(alike(own), SAME)
    found |= dict.fromkeys(like_verbs(word), _SAME_WORK)
    found.pop(word, None)
    return found


def like_verbs(verb: str) -> frozenset[str]:
    """Return the verbs of the same work; who looks for something does not care how it is read."""
    found: frozenset[str] = frozenset()
    for name in verb_classes(verb):
        found = found.union(*(VERB_CLASSES[one] for one in (_READING if name in _READING else (name,))))
    return found


@functools.lru_cache(maxsize=4_096)
def verb_classes(verb: str) -> frozenset[str]:
    """Return all classes that a verb may be of, in whatever form: one opens a file, and opens a request."""
    base = lemma(verb)
    return frozenset(name for name, words in VERB_CLASSES.items() if verb in words or base in words)


def halves(word: str) -> tuple[str, ...]:
    """Return the two words that a compound is made of, as flow and chart; nothing where it is none."""
    if len(word) < _SHORTEST_COMPOUND:
        return ()
    for at in range(len(word) - _SHORTEST_HALF, _SHORTEST_HALF - 1, -1):
        if is_word(word[:at]) and any(map(is_word, base_forms(word[at:]))):
            return word[:at], word[at:]
    return ()


def is_misspelt(word: str) -> bool:
    """Whether a word is none that is known: only such are read as others. A number is no other number."""
    return len(word) > 2 and not word.isdigit() and not any(map(is_word, base_forms(word)))
