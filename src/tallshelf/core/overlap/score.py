"""Scoring a pair of items, with reasons.

The score is a weighted mean of three likenesses, each the cosine of weighted words (the vector
space model of Salton, Wong and Yang, 1975) with rare words weighing more: of the names, of the
texts, and of the parameters. What keeps a pair apart (opposite verbs or words, one that reads and
one that writes, one thing and another) multiplies it by a factor of at most one; so the weighted
mean bounds the score from above, which is what an index may choose candidates by.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from tallshelf.core.overlap.names import EMPTY_VERBS
from tallshelf.core.overlap.parameters import parameter_weight
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.result import OverlapClass
from tallshelf.core.overlap.systems import is_named_alike, share_system
from tallshelf.core.words.classes import VERB_CLASSES, opposed
from tallshelf.core.words.meaning import opposites
from tallshelf.core.words.split import stem

WEIGHTS: Mapping[Part, float] = {"name": 0.50, "text": 0.35, "parameters": 0.15}
CLASSES: tuple[tuple[float, OverlapClass], ...] = ((0.50, "same-job"), (0.34, "near"), (0.28, "related"))
LEAST = CLASSES[-1][0]
NOTHING_TAKEN = "(takes nothing)"
NEAR_AT_MOST = CLASSES[0][0] - 0.01
"""Whatever keeps a pair apart, it is not surely the same job."""
_NOTHING = 0.5
_RELATED_AT_MOST = CLASSES[1][0] - 0.01
_RAISED, _WHOLE_NAME = 0.8, 0.9
_SURELY = 0.58
"""From where two are the same job that may work on different systems."""
_TOLD_ALIKE = 0.95
"""How like texts and parameters of siblings must be to be one tool by two names."""
_OFFERED = 0.6
SLANT: Mapping[Part, float] = {"name": 0.8, "text": 0.5, "parameters": 0.6}
_LOOKING = frozenset({"read", "list", "find", "check"})
_WRITING = frozenset({"create", "change", "remove", "stop", "start", "send", "import"})


@dataclass(frozen=True)
class Factor:
    """One thing that keeps a pair apart: how much of the score it leaves, the most it lets be, in words.

    ``is_act`` where it is what they do that differs, and not what they do it to.
    """

    leaves: float
    words: str
    most: float = NEAR_AT_MOST
    is_act: bool = False


@dataclass(frozen=True)
class Score:
    """What was found of a pair: the score, the likeness of each part, and what keeps it apart."""

    value: float
    likeness: Mapping[Part, float]
    apart: tuple[Factor, ...]

    @property
    def cls(self) -> OverlapClass | None:
        """The class, or None for too little to speak of."""
        return next((name for least, name in CLASSES if self.value >= least), None)


def raw(profile: Profile, part: Part) -> Mapping[str, float]:
    """Return the weights of one part's words before rarity."""
    if part == "name":
        return profile.name
    if part == "text":
        return profile.text
    if not profile.parameters:
        return {NOTHING_TAKEN: _NOTHING}
    return {key: parameter_weight(key, required) for key, (_, required) in profile.parameters.items()}


def weighed(profile: Profile, part: Part, rarity: Rarity) -> dict[str, float]:
    """Return the weights of one part's words with rarity applied."""
    found = {word: weight * rarity.of(part, word) for word, weight in raw(profile, part).items()}
    return {word: weight for word, weight in found.items() if weight}


def length(weights: Mapping[str, float]) -> float:
    """Return the length of a vector of weights."""
    return math.sqrt(sum(weight * weight for weight in weights.values()))


def likeness(shared: float, left: float, right: float, part: Part) -> float:
    """Return how like two vectors are, from 0 to 1, by their dot product and lengths.

    Between the cosine and the overlap coefficient: a short text that a long one contains is more
    like it than the cosine says.
    """
    short, long = min(left, right), max(left, right)
    if not shared or not short:
        return 0.0
    slant = SLANT[part]
    return min(1.0, shared / float(short ** (2 - slant) * long**slant))


