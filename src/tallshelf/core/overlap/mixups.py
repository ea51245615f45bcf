"""Mix-up risk: which tools of a set a chooser would confuse, and by which words they can be told apart."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence

from msgspec import Struct

from tallshelf.core.overlap.find import side_of
from tallshelf.core.overlap.index import Entry
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.rarity import PARTS, Part, Rarity
from tallshelf.core.overlap.result import Side
from tallshelf.core.overlap.score import likeness_of, measured

_LEAST = 0.65
_FEW = 5
_SEEN: Mapping[Part, float] = {"name": 0.4, "text": 0.45, "parameters": 0.15}


class MixUp(Struct, frozen=True):
    """Two tools that a chooser may confuse: how likely, from 0 to 1, and the words only one of them says."""

    a: Side
    b: Side
    risk: float
    only_a: tuple[str, ...]
    only_b: tuple[str, ...]


def mix_ups(offered: Sequence[Entry]) -> tuple[MixUp, ...]:
    """Return the pairs of a set offered together that their texts hardly tell apart, riskiest first.

    Other than for overlaps, it does not matter what the tools do: a list and a search that are
    described alike are mixed up all the same.
    """
    rarity = Rarity(entry.profile for entry in offered)
    found = []
    measures = [measured(entry.profile, rarity) for entry in offered]
    for (a, left), (b, right) in itertools.combinations(zip(offered, measures, strict=True), 2):
        if a.profile.kind != b.profile.kind:
            continue
        alike = likeness_of(left, right)
        risk = sum(_SEEN[part] * alike[part] for part in PARTS)
        if risk >= _LEAST:
            telling = (_only(a.profile, b.profile), _only(b.profile, a.profile))
            found.append(MixUp(side_of(a), side_of(b), round(min(risk, 1.0), 3), *telling))
    return tuple(sorted(found, key=lambda mix_up: (-mix_up.risk, mix_up.a.item, mix_up.b.item)))


def _only(profile: Profile, other: Profile) -> tuple[str, ...]:
    """Return the words that only one of two says, the most telling first."""
    said = {**profile.text, **profile.name}
    own = [word for word in said if word not in other.text and word not in other.name and word[0] not in "(="]
    strongest = sorted(own, key=lambda word: (-said[word], word))[:_FEW]
    return tuple(profile.said.get(word, word) for word in strongest)
