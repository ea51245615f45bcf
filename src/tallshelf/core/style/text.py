"""A text of a declaration as the rules read it, split into words once, shared by all."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator

from msgspec import Struct

from tallshelf.core.lazy import lazy
from tallshelf.core.words.hidden import is_plain, revealed
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import sentence_words, telling_words

_DIGIT = Pattern(r"\d")
_CAMEL = Pattern(r"[a-z][A-Z]")
_EXAMPLE_BEFORE = Pattern(
    r"(?:such as|e\.g\.,?|for example,?|like|example:?|as in|instance)[\s`\"'(]*(?:[\w`-]+,?\s+(?:or\s+)?){0,3}$",
    re.IGNORECASE,
)
_LINE_ABOUT = Pattern(
    r"^[ \t]*(?:[-*•] ?)?[`'\"*]{0,3}([A-Za-z][\w.-]{0,99})[`'\"*]{0,3} ?(?:\([^()\n]{0,60}\) ?)?"
    r"(?::|[–—-] )[ \t*]*(\S.*)$",
    re.MULTILINE,
)
_JUST_BEFORE = 120
"""Characters in which the words that introduce an example stand."""


# Views are made by the ten thousand; freezing each would cost more than what most rules do with it.
class Text(Struct, eq=False, dict=True):
    """One text: where it is, what it says, and as a model may read it, with hidden text decoded."""

    item: str
    pointer: str
    text: str

    @lazy
    def lower(self) -> str:
        return self.text.lower()

    @lazy
    def words(self) -> tuple[str, ...]:
        return sentence_words(self.text)

    @lazy
    def word_set(self) -> frozenset[str]:
        """The words, for asking at a glance whether a text can hold what a rule looks for."""
        return frozenset(self.words)

    @lazy
    def has_digit(self) -> bool:
        return _DIGIT.search(self.text) is not None

    @lazy
    def stems(self) -> tuple[str, ...]:
        """The stems of the words that carry meaning."""
        return tuple(telling_words(self.words))

    @lazy
    def read(self) -> str:
        """The text with tag characters, look-alike letters and base64 decoded, hidden ones dropped."""
        return self.text if is_plain(self.text) else revealed(self.text)

    @lazy
    def lines_about(self) -> dict[str, str]:
        """What its lines tell, by the names that they begin with: ``port: Code of it.``, ``- **port** - Code.``"""
        lines = list(_LINE_ABOUT.finditer(self.text)) if "\n" in self.text else []
        return {line.group(1): line.group(2) for line in reversed(lines)}  # what is told first counts

    @lazy
    def may_name(self) -> bool:
        """Whether it may name a parameter or a tool: by its sign, or in quotes of code."""
        return "_" in self.text or "`" in self.text or _CAMEL.search(self.text) is not None

    def gives_an_example(self, start: int) -> bool:
        """Whether what begins at a place is introduced as an example."""
        return _EXAMPLE_BEFORE.search(self.text[max(0, start - _JUST_BEFORE) : start]) is not None


class Texts(tuple[Text, ...]):
    """Texts in order, of which a rule reads those alone that hold words that it looks for."""

    @lazy
    def _vocabulary(self) -> frozenset[str]:
        return frozenset().union(*(text.words for text in self))

    @lazy
    def altered(self) -> tuple[Text, ...]:
        """Those that a model may read otherwise than they are written."""
        return tuple(text for text in self if text.read is not text.text)

    @lazy
    def beyond_ascii(self) -> tuple[Text, ...]:
        return tuple(text for text in self if not text.text.isascii())

    def read_with(self, words: frozenset[str]) -> Iterator[Text]:
        """Yield those that hold one of some words, and those that may when they are read otherwise."""
        yield from dict.fromkeys((*self.altered, *self.holding(words)))

    def holding(self, words: frozenset[str]) -> Iterator[Text]:
        """Yield the texts that hold one of some words, in order."""
        found = words & self._vocabulary
        if found:
            yield from (text for text in self if not found.isdisjoint(text.word_set))


def is_letter(character: str) -> bool:
    """Whether a character is a letter of any script."""
    return unicodedata.category(character).startswith("L")