def most_of(alike: Mapping[Part, float]) -> float:
    """Return the weighted mean of likenesses, which no score of the pair exceeds."""
    return sum(WEIGHTS[part] * alike[part] for part in PARTS)


def score(a: Profile, b: Profile, alike: Mapping[Part, float], *, siblings: bool = False) -> Score:
    """Return the score of a pair whose parts are as like as given; ``siblings`` are of one server.

    Two servers of one named system say the same things in their own ways: what is alike counts for more. But what sets
    them apart does, too: to make, to find and to remove an issue are related there, and not near; and so are siblings
    that anything keeps apart, since their owners named them apart.
    """
    value = most_of(alike)
    named_alike = is_named_alike(a.system, b.system)
    if not siblings and named_alike and value >= LEAST:  # what no index would find is not raised either
        value = raised(value)
    apart = tuple(_apart(a, b, alike))
    for factor in apart:
        value = min(value * factor.leaves, factor.most)
    if not named_alike and value < _SURELY:
        value = min(value, NEAR_AT_MOST)
    if siblings and min(alike["text"], alike["parameters"]) < _TOLD_ALIKE:
        value = min(value, NEAR_AT_MOST)
    if (siblings and apart) or (named_alike and (len(apart) > 1 or any(factor.is_act for factor in apart))):
        value = min(value, _RELATED_AT_MOST)
    return Score(round(value, 3), alike, apart)


def raised(value: float) -> float:
    """Return what a likeness counts for at most: between two servers of one system."""
    return float(value**_RAISED)


def offers(alike: Mapping[Part, float]) -> Score | None:
    """Return the score of a tool that reads and a resource, by name and text; None for too little.

    They take the same: nothing, or a template a variable that the tool needs.
    """
    if not alike["parameters"]:
        return None
    weights = {part: WEIGHTS[part] for part in PARTS if part != "parameters"}
    value = sum(weight * alike[part] for part, weight in weights.items()) / sum(weights.values())
    if value < _OFFERED:
        return None
    apart = (Factor(1.0, "one is a tool, the other a resource that can be read without a call"),)
    return Score(round(min(value, NEAR_AT_MOST), 3), alike, apart)


@dataclass(frozen=True)
class Measured:
    """The weighed words of an item's parts, and their lengths, for comparing it with many others."""

    words: Mapping[Part, Mapping[str, float]]
    lengths: Mapping[Part, float]


def measured(profile: Profile, rarity: Rarity) -> Measured:
    """Return an item measured for comparing."""
    words = {part: weighed(profile, part, rarity) for part in PARTS}
    return Measured(words, {part: length(words[part]) for part in PARTS})


def likeness_of(a: Measured, b: Measured) -> dict[Part, float]:
    """Return how like the parts of a pair are, each from 0 to 1."""
    found: dict[Part, float] = {}
    for part in PARTS:
        left, right = a.words[part], b.words[part]
        shared = sum([weight * right[word] for word, weight in left.items() if word in right])
        found[part] = likeness(shared, a.lengths[part], b.lengths[part], part) if shared else 0.0
    return found


def _apart(a: Profile, b: Profile, alike: Mapping[Part, float]) -> Iterator[Factor]:
    # Two of one system need not explain anew what it is called there.
    alone = None if is_named_alike(a.system, b.system) and alike["name"] > _WHOLE_NAME else _name_alone(alike)
    for factor in (*(check(a, b) for check in _CHECKS), alone):
        if factor is not None:
            yield factor


