"""Text that nobody sees and a model reads: hidden characters, look-alike letters, encoded words."""

from __future__ import annotations

import base64
import binascii
import functools
import unicodedata

from tallshelf.core.words.pattern import Pattern

_PLAIN_CONTROLS = frozenset("\n\r\t")
_EMOJI_JOINER = Pattern("(?<=[\\u2190-\\u2bff\\U0001f000-\\U0001faff\\ufe0f])\\u200d")
_CONTROL = Pattern(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")
_JOINERS = frozenset("\u200c\u200d")
_UNSEEN = Pattern(
    "[\u034f\u115f\u1160\u17b4\u17b5\u180b-\u180f\u2800\u3164\ufe00-\ufe0f\uffa0\U000e0100-\U000e01ef]"
)
"""What Unicode calls letters, marks or symbols and nobody sees: fillers, blanks, and the selectors of variants."""
_SELECTORS = Pattern("[\ufe00-\ufe0f\U000e0100-\U000e01ef]+")
_SELECTED = Pattern(
    "[0-9#*\u00a9\u00ae\u203c-\u303d\u3297\u3299\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff\U0001f000-\U0001faff"
    "\U00020000-\U0003ffff\u1000-\u109f\ua840-\ua87f]"
)
"""After what one selector of a variant is part of how a sign is written: emoji, ideographs, Myanmar, Phags-pa."""
_SCRIPTS = {
    "\u2800": Pattern("[\u2801-\u28ff]"),
    "\u180b\u180c\u180d\u180e\u180f": Pattern("[\u1820-\u18aa]"),
    "\u17b4\u17b5": Pattern("[\u1780-\u17b3]"),
}
"""Blanks and marks of a script (Braille, Mongolian, Khmer), and what is written in it."""
_VIRAMA = 9  # its canonical combining class
_ARABIC = Pattern("[\\u0620-\\u064a\\u066e-\\u06d3\\u06fa-\\u06ff\\u0750-\\u077f\\u08a0-\\u08c7]")
_BASE64 = Pattern(r"(?<![A-Za-z0-9+/=_-])[A-Za-z0-9+/_-]{24,}={0,2}(?![A-Za-z0-9+/=_-])")
_LONGEST, _FEWEST_BYTES = 20_000, 3
_LONG_RUN = Pattern(r"\S{24}")
# Letters of other scripts that look like Latin ones in common fonts (after Unicode's UTS 39 data).
_ALIKE = dict(
    zip(
        "аеорсухіјѕԁһӏԛԝьАВЕЅІЈКМНОРСТУХοαινρτυχκΑΒΕΖΗΙΚΜΝΟΡΤΥΧ",
        "aeopcyxijsdhlqwbABESIJKMHOPCTYXoaivptuxkABEZHIKMNOPTYX",
        strict=True,
    )
)
_ALIKE_TABLE = str.maketrans(_ALIKE)


@functools.lru_cache(maxsize=4_096)
def is_hidden(character: str) -> bool:
    """Whether a character is invisible or changes the direction of what follows."""
    if unicodedata.category(character) in ("Cc", "Cf", "Co", "Cn"):
        return character not in _PLAIN_CONTROLS
    return _UNSEEN.match(character) is not None


def hidden_spots(text: str) -> list[int]:
    """Return where hidden characters stand; joiners inside emoji, and where a script needs them, are none."""
    if text.isascii() and not _CONTROL.search(text):
        return []
    joined = {match.start() for match in _EMOJI_JOINER.finditer(text)}
    written = {signs for signs, script in _SCRIPTS.items() if script.search(text)}
    return [
        at
        for at, one in enumerate(text)
        if is_hidden(one) and at not in joined and not _is_written(text, at, written)
    ]


def _is_written(text: str, at: int, scripts: set[str]) -> bool:
    """Whether a sign that is not seen is part of how a word is spelled.

    A joiner as IDNA allows it (RFC 5892, appendix A.1 and A.2): after a virama; a non-joiner also between two letters
    of the Arabic script. One selector after a sign that has variants; the ``scripts``' own blanks and marks.
    """
    before, after = text[max(0, at - 1) : at], text[at + 1 : at + 2]
    if _SELECTORS.match(text[at]):
        return _SELECTED.match(before) is not None
    if any(text[at] in signs for signs in scripts):
        return True
    if text[at] not in _JOINERS:
        return False
    if before and unicodedata.combining(before) == _VIRAMA:
        return True
    return text[at] == "\u200c" and bool(_ARABIC.match(before) and _ARABIC.match(after))


def tagged(text: str) -> str:
    """Return what signs spell out that nobody sees: tag characters (U+E0020 to U+E007E), which mirror ASCII, and
    selectors of variants, of which each may stand for a byte.
    """
    tags = "".join(chr(ord(one) - 0xE0000) for one in text if 0xE0020 <= ord(one) <= 0xE007E)
    return tags + "".join(_bytes_of(run) for run in _SELECTORS.findall(text))


def _bytes_of(selectors: str) -> str:
    """Return the text whose bytes a run of selectors stands for, or nothing where it is none."""
    codes = [ord(one) - 0xFE00 if one <= "\ufe0f" else ord(one) - 0xE0100 + 16 for one in selectors]
    told = bytes(codes).decode("utf-8", "ignore")
    return told if len(told) > _FEWEST_BYTES and told.isprintable() else ""


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
        text = _SELECTORS.sub(lambda match: _bytes_of(match.group()), text)
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
