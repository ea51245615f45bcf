"""What a house's word list says of meaning: terms that stand for the ones it prefers, abbreviations spelled out.

Texts are written by it before they are read, so that one word of the house for another moves nothing.
"""

from __future__ import annotations

import functools
import hashlib
import re
from collections.abc import Iterable

from msgspec import Struct

_WORD = re.compile(r"[^\W_]+")


class HouseTerms(Struct, frozen=True, dict=True):
    """Pairs of a term, in lower case, and what it is read as; hashable, so that what rests on them can be kept."""

    pairs: tuple[tuple[str, str], ...] = ()

    def __bool__(self) -> bool:
        return bool(self.pairs)

    def written(self, text: str) -> str:
        """Return a text with each term, in the singular or the plural, as what it is read as."""
        if not self.pairs:
            return text
        words = set(_WORD.findall(text.lower()))
        met = [term for term, first in self._first_words if first in words or f"{term}s" in words]
        return _pattern(tuple(met)).sub(self._instead, text) if met else text

    def words(self, words: tuple[str, ...]) -> tuple[str, ...]:
        """Return the words of a name, in lower case, with each term as what it is read as."""
        return tuple(self.written(" ".join(words)).lower().split()) if self.pairs else words

    def read_as(self, word: str) -> str:
        """Return what one lower-case word, in the singular or the plural, is read as."""
        return self._by_term.get(word) or self._by_term.get(word.removesuffix("s")) or word

    @property
    def key(self) -> str:
        """What names them where what is read by them is kept; empty for none."""
        return hashlib.sha256(repr(self.pairs).encode()).hexdigest()[:16] if self.pairs else ""

    def standing_for(self, word: str, text: str) -> frozenset[str]:
        """Return the words that say the same as one of a text, in lower case.

        Those of an abbreviation that is spelled out, and the abbreviation where the text has what it stands for.
        """
        found = set(self._groups.get(word, ()))
        low = text.lower()
        for term, instead in self.pairs:
            spelled = instead.lower()
            if " " in spelled and " " not in term:
                if word == term:
                    found.update(spelled.split())
                elif word in spelled.split() and spelled in low:
                    found.add(term)
        return frozenset(found - {word})

    def holds(self, word: str) -> bool:
        """Whether a word is a term, or one that a term is read as."""
        return word in self._by_term or word in self._groups

    def only(self, agreed: Iterable[tuple[str, str]]) -> HouseTerms:
        """Return those of the pairs that are among others."""
        known = frozenset(agreed)
        return HouseTerms(tuple(pair for pair in self.pairs if pair in known))

    def _instead(self, found: re.Match[str]) -> str:
        return self._by_term[plain_term(found[1])] + (found[2] or "")

    @functools.cached_property
    def _by_term(self) -> dict[str, str]:
        return dict(self.pairs)

    @functools.cached_property
    def _first_words(self) -> list[tuple[str, str]]:
        """The terms, the longest first, each with the word that it begins with."""
        return [(term, term.split()[0]) for term in sorted(self._by_term, key=len, reverse=True)]

    @functools.cached_property
    def _groups(self) -> dict[str, frozenset[str]]:
        groups: dict[str, set[str]] = {}
        for term, instead in self.pairs:
            groups.setdefault(instead.lower(), {instead.lower()}).add(term)
        single = {name: {one for one in group if one.isalpha()} for name, group in groups.items()}
        return {one: frozenset(group) for group in single.values() for one in group}


NO_TERMS = HouseTerms()


@functools.lru_cache(maxsize=256)
def _pattern(terms: tuple[str, ...]) -> re.Pattern[str]:
    """Return what finds some terms as words of their own; each is tried at every word."""
    either = "|".join("[ _-]".join(map(re.escape, term.split())) for term in terms)
    return re.compile(rf"(?<![^\W_])({either})(s)?(?![^\W_])", re.IGNORECASE)


def plain_term(term: str) -> str:
    """Return a term as it is compared: in lower case, its words apart by spaces."""
    return " ".join(re.split(r"[ _-]+", term.strip().lower()))
