"""What people ask by and what tools say for it, in the trades at large: a list of our own, ``data/trades.txt``."""

from __future__ import annotations

import functools
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import NamedTuple

from tallshelf.core.words.lexicon import lemma

_FILE = Path(__file__).with_name("data") / "trades.txt"
_BETWEEN = 3
"""How many words may stand between a verb and its particle: switch the porch light off."""
_LONGEST = 4


class _Trades(NamedTuple):
    related: dict[str, frozenset[str]]
    phrases: dict[tuple[str, ...], tuple[str, ...]]
    verbs: dict[tuple[str, str], str]


class Read(NamedTuple):
    """A question's words, its verbs with particles read as one, and what such a verb was written as: switch off."""

    words: tuple[str, ...]
    written: dict[str, str]


def related(word: str) -> frozenset[str]:
    """Return what the trades call what is asked for by a word, itself left out."""
    return _trades().related.get(word, frozenset())


def with_verbs_read(words: Sequence[str]) -> Read:
    """Read verbs with a particle as the one verb that says the same: switch it off, disable it."""
    verbs, found, written = _trades().verbs, list(words), {}
    for at in range(len(words) - 1, -1, -1):
        for end in range(at + 1, min(at + 2 + _BETWEEN, len(found))):
            verb = verbs.get((found[at], found[end])) or verbs.get((lemma(found[at]), found[end]))
            if verb:
                written[verb] = f"{found[at]} {found[end]}"
                found[at : end + 1] = [verb, *found[at + 1 : end]]
                break
    return Read(tuple(found), written)


def phrases_in(words: Sequence[str]) -> Iterator[tuple[tuple[str, ...], tuple[str, ...]]]:
    """Yield the phrases that stand among words, each as it is written there, with the words that say it else."""
    phrases = _trades().phrases
    roots = tuple(map(lemma, words))
    for at in range(len(words)):
        for end in range(at + 2, min(at + _LONGEST, len(words)) + 1):
            said = phrases.get(tuple(words[at:end])) or phrases.get(roots[at:end])
            if said:
                yield tuple(words[at:end]), said


@functools.lru_cache(maxsize=1)
def _trades() -> _Trades:
    found: dict[str, set[str]] = {}
    phrases: dict[tuple[str, ...], tuple[str, ...]] = {}
    verbs: dict[tuple[str, str], str] = {}
    for line in _lines(_FILE.read_text("utf-8").splitlines()):
        verb, is_verb, said = line.partition(" = ")
        if is_verb:
            first, particle = verb.split()
            verbs[first, particle] = said
            continue
        asked, one_way, said = line.partition(": ")
        words = asked.split()
        if one_way and len(words) > 1:
            phrases[tuple(words)] = tuple(said.split())
        elif one_way:
            found.setdefault(asked, set()).update(said.split())
        else:
            for word in words:
                found.setdefault(word, set()).update(words)
    return _Trades({word: frozenset(said - {word}) for word, said in found.items()}, phrases, verbs)


def _lines(lines: Iterable[str]) -> Iterator[str]:
    return (line for line in map(str.strip, lines) if line and not line.startswith("#"))
