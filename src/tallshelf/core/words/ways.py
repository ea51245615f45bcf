"""Forms of sentences, each compiled only once a sentence has a word of it: most commands meet few of them."""

from __future__ import annotations

import functools
import re
from collections.abc import Collection, Iterable, Iterator

from tallshelf.core.words.split import word_set

_WORD = re.compile(r"[a-zA-Z\u00c0-\u024f]{2,}")
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
    return frozenset(map(singular, _WORD.findall(sentence.lower())))


@functools.cache
def _compiled(form: str, flags: int) -> re.Pattern[str]:
    return re.compile(form, flags)


class Ways:
    """Forms by the words of which each takes one at least; those that take none are tried on every sentence asked."""

    def __init__(
        self, forms: Iterable[str], flags: int = re.IGNORECASE, *, telling: Collection[str] = ()
    ) -> None:
        """Take the forms; ``telling`` are words that lead to one though they are common."""
        common = _COMMON.difference(telling)
        self._flags = flags
        self._by_word: dict[str, list[str]] = {}
        self._wordless: list[str] = []
        for form in forms:
            plain = re.sub(r"\\[a-zA-Z]|\(\?<?[!=:]", " ", form)
            words = {singular(word) for word in set(_WORD.findall(plain.lower())) - common} - common
            for word in words:
                self._by_word.setdefault(word, []).append(form)
            if not words:
                self._wordless.append(form)

    @property
    def words(self) -> Collection[str]:
        """The words, one of which stands in every sentence that a form with words is found in."""
        return self._by_word.keys()

    def met(self, words: Collection[str], *, wordless: bool = False) -> Iterator[re.Pattern[str]]:
        """Yield the forms that may be found among some words, with ``wordless`` also those that take none."""
        known = sorted(word for word in words if word in self._by_word)
        forms = dict.fromkeys(form for word in known for form in self._by_word[word])
        for form in (*forms, *(self._wordless if wordless else ())):
            yield _compiled(form, self._flags)
