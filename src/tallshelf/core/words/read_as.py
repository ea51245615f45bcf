"""Which terms of a house's word list may be read as others, and which would read a difference away."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from tallshelf.core.words.classes import verb_class
from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.lexicon import is_word, lemma, parts
from tallshelf.core.words.meaning import opposites
from tallshelf.core.words.reading import tokens_of, units_of
from tallshelf.core.words.terms import HouseTerms, plain_term

_TERM = re.compile(r"[^\W\d_]+(?:[ _-][^\W\d_]+){0,7}")
"""Words of letters: a digit, a sign or a separator says something of its own."""
_LONGEST, _MOST = 80, 500
"""Characters of a term, and terms of a house that are read."""


def terms_of(banned: Mapping[str, str], spelled: Mapping[str, str]) -> HouseTerms:
    """Return which terms of a word list are read as others: banned ones as the preferred, abbreviations spelled out.

    Left out is what would read away a difference: a term with a digit, a negation, bound or unit, one that
    excludes what is preferred, and a verb that does something else than the other.
    """
    pairs = {plain_term(term): instead for source in (banned, spelled) for term, instead in source.items()}
    found = [(term, instead) for term, instead in sorted(pairs.items()) if _says_the_same(term, instead)]
    return HouseTerms(tuple(found[:_MOST]))


def _says_the_same(term: str, instead: str) -> bool:
    if max(len(term), len(instead)) > _LONGEST or not (_TERM.fullmatch(term) and _TERM.fullmatch(instead)):
        return False
    one, other = tokens_of(term), tokens_of(instead)
    if not one or not other or _signs(one) or _signs(other) or units_of(one):
        return False
    contrary = any(are_contrary(left, right) for left in one for right in other)
    return not contrary and opposites(frozenset(one), frozenset(other)) is None and _do_alike(term, instead)


def _signs(tokens: Iterable[str]) -> bool:
    return any(token.isupper() or token[:1].isdigit() for token in tokens)


def _do_alike(term: str, instead: str) -> bool:
    """Whether what two terms say is done is of one kind; a term that is no word says nothing of its own."""
    if not any(is_word(lemma(word)) for word in plain_term(term).split()):
        return True
    kinds = [
        {one for one in map(_kind, term.split()) if one} for term in (plain_term(term), plain_term(instead))
    ]
    return kinds[0] == kinds[1]


def _kind(word: str) -> str | None:
    """Return the class of a verb, in whatever form; a thing that is called by one, as a booking, is none."""
    return verb_class(word) or (None if "n" in parts(word) else verb_class(lemma(word)))
