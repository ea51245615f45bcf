"""What an item is compared by: its name, its text and its parameters, in words that stand for the same."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from tallshelf.core.overlap.names import (
    ABOUT,
    EMPTY,
    EMPTY_VERBS,
    PREPOSITIONS,
    bare,
    called_of,
    class_of,
    head_of,
    plurals,
    trailing,
    verb_of,
    without_unsaid,
)
from tallshelf.core.overlap.parameters import parameter_names, parameters_of, results_of
from tallshelf.core.overlap.systems import one_thing_in, system_of
from tallshelf.core.snapshot import Item, digest
from tallshelf.core.words.classes import VERB_CLASSES, verb_class
from tallshelf.core.words.lists import is_verb
from tallshelf.core.words.meaning import meaning, meanings
from tallshelf.core.words.split import is_stop_word, sentence_words, split_identifier, stem
from tallshelf.core.words.terms import NO_TERMS, HouseTerms

METHOD = 6
"""Which way of making profiles this is; stored ones made otherwise are made anew."""
_MOST_WORDS = 60
_LATER = 0.25
_MODIFIER = 0.8
_VERB = 0.5
_OWN_VERB = 1.0
_ASIDE = 0.2
_GUESSED = (0.7, 0.25)
_WHOLE = 0.6
_SHARED_BY = 0.6
_ENOUGH = 3
_THEME = 0.6
_OF_FILES = frozenset(["upload", "download"])
"""Verbs that, where a name says nothing else, are about a file."""
_SECTIONS = re.compile(
    r"^\s*(?:#+\s*)?(?:args?|arguments|param(?:eter)?s?|returns?|raises|examples?|notes?|usage|inputs?|outputs?"
    r"|response|warnings?|tips?)\b[^.\n]{0,20}:|<\w+>|```|^\s*(?:when|how) to use\b",
    re.IGNORECASE | re.MULTILINE,
)
_SENTENCE = re.compile(r"[.!?:;](?:\s|$)|\n")
_MIDDLE = re.compile(r"(?<=[a-z,] )[A-Za-z]{3,}\b")
_WEAK_TEXT = """
tool server api data information detail specific specified given provide provided support optional option
default result response request name id type value multiple including include based new existing item object
full available allow need want call return list get make helpful format field output input content text
number set within about also only such user please must should may via query parameter help useful enable
perform access current specify different other another any them between across through while either both
per each every more most
"""
_WEAK = frozenset(map(meaning, _WEAK_TEXT.split()))
_SAYS_NOTHING = frozenset(map(meaning, ["list", "many", "available", "existing", "all", "current", "single"]))
"""Words of a name that tell nothing apart: of "list tasks" and "get tasks list"."""
_ABOUT_WEIGHT = 0.4
_WEAK_WEIGHT = 0.3


class Profile(Struct, frozen=True, eq=False, dict=True):
    """One item as it is compared.

    ``verb`` is the class of its verb, or the verb itself, ``verb_word`` the word as
    written; ``things`` the other words of its name;
    ``head`` the thing it is about; ``many`` those that stand in the plural; ``first`` the words of
    the first sentence of its text. ``name`` and
    ``text`` weigh words before rarity; ``parameters`` gives, by what a parameter stands for, its
    type and whether it is required; ``results`` the fields of its result. ``writes`` is what its
    annotations say, None where they say nothing. ``basis`` is the digest of all that is compared,
    whatever else the server offers. ``brand`` holds proper names that end its name, ``system`` the names of
    what its server works on, ``themes`` what most of its items speak of, ``beside`` what else its server does to the
    same thing, as acts. ``said`` gives the word as written where it stands for another.
    """

    kind: str
    verb: str | None
    verb_word: str
    things: tuple[str, ...]
    head: str
    many: frozenset[str]
    first: frozenset[str]
    name: Mapping[str, float]
    text: Mapping[str, float]
    parameters: Mapping[str, tuple[str, bool]]
    results: frozenset[str]
    writes: bool | None
    takes: Mapping[str, str]
    basis: str
    brand: frozenset[str]
    system: frozenset[str]
    themes: frozenset[str]
    beside: frozenset[str]
    said: Mapping[str, str]

    def document(self) -> dict[str, Any]:
        """Return the profile as a JSON object."""
        return {
            "kind": self.kind,
            "verb": self.verb,
            "verb_word": self.verb_word,
            "things": list(self.things),
            "head": self.head,
            "many": sorted(self.many),
            "first": sorted(self.first),
            "name": dict(self.name),
            "text": dict(self.text),
            "parameters": {key: list(value) for key, value in self.parameters.items()},
            "results": sorted(self.results),
            "writes": self.writes,
            "takes": dict(self.takes),
            "basis": self.basis,
            "brand": sorted(self.brand),
            "system": sorted(self.system),
            "themes": sorted(self.themes),
            "beside": sorted(self.beside),
            "said": dict(self.said),
        }

    @property
    def act(self) -> str:
        """What it does, and whether to one or to many: ``create one``."""
        return f"{self.verb or ''} {'many' if self.head in self.many else 'one'}"

    @cached_property
    def does(self) -> frozenset[str]:
        """The classes of verbs that its name or the first sentence of its text says."""
        found = {class_of(word) for word in self.first}
        return frozenset(one for one in (self.verb, *found) if one)

    @cached_property
    def named(self) -> frozenset[str]:
        """The things that its name says, none where they were guessed from the text."""
        return frozenset(self.things) - _SAYS_NOTHING if self.head else frozenset()

    @cached_property
    def explained(self) -> frozenset[str]:
        """The words that its name or its text says."""
        return frozenset({*self.things, *self.first, stem(self.verb_word)})

    @cached_property
    def taken(self) -> frozenset[str]:
        """The words that its parameters are called by."""
        return frozenset(word for key in self.parameters for word in key.split())

    @cached_property
    def words(self) -> frozenset[str]:
        """All words of the name, for opposites."""
        return frozenset({stem(self.verb_word), *self.things})


def profiles(items: Sequence[Item], server_name: str = "", terms: HouseTerms = NO_TERMS) -> list[Profile]:
    """Return the profiles of the items of one server, in their order, read by the terms of a house.

    Words that names of the server have in front of their verb, and those of the server's own name,
    say little of a job and are set aside.
    """
    named = {stem(word) for word in split_identifier(server_name)} - EMPTY
    split = [split_identifier(item.name) for item in items if item.kind == "tool"]
    first = Counter(words[0] for words in split if len(words) > 1)
    before_verb = Counter(words[0] for words in split if len(words) > 1 and is_verb(words[1]))
    common = {
        word
        for word, many in first.items()
        if verb_class(word) is None
        and many >= _ENOUGH
        and (many >= _SHARED_BY * len(split) or before_verb[word] >= _SHARED_BY * many)
    }
    system = system_of(items, server_name)
    found = [_profile(item, common, named, system, terms) for item in items]
    themes, acts = _themes(found), _acts(found)
    return [replace(profile, themes=themes, beside=_beside(profile, acts[profile.head])) for profile in found]


def _acts(found: Iterable[Profile]) -> dict[str, Counter[str]]:
    """Return how often a server does what to a thing, by the thing."""
    acts: dict[str, Counter[str]] = {}
    for profile in found:
        acts.setdefault(profile.head, Counter())[profile.act] += 1
    return acts


def _beside(profile: Profile, acts: Mapping[str, int]) -> frozenset[str]:
    return frozenset(act for act, number in acts.items() if act != profile.act or number > 1)


def _themes(found: Sequence[Profile]) -> frozenset[str]:
    """Return the words that most of a server's items name or say: they tell none of them apart."""
    counts = Counter(word for profile in found for word in profile.explained)
    least = max(_ENOUGH, _THEME * len(found))
    return frozenset(word for word, number in counts.items() if number >= least and _tells(word))


