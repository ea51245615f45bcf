"""What stands beside the words that are asked for, in this catalog: *flag* beside *targeting*."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import replace

from tallshelf.core.words.split import is_stop_word
from tallshelf.service.catalog.search.entries import Asked, Entry

_WORTH = 0.35
"""How nearly what stands beside a word says it."""
_FEWEST, _MOST = 3, 60
"""How many entries have to say a word before its company tells anything, and from when on it tells nothing."""
_OFTEN, _MOSTLY = 0.3, 0.6
"""In how many of them another word stands, and how much of where that stands they are."""
_SAYS_IT = 0.8


def with_company(asked: Sequence[Asked], entries: Collection[Entry]) -> list[Asked]:
    """Return what is asked for, each thing with the words that mostly stand beside it in names and leads.

    Acts have none: a verb keeps company with everything.
    """
    heads = [entry.places["name"] | entry.places["lead"] for entry in entries]
    held = Counter(root for head in heads for root in head)
    return [one if one.acts else replace(one, company=_company(one, heads, held)) for one in asked]


def _company(asked: Asked, heads: Sequence[frozenset[str]], held: Counter[str]) -> dict[str, float]:
    saying = {root for root, worth in asked.worth.items() if worth >= _SAYS_IT * asked.telling}
    where = [head for head in heads if not saying.isdisjoint(head)]
    if not _FEWEST <= len(where) <= _MOST:
        return {}
    beside = Counter(root for head in where for root in head)
    return {
        root: asked.telling * _WORTH
        for root, number in beside.items()
        if number >= max(_FEWEST, _OFTEN * len(where))
        and number >= _MOSTLY * held[root]
        and root not in asked.worth
        and not is_stop_word(root)
    }
