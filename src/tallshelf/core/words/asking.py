"""What a question asks for: its telling words, without those that only ask, what is done, and what would answer it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise
from typing import NamedTuple

from tallshelf.core.words.lexicon import is_word, lemma, parts, verb_share
from tallshelf.core.words.split import is_stop_word, sentence_words, word_set
from tallshelf.core.words.standing_for import is_misspelt, verb_classes
from tallshelf.core.words.trades import phrases_in, with_verbs_read

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
    "who": "user member person people author owner sender participant attendee",
    "where": "location place address path",
    "when": "time date schedule",
    "how many": "count number total stats statistics",
    "how much": "price cost amount",
    "how far": "distance",
    "how long": "duration time",
    "how high": "elevation height",
}
_TELLING, _PEOPLE = word_set("tell tells show shows know knows say says"), word_set("me us people")
_INTERROGATIVES = word_set("which what who whom whose when where how why is are does do")
_ASKING_FOR = word_set("a an the tool something that to i we want need would like please can you for it")
_DENYING = word_set("not never nobody nothing none no haven't hasn't didn't isn't aren't wasn't")
_DENIED_WITHIN = 5
_SHORTEST_UNDONE = 2
_ENDING = word_set("stop cease quit")
_ARTICLES = word_set("a an the my your our this that")
_LOOKING = frozenset({"read", "list", "find", "count", "check", "export"})
_MAINLY_A_VERB, _HARDLY_A_NOUN = 0.4, 0.6
_LOOK, _NOT_SAID = "look", "look?"
# How much more an item fits that does what is asked, and how much less one that does something else.
_DOES_IT, _MAY_DO_IT, _MAY_CHANGE, _DOES_ANOTHER, _CHANGES, _OTHERWISE = 1.2, 1.1, 0.95, 0.9, 0.8, 0.75


_SAY_LITTLE = frozenset({"take", "put", "bring"})


class Question(NamedTuple):
    """A question with its phrases read.

    Verbs with a particle are one word (``written``: what it was written as); ``called`` has what else a word's phrase
    is called.
    """

    text: str
    written: Mapping[str, str]
    called: Mapping[str, tuple[str, ...]]


def question_of(text: str) -> Question:
    """Read the phrases of a question: switch it off, balance sheet."""
    words = sentence_words(text)
    read = with_verbs_read(words)
    found = list(read.words)
    called: dict[str, tuple[str, ...]] = {}
    for phrase, said in phrases_in(read.words):
        telling = [word for word in phrase if not _only_asks(word)]
        if telling:
            called.update({word: (*called.get(word, ()), *said) for word in telling})
        else:  # such as now and then
            found.append(said[0])
            called[said[0]] = said[1:]
    changed = tuple(found) != words
    return Question(" ".join(found) if changed else text, read.written, called)


def asked_words(words: Iterable[str]) -> list[str]:
    """Return the words of a question that say what it is about; all of them where none does.

    A verb that says little of what is done, such as take and put, counts where there is nothing else.
    """
    forms: dict[str, str] = {}
    for word in words:
        forms.setdefault(lemma(word), word)
    found = list(forms.values())
    asked = [word for word in found if not _only_asks(word)]
    return [word for word in asked if lemma(word) not in _SAY_LITTLE] or asked or found


_TIMES = word_set(
    """
    monday tuesday wednesday thursday friday saturday sunday january february march april may june july august september
    october november december yesterday noon midnight morning evening afternoon weekend
    """
)
_SPANS = word_set("second minute hour day night week month quarter year")
_WHICH = word_set("this last next past coming previous every each per")
_NUMBERS = word_set("one two three four five six seven eight nine ten dozen hundred thousand")
_LOCATION = 15
"""The lexicon's file of places."""
_AT = word_set("in from to near around at for")


def values_in(text: str) -> frozenset[str]:
    """Return the words of a question that a tool would be given, not named by: numbers, times, names of places."""
    words = sentence_words(text)
    found: set[str] = set()
    for at, word in enumerate(words):
        before = words[at - 1] if at else ""
        if word.isdigit() or word in _NUMBERS or word in _TIMES:
            found.add(word)
        elif lemma(word) in _SPANS and before in _WHICH:
            found |= {before, word}
    return frozenset(found)


