"""The system that a server works on (this database, that code host), as its own texts and names give it away."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from tallshelf.core.snapshot import Item
from tallshelf.core.words import known_abbreviation, split_identifier, word_set
from tallshelf.core.words.lexicon import base_forms, is_word

_CAPITAL = re.compile(r"(?<=[a-z,;(] )[A-Z][A-Za-z0-9]{2,}\b")
_WORD = re.compile(r"[A-Za-z][A-Za-z0-9]{2,}")
_FEWEST, _SHARE = 2, 0.25
_OF_ALL = word_set(
    """
mcp api json yaml xml html markdown http https url uri oauth utc iso id ids uuid sql cli sdk jwt csv pdf regex utf
unicode async boolean bool int str param params args config auth metadata timestamp datetime pagination webhook webhooks
plugin readme english monday tuesday wednesday thursday friday saturday sunday january february march april june july
august september october november december use returns return required optional default note example examples important
if when get list create update delete search find set add remove true false none null server tool tools
"""
)
"""What servers of every system speak of."""


def system_of(items: Sequence[Item], server_name: str = "") -> frozenset[str]:
    """Return the names of what a server works on, in lower case: those that it keeps writing as names.

    A name is no English word, or is written with a capital in the middle of sentences; and it stands in the server's
    own name, or in a quarter of its items, at least two. Empty where a server gives no name away.
    """
    seen: Counter[str] = Counter()
    for item in items:
        written = {word.lower() for word in _CAPITAL.findall(item.description)}
        unknown = {word for word in split_identifier(item.name) if _is_unknown(word)}
        unknown |= {word.lower() for word in _WORD.findall(item.description) if _is_unknown(word.lower())}
        seen.update((written | unknown) - _OF_ALL)
    least = max(_FEWEST, round(_SHARE * len(items)))
    own = {
        word
        for word in split_identifier(server_name)
        if word not in _OF_ALL and (_is_unknown(word) or word in seen)
    }
    return frozenset(
        {word for word, number in seen.items() if number >= least and not known_abbreviation(word)} | own
    )


def share_system(one: frozenset[str], other: frozenset[str]) -> bool:
    """Whether two servers name one system, perhaps one by a longer name; true where one names none."""
    if not one or not other:
        return True
    return any(left.startswith(right) or right.startswith(left) for left in one for right in other)


def _is_unknown(word: str) -> bool:
    return len(word) > 3 and not known_abbreviation(word) and not any(map(is_word, base_forms(word)))