def _verbs(a: Profile, b: Profile) -> Factor | None:
    left, right = a.verb, b.verb
    if not left or not right:
        only, other = (left, b) if left else (right, a)
        unsaid = only in VERB_CLASSES and only not in other.does
        if only in _LOOKING and not other.writes:
            return None  # what says no verb is read
        return (
            Factor(0.9, f"only the {'first' if left else 'second'} says that it is to {only}")
            if unsaid
            else None
        )
    if left == right:
        if left == "read" and a.head in a.many and b.head in b.many:
            return _looking(a, b)
        if left not in VERB_CLASSES or _alike(a.verb_word, b.verb_word):
            return None
        return Factor(0.92, f"one says {a.verb_word}, the other {b.verb_word}")
    if _alike(a.verb_word, b.verb_word) or _makes(a, b) or _makes(b, a):
        return None
    told = f"one is to {left}, the other to {right}"
    known = left in VERB_CLASSES and right in VERB_CLASSES
    if known and opposed(left, right):
        return Factor(0.3, told, is_act=True)
    if {left, right} <= _LOOKING:
        return _looking(a, b)
    if left in _WRITING and right in _WRITING:
        return Factor(_BOTH_WRITE.get(frozenset({left, right}), 0.7), told, is_act=True)
    if {left, right} & EMPTY_VERBS:
        return None
    changes = not {left, right}.isdisjoint(_WRITING) and " " not in left + right
    return Factor(0.7 if known else 0.85, told, is_act=known or changes)


def _makes(a: Profile, b: Profile) -> bool:
    """Whether one says in a verb what the other makes by name: to draft a letter is to create a draft."""
    return b.verb == "create" and stem(a.verb_word) in b.named and a.verb not in VERB_CLASSES


def _alike(left: str, right: str) -> bool:
    left, right = stem(left), stem(right)
    return left == right or any(left in words and right in words for words in _SAME_VERBS)


_SAME_VERBS = tuple(
    frozenset(map(stem, words.split()))
    for words in (
        "get fetch read retrieve show view load look lookup obtain",
        "create add insert new make register post",
        "update edit modify change patch set",
        "remove delete drop erase destroy",
        "list enumerate browse",
        "find search query lookup locate",
        "cancel stop end abort",
        "calculate compute work",
        "upload import",
        "check validate verify",
        "start open begin",
    )
)


def _amounts(a: Profile, b: Profile) -> Factor | None:
    """Tell what is about one thing from what is about many of them."""
    both = a.named & b.named
    # In tide_times the tide is singular whatever is meant: what stands in the plural is the times.
    differ = frozenset(
        one for one in (a.many & both) ^ (b.many & both) if not (_carried(a, one) or _carried(b, one))
    )
    if not differ or (a.verb in _LISTING and b.verb in _LISTING):
        return None
    many = next(iter(sorted(differ)))
    # What is done to many at once is the same work, where a server has no other way to do it to one; to get one, and to
    # get many, is not.
    batch = a.verb == b.verb and a.verb not in _LOOKING and not (_has_both(a) or _has_both(b))
    said = (a if many in b.many else b).said.get(many, many)
    told = _told(f"is about one {said}", "about many", many in b.many)
    return Factor(0.95, told, 1.0) if batch else Factor(0.88, told, is_act=a.verb == b.verb)


def _has_both(profile: Profile) -> bool:
    """Whether its server does the same to one and to many."""
    return {f"{profile.verb} one", f"{profile.verb} many"} <= profile.beside | {profile.act}


def _looking(a: Profile, b: Profile) -> Factor | None:
    """Tell getting one, listing and finding apart."""
    left, right = (_amounts_of(profile) for profile in (a, b))
    if left & right:
        return None
    one, other = min(left), min(right)
    return Factor(_AMOUNTS[frozenset({one, other})], f"one is to {one}, the other to {other}")


def _amounts_of(profile: Profile) -> frozenset[str]:
    """Return how much a tool may look for: to find one thing is to look it up as well."""
    if profile.verb == "read":
        if not profile.head:
            return frozenset({"list", "look one up"})
        lists = profile.head in profile.many and "list many" not in profile.beside
        return frozenset({"list" if lists else "look one up"})
    if (
        profile.verb == "find"
        and profile.verb_word == "find"
        and profile.head
        and profile.head not in profile.many
    ):
        return frozenset({"find", "look one up"})
    return frozenset({str(profile.verb)})


