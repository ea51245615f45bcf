"""Which tokens, as a text is read, mean the same."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from difflib import SequenceMatcher

from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.derived import derived
from tallshelf.core.words.lexicon import is_word, synonyms
from tallshelf.core.words.phrases import one_group
from tallshelf.core.words.reading import amount
from tallshelf.core.words.remembered import remembered

_SIGNS_ALIKE = frozenset(
    frozenset(one.split("/"))
    for one in ["MOST/LE", "LEAST/GE", "LATEST/last", "EACH/ALL", "EACH/PER", "FOREVER/NOLIMIT"]
)
"""How many at most: the maximum number of. A sign that is read in two ways is alike to both."""
_MOST_PAIRS, _LONGEST_WORD = 20_000, 40
"""Pairs of tokens that are looked at, and letters of a word that may be misspelt."""


def subtracted(old: Sequence[str], new: Sequence[str]) -> tuple[list[str], list[str]]:
    """Return what of two lists of tokens is left when each is set against one that means the same."""
    gone, came = (
        list((Counter(old) - Counter(new)).elements()),
        list((Counter(new) - Counter(old)).elements()),
    )
    for one in list(gone) if len(gone) * len(came) <= _MOST_PAIRS else ():
        other = next((other for other in came if mean_the_same(one, other)), None)
        if other is not None:
            gone.remove(one)
            came.remove(other)
    return gone, came


@remembered(16_384, 80)
def mean_the_same(one: str, other: str) -> bool:
    """Whether two tokens mean the same: synonyms, one of a unit and the unit, or one misspelt."""
    if ":" in one and ":" in other:
        return amount(one) == amount(other)
    if frozenset((one, other)) in _SIGNS_ALIKE:
        return True
    if not (one.isalpha() and other.isalpha()) or one.isupper() or other.isupper():
        return False
    if one_group(one, other) or (synonyms(one, other) and not are_contrary(one, other)):
        return True
    return derived(one, other) or (not (is_word(one) and is_word(other)) and _misspelt(one, other))


def _misspelt(one: str, other: str) -> bool:
    """Whether two words are the same but for a letter: one more, one less, another, or two turned round."""
    if min(len(one), len(other)) < 4 or len(one) > _LONGEST_WORD or abs(len(one) - len(other)) > 1:
        return False
    blocks = SequenceMatcher(None, one, other, False).get_matching_blocks()
    return sum(block.size for block in blocks) >= max(len(one), len(other)) - 1
