"""What reading English costs a sentence, over all texts of the demo's declarations.

The yardstick is Python's `re` cutting the same texts into words, in the same run. Nothing is kept between rounds.
"""

from __future__ import annotations

import itertools
import re
import time
from collections.abc import Callable, Iterator
from typing import Any

from tallshelf.core.words import remembered
from tallshelf.core.words.acts import says_it_only_reads, says_it_writes, says_of_outside, says_of_repeating
from tallshelf.core.words.amounts import amounts
from tallshelf.core.words.difference import text_difference
from tallshelf.core.words.language import is_in_english
from tallshelf.core.words.reading import read
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.steering import steering
from tallshelf.run.scenario.declarations import declared, names

_ROUNDS = 3
_WORDS = re.compile(r"\w+")


def main() -> None:
    texts = sorted(set(_texts([declared(name, "1.0.0") for name in names()])))
    number = sum(len(list(sentences(text))) for text in texts)
    yardstick = _best(lambda text: _WORDS.findall(text), texts)
    print(f"{len(texts):,} texts, {number:,} sentences")
    print(f"{'cutting into words, by re':32} {yardstick / number * 1e6:8.1f} µs a sentence")
    for name, call in READERS.items():
        taken = _best(call, texts)
        print(f"{name:32} {taken / number * 1e6:8.1f} µs a sentence   {taken / yardstick:6.1f} x")
    pairs = list(itertools.pairwise(texts))
    taken = min(_timed(lambda pair: text_difference(*pair), pairs) for _ in range(_ROUNDS))
    print(f"{'comparing two texts':32} {taken / len(pairs) * 1e6:8.1f} µs a pair")


def _acts(text: str) -> None:
    for ask in (says_it_writes, says_it_only_reads, says_of_repeating, says_of_outside):
        ask(text)


READERS: dict[str, Callable[[str], object]] = {
    "sentences": lambda text: list(sentences(text)),
    "clauses and what they say": read,
    "orders and requests": steering,
    "what a call does": _acts,
    "amounts": amounts,
    "language": is_in_english,
}


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        for key, child in value.items():
            if key in ("description", "instructions", "title") and isinstance(child, str):
                yield child
            yield from _texts(child)
    elif isinstance(value, list):
        for child in value:
            yield from _texts(child)


def _best(call: Callable[[str], object], texts: list[str]) -> float:
    return min(_timed(call, texts) for _ in range(_ROUNDS))


def _timed(call: Callable[[Any], object], each: list[Any]) -> float:
    remembered.forget()
    begun = time.perf_counter()
    for one in each:
        call(one)
    return time.perf_counter() - begun


if __name__ == "__main__":
    main()