_AMOUNTS = {
    frozenset({"list", "look one up"}): 0.75,
    frozenset({"find", "look one up"}): 0.8,
    frozenset({"find", "list"}): 0.85,
    frozenset({"check", "look one up"}): 0.9,
    frozenset({"check", "list"}): 0.75,
    frozenset({"check", "find"}): 0.75,
}
_BOTH_WRITE = {
    frozenset({"create", "send"}): 0.85,
    frozenset({"create", "import"}): 0.9,
    frozenset({"create", "start"}): 0.85,
    frozenset({"remove", "stop"}): 0.85,
    frozenset({"create", "change"}): 0.75,
    frozenset({"change", "remove"}): 0.5,
}


def _carried(profile: Profile, thing: str) -> bool:
    """Whether a thing that is no head stands before a head in the plural."""
    return thing != profile.head and thing not in profile.many and profile.head in profile.many


_LISTING = frozenset({"list", "find"})


def _told(one: str, other: str, second_is_other: bool) -> str:
    return (
        f"the first {one}, the second {other}" if second_is_other else f"the first {other}, the second {one}"
    )


def _annotations(a: Profile, b: Profile) -> Factor | None:
    if a.writes is None or b.writes is None or a.writes == b.writes:
        return None
    return Factor(0.9, _told("only reads", "may write", b.writes))


def _name_alone(alike: Mapping[Part, float]) -> Factor | None:
    """A name proves little where neither texts nor parameters agree."""
    if alike["text"] >= 0.2 or alike["parameters"] >= 0.5 or alike["text"] + alike["parameters"] >= 0.4:
        return None
    return Factor(1.0, "their texts and parameters have little in common")


def _opposite_words(a: Profile, b: Profile) -> Factor | None:
    found = opposites(a.words, b.words)
    return Factor(0.35, f"“{found[0]}” is the opposite of “{found[1]}”") if found else None


def _things(a: Profile, b: Profile) -> Factor | None:
    """Tell what the names are about apart, where neither text explains the other's name."""
    left, right = _unexplained(a, b), _unexplained(b, a)
    if not left and not right:
        if a.head and b.head and a.head != b.head:
            return Factor(
                0.92,
                f"one is about {_some(a, frozenset([a.head]))}, the other about {_some(b, frozenset([b.head]))}",
            )
        return None
    if left and right:
        return Factor(0.7, f"one is about {_some(a, left)}, the other about {_some(b, right)}")
    own, only, which = (a, left, "first") if left else (b, right, "second")
    return Factor(0.9, f"only the {which} speaks of {_some(own, only)}")


def _unexplained(own: Profile, other: Profile) -> frozenset[str]:
    """Return the things in one's name that the other does not say, nor take or have all around it beside its head."""
    return own.named - other.explained - ((other.themes | other.taken) - {own.head})


def _brands(a: Profile, b: Profile) -> Factor | None:
    """Tell apart what is done at one source and at another."""
    if not a.brand or not b.brand or a.brand & b.brand:
        return None
    return Factor(0.92, f"one is at {', '.join(sorted(a.brand))}, the other at {', '.join(sorted(b.brand))}")


def _systems(a: Profile, b: Profile) -> Factor | None:
    """Tell apart what is done on one system and on another; providers of one public service are one."""
    if share_system(a.system, b.system) or _PUBLIC & {*a.things, *a.first} & {*b.things, *b.first}:
        return None
    left, right = (", ".join(sorted(profile.system)[:2]) for profile in (a, b))
    return Factor(1.0, f"one works on {left}, the other on {right}")


_PUBLIC = frozenset(
    map(
        stem,
        [
            "web",
            "internet",
            "webpage",
            "weather",
            "headline",
            "exchange",
            "currency",
            "translation",
            "paper",
            "map",
        ],
    )
)


def _some(profile: Profile, words: frozenset[str]) -> str:
    return ", ".join(sorted(profile.said.get(word, word) for word in words)[:3])


_CHECKS: tuple[Callable[[Profile, Profile], Factor | None], ...] = (
    _verbs,
    _amounts,
    _annotations,
    _opposite_words,
    _things,
    _brands,
    _systems,
)
