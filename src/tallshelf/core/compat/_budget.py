"""The bound on work: a count of steps, the same on every machine."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager


class Budget:
    """A count of steps that ends the work, the same on every machine."""

    def __init__(self, steps: int) -> None:
        self._left = steps
        self._paid = False

    def spend(self, steps: int = 1) -> None:
        """Use up steps; raise `Exhausted` when there are none left."""
        if self._paid:
            return
        self._left -= steps
        if self._left < 0:
            raise Exhausted

    @contextmanager
    def paid(self, steps: int) -> Iterator[None]:
        """Use up steps for all that is done inside: for many small things of one kind."""
        self.spend(steps)
        before, self._paid = self._paid, True
        try:
            yield
        finally:
            self._paid = before


class Exhausted(Exception):
    """The comparison used up its steps."""


class TooMany(Exhausted):
    """A conjunction of unions has more branches than are kept."""
