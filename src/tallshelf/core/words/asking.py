"""What a question asks for: its telling words, without those that only ask, what is done, and what would answer it."""

from __future__ import annotations

from collections.abc import Iterable

from tallshelf.core.words.lexicon import is_word, lemma, parts, verb_share
from tallshelf.core.words.split import is_stop_word, sentence_words, word_set
from tallshelf.core.words.standing_for import is_misspelt, verb_classes

_ASKING = word_set(
    """
tool tools server something anything thing things way want wanted need needs needed like looking look help helps
please
would could should can may might let lets tell tells show shows give gives know knows see way able possible someone
somebody people me my mine i we us our am im is are was were do does did how what which when where who whom why
whether
if so that this these those there here it its get gets got have has had make makes use used using go goes going
without
several multiple many more few another each other both
over under through across between during per within upon via than then
only just next soon tonight today tomorrow now currently already still yet ever really quickly
everything everybody everyone nothing nobody anybody anyone also about any some every all
into onto from with for of to in on at by as and or not no new
"""
)
_ANSWERED_BY = {
    "who": "user member person people author owner sender",
    "where": "location place address path",
    "when": "time date schedule",
    "how many": "count number total",
    "how much": "price cost amount",
    "how far": "distance",
    "how long": "duration time",
    "how high": "elevation height",
}
_INTERROGATIVES = word_set("which what who whom whose when where how why is are does do")
_ASKING_FOR = word_set("a an the tool something that to i we want need would like please can you for it")
_DENYING = word_set("not never nobody nothing none no haven't hasn't didn't isn't aren't wasn't")
_DENIED_WITHIN = 5
_LOOKING = frozenset({"read", "list", "find", "count", "check", "export"})
_MAINLY_A_VERB, _HARDLY_A_NOUN = 0.4, 0.6
_LOOK, _NOT_SAID = "look", "look?"
# How much more an item fits that does what is asked, and how much less one that does something else.
_DOES_IT, _MAY_DO_IT, _MAY_CHANGE, _DOES_ANOTHER, _CHANGES, _OTHERWISE = 1.2, 1.1, 0.95, 0.9, 0.8, 0.75


_SAY_LITTLE = frozenset({"take", "put", "bring"})


def asked_words(words: Iterable[str]) -> list[str]:
    """Return the words of a question that say what it is about; all of them where none does.

    A verb that says little of what is done, such as take and put, counts where there is nothing else.
    """
    found = list(dict.fromkeys(words))
    asked = [word for word in found if not _only_asks(word)]
    return [word for word in asked if lemma(word) not in _SAY_LITTLE] or asked or found


def who_does(text: str) -> dict[str, str]:
    """Return, by the verbs that a question for a person has, what such a person is called: who holds, the holder."""
    words = sentence_words(text)
    if words[:1] != ("who",):
        return {}
    found = {}
    for word in words[1:]:
        base = lemma(word)
        forms = (f"{base}er", f"{base}r", f"{base}{base[-1:]}er", f"{base}or", f"{base.removesuffix('e')}or")
        called = next((one for one in forms if is_word(one)), "") if "v" in parts(base) else ""
        if called:
            found[word] = called
    return found


def _only_asks(word: str) -> bool:
    return word in _ASKING or is_stop_word(word)


def answered_by(text: str) -> tuple[str, tuple[str, ...]]:
    """Return the word that a question begins with, and what an answer to it would be: who, and user or member."""
    words = " ".join(sentence_words(text))
    for start, kinds in _ANSWERED_BY.items():
        if words.startswith(f"{start} "):
            return start, tuple(kinds.split())
    return "", ()


def denied_words(text: str) -> frozenset[str]:
    """Return the verbs of a question that tell what is not so: read in "not read yet"."""
    words = sentence_words(text)
    found: set[str] = set()
    for at, word in enumerate(words):
        if word in _DENYING:
            after = [one for one in words[at + 1 : at + _DENIED_WITHIN] if not _only_asks(one)]
            found.update(one for one in after[:1] if "v" in parts(lemma(one)))
    return frozenset(found)


def is_state(word: str) -> bool:
    """Whether a word is a form of a verb that tells a state rather than what is to be done: running, failed."""
    return word.endswith(("ing", "ed")) and lemma(word) != word and "v" in parts(lemma(word))


def act_asked(text: str) -> str:
    """Return what a question wants done: ``look``, ``look?`` where it names things only, or a class of verbs.

    Empty where that is not known.
    """
    words = sentence_words(text)
    if words and words[0] in _INTERROGATIVES:
        return _LOOK
    for at, word in enumerate(words):
        if word == "new":  # one makes a new one, and looks at new ones
            return _NOT_SAID if any(map(_is_plural, words[at + 1 :])) else "create"
        if word in _ASKING_FOR or is_misspelt(word):  # such as the name of a system
            continue
        base = lemma(word)
        is_thing = _is_plural(word) or (at > 0 and words[at - 1] in ("a", "an", "the"))
        if is_thing:
            break
        if verb_classes(word) and (at == 0 or verb_share(base) >= _MAINLY_A_VERB):
            return _act_of(word)
        if "v" in parts(base) and verb_share(base) >= _HARDLY_A_NOUN:
            return ""
        break
    return _NOT_SAID


def _is_plural(word: str) -> bool:
    return word.endswith("s") and lemma(word) != word


def act_done(name: Iterable[str], lead: str) -> str:
    """Return what an item does, by the words of its name and the first of its text: as `act_asked`, or empty."""
    for word in [*list(name)[:3], *sentence_words(lead[:80])[:1]]:
        if verb_classes(word):
            return _act_of(word)
    return ""


def agreement(asked: str, done: str) -> float:
    """Return by how much what is done fits what is wanted done; 1 where one of them is not known."""
    if asked == _NOT_SAID:
        return _MAY_DO_IT if done == _LOOK else _CHANGES if done else _MAY_CHANGE
    if not asked or not done:
        return 1.0
    if asked == done:
        return _DOES_IT
    return _OTHERWISE if _LOOK in (asked, done) else _DOES_ANOTHER


def _act_of(verb: str) -> str:
    """Return ``look``, or the class of a verb; nothing for one that may be of several."""
    kinds = {_LOOK if one in _LOOKING else one for one in verb_classes(verb)}
    return kinds.pop() if len(kinds) == 1 else ""
