"""Whether a text is in English, as far as it tells."""

from __future__ import annotations

from tallshelf.core.words.lexicon import base_forms, is_word
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.remembered import remembered

_WORD = Pattern(r"[^\W\d_]{4,}")
_FEWEST, _SHARE = 3, 0.5


def is_in_english(text: str) -> bool:
    """Whether a text reads as English; true where it has too few words to tell.

    Half of its words of four letters and more are English ones; identifiers in it do not count.
    """
    share = english_share(text)
    if share is None:
        return text.isascii() or not any(ord(one) > 0x2FF and one.isalpha() for one in text)
    return share >= _SHARE


@remembered(4_096, 2_000)
def english_share(text: str) -> float | None:
    """Return how many of the longer words of a text are English, from 0 to 1; None where it has too few of them."""
    plain = " ".join(one for one in text.split() if "_" not in one and "`" not in one)
    words = [one.lower() for one in _WORD.findall(plain)]
    if len(words) < _FEWEST:
        return None
    return sum(any(map(is_word, base_forms(word))) for word in words) / len(words)
