"""What a search for an instance comes back with."""

from __future__ import annotations

import copy
from collections.abc import Iterable
from typing import Any, Protocol

from msgspec import Struct

from tallshelf.core.compat._form import Facets, Node
from tallshelf.core.compat._space import Space


class Found(Struct, frozen=True, eq=False):
    """What was found: an instance, for ``sure`` or as a guess; ``instance`` may be any JSON value."""

    instance: Any
    sure: bool = True


class Nothing:
    """Proved: no instance fits."""


NOTHING = Nothing()
UNKNOWN = Found(None, sure=False)
Outcome = Found | Nothing


class Solver(Protocol):
    """What looks for instances, as far as arrays and objects ask it for those inside them."""

    space: Space

    def node(self, node: Node) -> Outcome: ...
    def tried(self, branch: Facets, values: Iterable[Any]) -> Found: ...


def own(value: Any) -> Any:
    """Return a value that no schema holds."""
    return copy.deepcopy(value) if isinstance(value, dict | list) else value


MOST_VALUES = 20_000
"""Of how many values an instance is made at most, a hundred characters counting as one more."""
_FOR_A_STEP = 10


def weight(value: Any) -> int:
    """Return of how many values one is made; counting ends where there are too many."""
    total, waiting = 0, [value]
    while waiting and total <= MOST_VALUES:
        one = waiting.pop()
        total += 1
        if isinstance(one, str):
            total += len(one) // 100
        elif isinstance(one, dict):
            waiting += one.values()
        elif isinstance(one, list):
            waiting += one[: MOST_VALUES + 1]
    return total


def cost(value: Any) -> int:
    """Return how many steps it takes to make, judge and keep an instance."""
    return weight(value) // _FOR_A_STEP
