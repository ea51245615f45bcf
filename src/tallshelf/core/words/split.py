"""Splitting identifiers and sentences into words."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.remembered import remembered

_IDENTIFIER = Pattern(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+|\d+|[^\W\d_A-Za-z]+")
_STYLES = {
    "snake_case": Pattern(r"[a-z0-9]+(?:_[a-z0-9]+)+"),
    "kebab-case": Pattern(r"[a-z0-9]+(?:-[a-z0-9]+)+"),
    "camelCase": Pattern(r"[a-z0-9]+(?:[A-Z][a-z0-9]*)+"),
    "PascalCase": Pattern(r"(?:[A-Z][a-z0-9]+){2,}"),
    "dotted": Pattern(r"[a-z0-9]+(?:[./][a-z0-9_]+)+"),
}
_WORD = Pattern(r"[^\W_]+(?:['’][^\W_]+)?")
_SIGNS_TO_SPACES = {code: " " for code in range(128) if not chr(code).isalnum()}
_STOP_WORDS = """
a an and are as at be by for from given has have if in into is it its of on one or that the
their them they this those to was were what when where which who will with you your all any can
each use used using return returns
"""
_STOP = frozenset(_STOP_WORDS.split())
_ENDINGS = (
    ("ies", "y"),
    ("sses", "ss"),
    ("ches", "ch"),
    ("shes", "sh"),
    ("xes", "x"),
    ("ings", ""),
    ("ing", ""),
    ("ed", ""),
    ("es", "e"),
    ("s", ""),
)


@remembered(16_384, 128)
def split_identifier(name: str) -> tuple[str, ...]:
    """Split an identifier in any case style into lower-case words: ``getCrewByID`` → get crew by id."""
    return tuple(word.lower() for word in _IDENTIFIER.findall(name))


def case_style(name: str) -> str | None:
    """Return the case style of an identifier, such as ``snake_case``; None for one word, which is of any."""
    return next((style for style, pattern in _STYLES.items() if pattern.fullmatch(name)), None)


def cased(words: Iterable[str], style: str) -> str:
    """Write lower-case words as an identifier in a case style that `case_style` names."""
    if style in ("camelCase", "PascalCase"):
        joined = "".join(word.capitalize() for word in words)
        return joined if style == "PascalCase" else joined[:1].lower() + joined[1:]
    return {"kebab-case": "-", "dotted": "."}.get(style, "_").join(words)


def sentence_words(text: str) -> tuple[str, ...]:
    """Return the words of a text in lower case, in order."""
    if text.isascii() and "'" not in text:
        return tuple(text.lower().translate(_SIGNS_TO_SPACES).split())
    return tuple(_WORD.findall(text.lower()))


def content_words(text: str) -> tuple[str, ...]:
    """Return the stemmed words of a text that carry meaning, in order."""
    return tuple(telling_words(sentence_words(text)))


def telling_words(words: Iterable[str]) -> Iterator[str]:
    """Yield the stems of those among the words of a sentence that carry meaning, in order."""
    for word in words:
        bare = word.removesuffix("'s").removesuffix("’s")
        if bare not in _STOP and len(bare) > 1:
            yield stem(bare)


def is_stop_word(word: str) -> bool:
    """Whether a lower-case word carries no meaning of its own, such as ``the``."""
    return word in _STOP


@remembered(65_536, 40)
def stem(word: str) -> str:
    """Cut the commonest English endings, so that ``berths`` and ``berth`` are one word."""
    for ending, replacement in _ENDINGS:
        if word.endswith(ending) and len(word) - len(ending) >= 3 and not word.endswith(("ss", "us")):
            return word[: len(word) - len(ending)] + replacement
    return word


def word_set(text: str) -> frozenset[str]:
    """Return the words of a plain list as a set."""
    return frozenset(text.split())
