"""What a question asks for: its telling words, without those that only ask, each with what may stand for it."""

from __future__ import annotations

import functools
from collections.abc import Iterable

from tallshelf.core.words.classes import VERB_CLASSES, verb_class
from tallshelf.core.words.lexicon import base_forms, is_word, lemma, words_for
from tallshelf.core.words.meaning import alike
from tallshelf.core.words.split import is_stop_word, word_set

_ASKING = word_set(
    """
tool tools server something anything thing things way want wanted need needs needed like looking look help helps
please
would could should can may might let lets tell tells show shows give gives know knows see way able possible someone
somebody people me my mine i we us our am im is are was were do does did how what which when where who whom why
whether
if so that this these those there here it its get gets got have has had make makes use used using go goes going
without
only just next soon tonight today tomorrow now currently already still yet ever really quickly
also about any some every all into onto from with for of to in on at by as and or not no new
"""
)
# What people ask by, and what tools say, in the trades at large.
_RELATED_TEXT = """
leave depart departure departing sail sailing go
arrive arrival arriving come due
ferry boat ship vessel sailing
buy purchase order
bill invoice
staff crew employee worker personnel
repair fix mend maintenance defect
weather forecast temperature rain wind
cost price fee fare charge amount
pay payment transfer
car vehicle truck
room bed booking reservation
book reserve reservation booking order
free available availability vacant open
customer client guest passenger
doctor physician practitioner
picture image photo screenshot
page website url web
bug issue ticket defect problem
error log exception failure
undo revert restore rollback
save store write keep
remember memory note store
meeting event calendar appointment
todo task reminder
chat message conversation channel
folder directory path
code source repository file
merge pull request
branch commit git
table database query sql row record
graph chart plot diagram
video clip movie
music song track playlist
translate language
map route direction location place
near nearby closest nearest
late delay delayed
cancel withdraw abort
money currency exchange rate
share stock equity
news article headline
paper publication study
phone call number
address postcode location
time clock timezone date
password secret credential
run execute command script
container image pod
server host machine
user account member person
"""
_READING = ("read", "list", "find")


def asked_words(words: Iterable[str]) -> list[str]:
    """Return the words of a question that say what it is about; all of them where none does."""
    found = list(dict.fromkeys(words))
    return [word for word in found if word not in _ASKING and not is_stop_word(word)] or found


def may_stand_for(word: str) -> dict[str, float]:
    """Return the base forms that may say what a word asks for, each with how nearly, from 0 to 1."""
    own = lemma(word)
    found = dict.fromkeys(words_for(own), 0.55)
    found |= dict.fromkeys(_related().get(own, ()), 0.65)
    found |= dict.fromkeys(alike(own), 0.8)
    found |= dict.fromkeys(like_verbs(word), 0.5)
    found.pop(word, None)
    return found


@functools.lru_cache(maxsize=1)
def _related() -> dict[str, frozenset[str]]:
    found: dict[str, frozenset[str]] = {}
    for line in _RELATED_TEXT.strip().splitlines():
        words = frozenset(line.split())
        for word in words:
            found[word] = found.get(word, frozenset()) | words - {word}
    return found


def like_verbs(verb: str) -> frozenset[str]:
    """Return the verbs of the same work; who looks for something does not care how it is read."""
    found = verb_class(verb) or verb_class(lemma(verb)) or ""
    if found in _READING:
        return frozenset().union(*(VERB_CLASSES[name] for name in _READING))
    return VERB_CLASSES.get(found, frozenset())


def is_misspelt(word: str) -> bool:
    """Whether a word is none that is known: only such are read as others."""
    return len(word) > 2 and not any(map(is_word, base_forms(word)))
