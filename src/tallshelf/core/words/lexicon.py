"""A lexicon of English: which words there are, what parts of speech they are, and which mean the same.

It is drawn from WordNet 3.1 (``data/LICENSE``) by ``packaging/lexicon/build.py``, a sorted line for each word and each
sense, and looked up in the mapped files by bisection; nothing is loaded whole, and processes share their pages.
"""

from __future__ import annotations

import functools
import mmap
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from tallshelf.core.words.remembered import remembered

_FOLDER = Path(__file__).with_name("data")
_IRREGULAR_TEXT = """
am be/is be/are be/was be/were be/been be/being be/has have/had have/having have/does do/did do/done do/went go/gone go
sent send/gave give/given give/took take/taken take/made make/found find/got get/gotten get/kept keep/held hold
left leave/lost lose/built build/bought buy/sold sell/told tell/said say/saw see/seen see/shown show/wrote write
written write/began begin/begun begin/broke break/broken break/chose choose/chosen choose/came come/drew draw
drawn draw/drove drive/driven drive/ate eat/fell fall/fallen fall/felt feel/forgot forget/forgotten forget/froze freeze
frozen freeze/grew grow/grown grow/hid hide/hidden hide/knew know/known know/laid lay/led lead/lent lend/meant mean
met meet/paid pay/ran run/rose rise/risen rise/sought seek/shot shoot/slept sleep/spoke speak/spoken speak/spent spend
stood stand/stole steal/stolen steal/stuck stick/swept sweep/taught teach/thought think/threw throw/thrown throw
understood understand/woke wake/wore wear/won win/withdrew withdraw/withdrawn withdraw/undid undo/undone undo
overwritten overwrite/overwrote overwrite/rewritten rewrite/rewrote rewrite/rebuilt rebuild/resent resend
children child/men man/women woman/people person/feet foot/teeth tooth/mice mouse/indices index/indexes index
vertices vertex/matrices matrix/analyses analysis/criteria criterion/axes axis/statuses status/aliases alias
lives life/leaves leave/halves half/shelves shelf/lay lie/dying die/lying lie/tied tie/buses bus/gases gas
"""
_IRREGULAR = dict(
    pair.split() for line in _IRREGULAR_TEXT.strip().splitlines() for pair in line.split("/") if pair.strip()
)
_ENDINGS = (
    ("ies", ("y",)),
    ("ied", ("y",)),
    ("sses", ("ss",)),
    ("es", ("e", "")),
    ("s", ("",)),
    ("ing", ("e", "")),
    ("ed", ("e", "")),
)
_LONGEST = 40
"""Characters of what may be a word; the lexicon has none of more than 24."""
_NEVER_CUT = ("ss", "us", "is")


class Part(NamedTuple):
    """A word as one part of speech: how often it is used so, the file of its first sense, its first senses."""

    used: int
    file: int
    senses: frozenset[str]


@functools.lru_cache(maxsize=2)
def _lines(name: str) -> mmap.mmap:
    with (_FOLDER / name).open("rb") as file:
        return mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)


@remembered(32_768, _LONGEST)
def parts(word: str) -> dict[str, Part]:
    """Return a lower-case word's parts of speech, by letter (n v a r); empty where it is no word that is known."""
    line = _line("words.txt", word.encode("utf-8", "replace")) if len(word) <= _LONGEST else None
    if line is None:
        return {}
    found = {}
    for told in line.decode().split("|")[1:]:
        letter, used, file, senses = told.split(" ")
        found[letter] = Part(int(used), int(file), frozenset(senses.split(",")))
    return found


def _line(name: str, word: bytes) -> bytes | None:
    lines = _lines(name)
    low, high = 0, len(lines)
    while low < high:
        middle = (low + high) // 2
        start = lines.rfind(b"\n", 0, middle) + 1
        end = lines.find(b"\n", middle)
        line = lines[start:end]
        found = line.split(b"|", 1)[0]
        if found == word:
            return line
        if found < word:
            low = end + 1
        else:
            high = start
    return None


def is_word(word: str) -> bool:
    """Whether a lower-case text is an English word, in whatever form."""
    return any(parts(base_form) for base_form in base_forms(word))


@remembered(32_768, _LONGEST)
def base_forms(word: str) -> tuple[str, ...]:
    """Return what a lower-case word may be a form of, itself first."""
    return tuple(dict.fromkeys(_base_forms(word)))


def _base_forms(word: str) -> Iterator[str]:
    yield word
    if len(word) > _LONGEST:
        return
    if word in _IRREGULAR:
        yield _IRREGULAR[word]
    for ending, others in _ENDINGS:
        if not word.endswith(ending) or (ending == "s" and word.endswith(_NEVER_CUT)):
            continue
        cut = word[: len(word) - len(ending)]
        if len(cut) < 2:
            continue
        for other in others:
            yield cut + other
        if ending in ("ing", "ed") and len(cut) > 3 and cut[-1] == cut[-2]:
            yield cut[:-1]


@remembered(32_768, _LONGEST)
def lemma(word: str) -> str:
    """Return the base form of a lower-case word: of the forms that are words the one that is used most."""
    if word in _IRREGULAR:
        return _IRREGULAR[word]
    best, most = word, -1
    for base_form in base_forms(word)[1:]:
        used = max((part.used for letter, part in parts(base_form).items() if letter in "nv"), default=-1)
        if used > most:
            best, most = base_form, used
    own = max((part.used for part in parts(word).values()), default=-1)
    return best if most >= 0 and (own < 0 or most * 3 >= own or word.endswith(("s", "ing", "ed"))) else word


@remembered(32_768, _LONGEST)
def verb_share(word: str) -> float:
    """Return how much a base form is used as a verb, from 0 (never) to 1 (as nothing else)."""
    found = parts(word)
    if "v" not in found:
        return 0.0
    return (found["v"].used + 1) / (sum(part.used for part in found.values()) + len(found))


@remembered(65_536, _LONGEST)
def synonyms(one: str, other: str) -> bool:
    """Whether two base forms may stand for one another: they share one of their first senses."""
    if one == other:
        return True
    left, right = parts(one), parts(other)
    return any(
        letter in right and not part.senses.isdisjoint(right[letter].senses) for letter, part in left.items()
    )


@remembered(8_192, _LONGEST)
def words_for(word: str) -> frozenset[str]:
    """Return the base forms that may stand for one: all that share one of its first senses; itself left out."""
    found: set[str] = set()
    for letter, part in parts(word).items():
        for sense in part.senses:
            line = _line("senses.txt", f"{letter}{sense}".encode())
            if line is not None:
                found.update(line.decode().partition("|")[2].split(","))
    return frozenset(found - {word})
