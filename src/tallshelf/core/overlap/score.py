"""Scoring a pair of items, with reasons.

The score is a weighted mean of three likenesses, each the cosine of weighted words (the vector
space model of Salton, Wong and Yang, 1975) with rare words weighing more: of the names, of the
texts, and of the parameters. What keeps a pair apart (opposite verbs or words, one that reads and
one that writes, one thing and another) multiplies it by a factor of at most one; so the weighted
mean bounds the score from above, which is what an index may choose candidates by.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from msgspec import Struct

from tallshelf.core.overlap.apart import CHECKS, NEAR_AT_MOST, SAME_JOB, Factor, of_one_public_service
from tallshelf.core.overlap.parameters import parameter_weight
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.result import OverlapClass
from tallshelf.core.overlap.systems import is_named_alike

WEIGHTS: Mapping[Part, float] = {"name": 0.50, "text": 0.35, "parameters": 0.15}
CLASSES: tuple[tuple[float, OverlapClass], ...] = ((SAME_JOB, "same-job"), (0.34, "near"), (0.28, "related"))
LEAST = CLASSES[-1][0]
NOTHING_TAKEN = "(takes nothing)"
_NOTHING = 0.5
_RELATED_AT_MOST = CLASSES[1][0] - 0.01
_RAISED, _WHOLE_NAME = 0.8, 0.9
_SURELY = 0.58
"""From where two are the same job that may work on different systems."""
_TOLD_ALIKE = 0.95
"""How like texts and parameters of siblings must be to be one tool by two names."""
_OFFERED = 0.6
_ANY = -1.0
SLANT: Mapping[Part, float] = {"name": 0.8, "text": 0.5, "parameters": 0.6}


class Score(Struct, frozen=True):
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


def lengths_of(profile: Profile, rarity: Rarity) -> tuple[float, ...]:
    """Return how long the parts of an item are, in the order of `PARTS`."""
    return tuple([length(weighed(profile, part, rarity)) for part in PARTS])


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
    found = score_beyond(a, b, alike, _ANY, siblings=siblings)
    assert found is not None
    return found


def score_beyond(
    a: Profile, b: Profile, alike: Mapping[Part, float], least: float, *, siblings: bool = False
) -> Score | None:
    """Return the `score` of a pair where it exceeds ``least``, or None as soon as it cannot: most pairs, soon."""
    value = most_of(alike)
    named_alike = is_named_alike(a.system, b.system)
    if not siblings and named_alike and value >= LEAST:  # what no index would find is not raised either
        value = raised(value)
    apart: list[Factor] = []
    if round(value, 3) <= least:
        return None
    for factor in _apart(a, b, alike):
        if factor is not None:
            apart.append(factor)
            value = min(value * factor.leaves, factor.most)
            if round(value, 3) <= least:
                return None
    if not named_alike and value < _SURELY and value > NEAR_AT_MOST and not of_one_public_service(a, b):
        value = NEAR_AT_MOST
    if siblings and min(alike["text"], alike["parameters"]) < _TOLD_ALIKE:
        value = min(value, NEAR_AT_MOST)
    if (siblings and apart) or (named_alike and (len(apart) > 1 or any(factor.is_act for factor in apart))):
        value = min(value, _RELATED_AT_MOST)
    return Score(round(value, 3), alike, tuple(apart)) if round(value, 3) > least else None


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


class Measured(Struct, frozen=True):
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


def _apart(a: Profile, b: Profile, alike: Mapping[Part, float]) -> Iterator[Factor | None]:
    """Yield what each check finds to keep a pair apart, check by check."""
    # Two of one system need not explain anew what it is called there.
    alone = None if is_named_alike(a.system, b.system) and alike["name"] > _WHOLE_NAME else _name_alone(alike)
    for check in CHECKS:
        yield check(a, b)
    yield alone


def _name_alone(alike: Mapping[Part, float]) -> Factor | None:
    """A name proves little where neither texts nor parameters agree."""
    if alike["text"] >= 0.2 or alike["parameters"] >= 0.5 or alike["text"] + alike["parameters"] >= 0.4:
        return None
    return Factor(1.0, "their texts and parameters have little in common")
