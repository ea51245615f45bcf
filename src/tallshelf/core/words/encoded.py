"""Words that a text holds in a form that nobody reads at sight: hexadecimal, rot13, backwards, hidden signs."""

from __future__ import annotations

import binascii
import codecs
import re
from collections.abc import Iterator

from tallshelf.core.words.hidden import hidden_spots, revealed, tagged
from tallshelf.core.words.lexicon import is_word
from tallshelf.core.words.pattern import Pattern

_HEX = Pattern(r"\b(?:[0-9a-fA-F]{2}){12,}\b")
_WORDS = Pattern(r"[A-Za-z]+")
# A sentence with one of these is not encoded.
_COMMON = Pattern(r"\b(?:the|of|and|to|in|for|is|are|by|with|or|from|at|on)\b", re.IGNORECASE)
_FEWEST, _FEWEST_LETTERS, _MOST_READ = 4, 12, 4_000


def encoded_words(text: str) -> Iterator[str]:
    """Yield what a text says in another form, each where it is English when it is decoded, and not before."""
    if not text.isascii():
        spelt = tagged(text)
        if _is_english(spelt):
            yield spelt
        elif len(hidden_spots(text)) >= _FEWEST_LETTERS and _is_english(revealed(text)):
            yield revealed(text)
    for match in _HEX.finditer(text):
        try:
            plain = binascii.unhexlify(match.group()).decode("utf-8")
        except (binascii.Error, UnicodeDecodeError):
            continue
        if _is_english(plain):
            yield plain
    for sentence in re.split(r"[.:\n]", text[:_MOST_READ]):
        if _COMMON.search(sentence) or len(_WORDS.findall(sentence)) < _FEWEST or _share(sentence) > 0.5:
            continue
        for plain in (codecs.decode(sentence, "rot13"), sentence[::-1]):
            if _is_english(plain):
                yield plain.strip()


def _is_english(text: str) -> bool:
    return len(_WORDS.findall(text)) >= _FEWEST and _share(text) >= 0.7


def _share(text: str) -> float:
    """How many of the words of a text, by their letters, are English."""
    words = [word.lower() for word in _WORDS.findall(text) if len(word) > 2]
    whole = sum(map(len, words))
    return sum(len(word) for word in words if is_word(word)) / whole if whole else 0.0
