"""Forms of sentences, each compiled only once a sentence has a word of it: most commands meet few of them."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

_WORD = Pattern(r"[a-zA-Z\u00c0-\u024f]{2,}")
"""A word of a Latin script; others are written without spaces, and are looked for as they stand."""
_COMMON = word_set(
    "the and any all are was has have had for from this that with what when where you your not its their also into"
    " made make given last full present every each other another whole only out use using read call one two him them"
    " who whom which may can will per such than too very here there his hers she they our does did done been being but"
    " of it i is a as an in to on be by at or we"
)


def singular(word: str) -> str:
    """Return a word as it is looked up: one and many are the same."""
    return word.rstrip("s")


def words_in(sentence: str) -> frozenset[str]:
    """Return the words of a sentence as they are looked up."""
    return frozenset([word.rstrip("s") for word in _WORD.findall(sentence.lower())])


def _telling(form: str) -> frozenset[str]:
    plain = re.sub(r"\\[a-zA-Z]|\(\?<?[!=:]", " ", form)
    return frozenset(map(singular, set(_WORD.findall(plain.lower())) - _COMMON)) - _COMMON


class Ways:
    """Forms by the words of which each takes one at least; those that take none are tried on every sentence asked.

    A form is given with these words, or they are all that stand in it and are not common.
    """

    def __init__(self, forms: Iterable[str | tuple[str, str]], flags: int = re.IGNORECASE) -> None:
        self._by_word: dict[str, list[Pattern]] = {}
        self._wordless: list[Pattern] = []
        for given in forms:
            words, form = (
                (word_set(given[0]), given[1]) if isinstance(given, tuple) else (_telling(given), given)
            )
            pattern = Pattern(form, flags)
            for word in map(singular, words):
                self._by_word.setdefault(word, []).append(pattern)
            if not words:
                self._wordless.append(pattern)

    @property
    def words(self) -> Collection[str]:
        """The words, one of which stands in every sentence that a form with words is found in."""
        return self._by_word.keys()

    def met(self, words: frozenset[str], *, wordless: bool = False) -> list[Pattern]:
        """Return the forms that may be found among some words, with ``wordless`` also those that take none."""
        known = self._by_word.keys() & words
        if not known and not wordless:
            return []
        forms = dict.fromkeys(form for word in sorted(known) for form in self._by_word[word])
        return [*forms, *(self._wordless if wordless else ())]