def _profile(
    item: Item, common: set[str], named: set[str], system: frozenset[str], terms: HouseTerms
) -> Profile:
    same = one_thing_in(system)

    def here(words: Iterable[str]) -> tuple[str, ...]:
        return tuple(min(same) if word in same else word for word in words)

    description = terms.written(item.description)
    proper = _proper_names(description)
    sentence, text = _text(description, proper)
    called = terms.words(split_identifier(called_of(item)))
    words, aside = bare(called, common, named | proper)
    brand = {stem(word) for word in trailing(called, words)} - named
    words, more = without_unsaid(words, sentence)
    aside += more
    verb_word, rest = verb_of(words)
    if not verb_word and sentence and class_of(sentence[0]):
        verb_word = sentence[0]
    verb = class_of(verb_word) or (stem(verb_word) or None)
    if (verb_word, True) in (("add", "to" in rest), ("remove", "from" in rest)):
        # To add something to another makes nothing new.
        verb = f"{verb_word} to another"
    first = here(meanings(sentence))
    things = here(
        meaning for meaning in meanings(rest) if meaning not in EMPTY and meaning not in PREPOSITIONS
    )
    head = "".join(here([head_of(rest)]))
    guessed = not things
    if guessed:
        # A name that says only what is done, such as "search": the first words of the text say to what.
        things = tuple(one for one in first[1:] if _tells(one))[:2]
        if verb_word in _OF_FILES:
            things = tuple(dict.fromkeys(["file", *things]))[:2]
    return Profile(
        kind=item.kind,
        verb=verb,
        verb_word=verb_word,
        things=things,
        head=head,
        many=frozenset(here(plurals(rest, head))),
        first=frozenset(first),
        name=_name_weights((verb_word, *rest), verb, things, head, aside, guessed),
        text=dict(zip(here(text), text.values(), strict=True)),
        parameters=parameters_of(item, terms),
        results=results_of(item, terms),
        writes=_writes(item),
        takes=parameter_names(item, terms),
        basis=basis_of(item),
        brand=frozenset(brand),
        system=system & frozenset(called) or system,
        themes=frozenset(),
        beside=frozenset(),
        said=_said((*words, *_plain(item.description)), {*things, *text}, terms),
    )