def places_in(text: str) -> frozenset[str]:
    """Return the words of a question that may name a place: in Lisbon."""
    return frozenset(
        word for before, word in pairwise(sentence_words(text)) if before in _AT and _may_be_place(word)
    )


def _may_be_place(word: str) -> bool:
    return is_misspelt(word) or all(part.file == _LOCATION for part in parts(word).values())


def who_does(text: str) -> dict[str, str]:
    """Return, by the verbs that a question for a person has, what such a person is called: who holds, the holder."""
    words = sentence_words(text)
    words = words[_asked_from(words) :]
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
    """Return the words that begin what is asked, and what an answer to it would be: who, and user or member.

    They begin the question, or follow what asks for it: a tool that tells me when the ferry leaves.
    """
    words = sentence_words(text)
    asked = " ".join(words[_asked_from(words) :])
    for start, kinds in _ANSWERED_BY.items():
        if asked.startswith(f"{start} "):
            return start, tuple(kinds.split())
    return "", ()


def _asked_from(words: Sequence[str]) -> int:
    """Return where what is asked begins: behind *tells me*, else at the start."""
    for at, word in enumerate(words[:-1]):
        if word in _TELLING:
            return at + 1 + (words[at + 1] in _PEOPLE)
        if not _only_asks(word):
            break
    return 0


def denied_words(text: str) -> frozenset[str]:
    """Return the verbs of a question that tell what is not so: read in "not read yet"."""
    words = sentence_words(text)
    found: set[str] = set()
    for at, word in enumerate(words):
        if word in _DENYING:
            after = [one for one in words[at + 1 : at + _DENIED_WITHIN] if not _only_asks(one)]
            found.update(one for one in after[:1] if "v" in parts(lemma(one)))
    return frozenset(found)


def nouns_in(text: str) -> frozenset[str]:
    """Return the words of a question that an article makes nouns: the end of a list."""
    return frozenset(word for before, word in pairwise(sentence_words(text)) if before in _ARTICLES)


def ended_in(text: str) -> dict[tuple[str, str], str]:
    """Return what is to be ended and what would be done for it: stop muting, unmute."""
    pairs = pairwise(sentence_words(text))
    return {
        (ends, verb): f"un{lemma(verb)}"
        for ends, verb in pairs
        if ends in _ENDING and verb.endswith("ing") and "v" in parts(lemma(verb))
    }


def undoing(word: str) -> tuple[str, ...]:
    """Return what a verb with un- says that is no word by itself: unassign, remove and assign; else nothing."""
    undone = word.removeprefix("un")
    is_one = undone != word and len(undone) > _SHORTEST_UNDONE and is_misspelt(word)
    return ("remove", undone) if is_one and "v" in parts(lemma(undone)) else ()


def is_state(word: str) -> bool:
    """Whether a word is a form of a verb that tells a state rather than what is to be done: running, failed."""
    return word.endswith(("ing", "ed")) and lemma(word) != word and "v" in parts(lemma(word))


def act_asked(text: str) -> str:
    """Return what a question wants done: ``look``, ``look?`` where it names things only, or a class of verbs.

    Empty where that is not known.
    """
    words = sentence_words(text)
    if words and words[_asked_from(words)] in _INTERROGATIVES:
        return _LOOK
    for at, word in enumerate(words):
        if word == "new":  # one makes a new one, and looks at new ones
            return _NOT_SAID if any(map(_is_plural, words[at + 1 :])) else "create"
        word = next(iter(undoing(word)), word)
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


def wants_done(act: str) -> bool:
    """Whether `act_asked` wants something done rather than looked at."""
    return act not in ("", _LOOK, _NOT_SAID)


def _act_of(verb: str) -> str:
    """Return ``look``, or the class of a verb; nothing for one that may be of several."""
    kinds = {_LOOK if one in _LOOKING else one for one in verb_classes(verb)}
    return kinds.pop() if len(kinds) == 1 else ""
