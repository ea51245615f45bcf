"""Text that nobody sees and a model reads: hidden characters, look-alike letters, encoded words."""

from __future__ import annotations

import base64
import binascii
import re
import unicodedata

_PLAIN_CONTROLS = frozenset("\n\r\t")
_EMOJI_JOINER = re.compile("(?<=[\\u2190-\\u2bff\\U0001f000-\\U0001faff\\ufe0f])\\u200d")
_JOINERS = frozenset("\u200c\u200d")
_VIRAMA = 9  # its canonical combining class
_ARABIC = re.compile("[\\u0620-\\u064a\\u066e-\\u06d3\\u06fa-\\u06ff\\u0750-\\u077f\\u08a0-\\u08c7]")
_BASE64 = re.compile(r"(?<![A-Za-z0-9+/=_-])[A-Za-z0-9+/_-]{24,}={0,2}(?![A-Za-z0-9+/=_-])")
_LONGEST = 20_000
_LONG_RUN = re.compile(r"\S{24}")
# Letters of other scripts that look like Latin ones in common fonts (after Unicode's UTS 39 data).
_ALIKE = dict(
    zip(
        "аеорсухіјѕԁһӏԛԝьАВЕЅІЈКМНОРСТУХοαινρτυχκΑΒΕΖΗΙΚΜΝΟΡΤΥΧ",
        "aeopcyxijsdhlqwbABESIJKMHOPCTYXoaivptuxkABEZHIKMNOPTYX",
        strict=True,
    )
)
_ALIKE_TABLE = str.maketrans(_ALIKE)


def is_hidden(character: str) -> bool:
    """Whether a character is invisible or changes the direction of what follows."""
    return unicodedata.category(character) in ("Cc", "Cf", "Co", "Cn") and character not in _PLAIN_CONTROLS


def hidden_spots(text: str) -> list[int]:
    """Return where hidden characters stand; joiners inside emoji, and where a script needs them, are none."""
    if text.isascii() and text.isprintable():
        return []
    joined = {match.start() for match in _EMOJI_JOINER.finditer(text)}
    return [
        at
        for at, one in enumerate(text)
        if is_hidden(one) and at not in joined and not (one in _JOINERS and _is_written(text, at))
    ]


def _is_written(text: str, at: int) -> bool:
    """Whether a joiner is part of how a word is spelled: as IDNA allows it (RFC 5892, appendix A.1 and A.2).

    After a virama; a non-joiner also between two letters of the Arabic script.
    """
    before, after = text[at - 1 : at], text[at + 1 : at + 2]
    if before and unicodedata.combining(before) == _VIRAMA:
        return True
    return text[at] == "\u200c" and bool(_ARABIC.match(before) and _ARABIC.match(after))


def tagged(text: str) -> str:
    """Return what tag characters (U+E0020 to U+E007E), which mirror ASCII, spell out."""
    return "".join(chr(ord(one) - 0xE0000) for one in text if 0xE0020 <= ord(one) <= 0xE007E)


def looks_alike(character: str) -> str | None:
    """Return the Latin letter that a letter of another script looks like, or None."""
    return _ALIKE.get(character)


def is_plain(text: str) -> bool:
    """Whether a model reads a text as it is written: nothing in it can be hidden or encoded."""
    return text.isascii() and not _LONG_RUN.search(text)


def revealed(text: str) -> str:
    """Return a text as a model may read it.

    Tag characters are decoded, other hidden ones dropped, look-alike letters put as what they
    look like, and base64 that holds words is put beside itself.
    """
    if not text.isascii():
        decoded = (chr(ord(one) - 0xE0000) if 0xE0020 <= ord(one) <= 0xE007E else one for one in text)
        text = "".join(one for one in decoded if not is_hidden(one))
        text = unicodedata.normalize("NFKC", text).translate(_ALIKE_TABLE)
    if len(text) > _LONGEST or not _LONG_RUN.search(text):
        return text
    return _BASE64.sub(lambda match: f"{match.group()} {_words_of(match.group())}".rstrip(), text)


def _words_of(text: str) -> str:
    """Return the words that base64 holds, or nothing where it holds none."""
    padded = text.rstrip("=").replace("-", "+").replace("_", "/")
    try:
        words = base64.b64decode(padded + "=" * (-len(padded) % 4), validate=True).decode("utf-8")
    except (binascii.Error, UnicodeDecodeError):
        return ""
    return words if words.isprintable() and " " in words else ""