def _said(words: Iterable[str], meant: set[str], terms: HouseTerms) -> dict[str, str]:
    """Return the first word that was written for each meaning that is not itself a word written."""
    said: dict[str, str] = {}
    for word in words:
        found = meaning(terms.read_as(word).lower())
        if found in meant and found != word:
            said.setdefault(found, word)
    return said


def _tells(word: str) -> bool:
    return not (word in _WEAK or is_stop_word(word) or verb_class(word) or verb_class(f"{word}e"))


def _proper_names(description: str) -> frozenset[str]:
    """Return the stems of words that a text writes with a capital in the middle of its sentences."""
    plain, proper = set(), set()
    for word in _MIDDLE.finditer(description):
        text = word.group()
        if text[:1].isupper() and not text.isupper():
            proper.add(stem(text.lower()))
        else:
            plain.add(stem(text.lower()))
    found = proper - plain
    return frozenset(found) if len(found) * 3 <= len(plain) else frozenset()


def _name_weights(
    words: tuple[str, ...],
    verb: str | None,
    things: tuple[str, ...],
    head: str,
    aside: tuple[str, ...],
    guessed: bool,
) -> dict[str, float]:
    weights = {stem(word): _ASIDE for word in aside if stem(word) not in EMPTY}
    if guessed:
        weights |= dict(zip(things, _GUESSED, strict=False))
        weights[f"={' '.join(map(stem, words))}"] = _WHOLE
    else:
        weights |= {
            word: 1.0 if word == head else _ABOUT_WEIGHT if word in ABOUT else _MODIFIER for word in things
        }
    if verb and verb not in EMPTY_VERBS:
        weights |= {f"({_near(verb)})": _VERB} if verb in VERB_CLASSES else {verb: _OWN_VERB}
    return weights


def _near(verb: str | None) -> str:
    """Reading one, listing and finding are near enough for two names to share them."""
    return "look" if verb in ("read", "find", "list", "check") else str(verb)


def _text(description: str, proper: frozenset[str]) -> tuple[tuple[str, ...], dict[str, float]]:
    """Return the words of the first sentence, and the weight of each word of a description."""
    said = _SECTIONS.split(description.strip(), maxsplit=1)[0] or description
    cut = _SENTENCE.search(said)
    ends = cut.start() if cut and cut.start() > 12 else len(said)
    first = _plain(said[:ends])
    weights: dict[str, float] = {}
    for words, weight in ((first, 1.0), (_plain(said[ends:])[:_MOST_WORDS], _LATER)):
        content = tuple(word for word in words if not is_stop_word(word) and len(word) > 1)
        for number, word in enumerate(meanings(content[:_MOST_WORDS])):
            kind = verb_class(word) or verb_class(f"{word}e")
            if number == 0 and weight == 1.0 and kind:
                word = f"({_near(kind)})"
            weak = word in _WEAK or word in proper or word.startswith("(")
            scaled = weight * (_WEAK_WEIGHT if weak else 1.0)
            weights[word] = max(weights.get(word, 0.0), scaled)
    return first, weights


def _plain(text: str) -> tuple[str, ...]:
    return tuple(word.removesuffix("'s").removesuffix("’s") for word in sentence_words(text))


def basis_of(item: Item) -> str:
    """Return the digest of all of an item that is compared."""
    fields = ("name", "uri", "uriTemplate", "description")
    return digest(
        {
            "kind": item.kind,
            **{field: item.body[field] for field in fields if isinstance(item.body.get(field), str)},
            "parameters": {key: list(value) for key, value in parameters_of(item).items()},
            "results": sorted(results_of(item)),
            "writes": _writes(item),
        }
    )


def _writes(item: Item) -> bool | None:
    annotations = item.body.get("annotations")
    hint = annotations.get("readOnlyHint") if isinstance(annotations, dict) else None
    return None if not isinstance(hint, bool) else not hint
