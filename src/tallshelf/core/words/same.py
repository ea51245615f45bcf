"""Which tokens, as a text is read, mean the same."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence
from difflib import SequenceMatcher

from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.derived import derived
from tallshelf.core.words.lexicon import is_word, parts, synonyms
from tallshelf.core.words.phrases import one_group
from tallshelf.core.words.reading import amount
from tallshelf.core.words.remembered import remembered

_SIGNS_ALIKE = frozenset(
    frozenset(one.split("/"))
    for one in ["MOST/LE", "LEAST/GE", "LATEST/last", "EACH/ALL", "EACH/PER", "FOREVER/NOLIMIT"]
)
"""How many at most: the maximum number of. A sign that is read in two ways is alike to both."""
_INITIALS = range(3, 7)
"""Letters of an abbreviation that is read as its initials."""
_LITTLE = frozenset("oatfi")
"""How words begin that are left out as they are read: of, and, the, for, in."""
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
    _spell_out(gone, came, new)
    _spell_out(came, gone, old)
    return gone, came


def _spell_out(short: list[str], long: list[str], said: Sequence[str]) -> None:
    """Take out an abbreviation, and the words that follow one another in the other text and begin with its letters."""
    for one in [one for one in short if one.isalpha() and one.islower() and len(one) in _INITIALS]:
        for at, many in itertools.product(range(len(said)), (len(one), len(one) - 1)):
            words = said[at : at + many]
            if (
                len(words) == many > 1
                and not Counter(words) - Counter(long)
                and _are_initials(one, [word[:1] for word in words])
                and not _is_common(one)
            ):
                short.remove(one)
                for word in words:
                    long.remove(word)
                break


def _is_common(word: str) -> bool:
    return any(part.used > 1 for part in parts(word).values())


def _are_initials(short: str, initials: Sequence[str]) -> bool:
    """Whether an abbreviation is made of initials, and perhaps those of words that say little, such as of."""
    if not short or not initials:
        return not initials and _LITTLE.issuperset(short)
    if short[0] == initials[0] and _are_initials(short[1:], initials[1:]):
        return True
    return short[0] in _LITTLE and _are_initials(short[1:], initials)


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
