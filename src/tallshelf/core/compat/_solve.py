"""An instance of a node, small and readable; or that there is none; or that it was not found out.

That there is none is claimed only by a rule that proves it. A node that is met again below
itself adds nothing: an instance is finite, so a smallest one never needs it (induction).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from tallshelf.core.compat._accepts import accepts
from tallshelf.core.compat._arrays import array_instance
from tallshelf.core.compat._budget import TooMany
from tallshelf.core.compat._form import Facets, Node, type_of
from tallshelf.core.compat._objects import object_instance
from tallshelf.core.compat._outcome import (
    MOST_VALUES,
    NOTHING,
    UNKNOWN,
    Found,
    Nothing,
    Outcome,
    cost,
    own,
    weight,
)
from tallshelf.core.compat._regular import Unsure
from tallshelf.core.compat._scalars import number_instances, string_instance
from tallshelf.core.compat._space import Space, same_place
from tallshelf.core.compat._subtract import outside

_DEEPEST = 24
_MOST_PIECES = 300
_CALM = "anything"


class Solver:
    """Looks for instances, and keeps what it found for each node."""

    def __init__(self, space: Space) -> None:
        self.space = space
        self._known: dict[str, Outcome] = {}
        self._open: dict[str, int] = {}
        self._leaned = _DEEPEST
        self._left_to_try = _MOST_PIECES

    def node(self, node: Node) -> Outcome:
        """Return an instance that all places of a node accept."""
        if not node.places:
            return Found(_CALM)
        key = node.key
        if key in self._known:
            return self._known[key]
        if key in self._open:
            self._leaned = min(self._leaned, self._open[key])
            return NOTHING
        depth = len(self._open)
        if depth >= _DEEPEST:
            return UNKNOWN
        outcome: Outcome
        outer, self._leaned = self._leaned, _DEEPEST
        self._open[key] = depth
        try:
            outcome = self._node(node)
        except TooMany:
            outcome = UNKNOWN
        finally:
            del self._open[key]
        if self._leaned >= depth or (isinstance(outcome, Found) and outcome.sure):
            self._known[key] = outcome  # nothing that is still open was leaned on
            self._leaned = outer
        else:
            self._leaned = min(outer, self._leaned)
        return outcome

    def _node(self, node: Node) -> Outcome:
        plain = tuple(place for place in node.places if not place.without)
        turned = [place.without for place in node.places if place.without]
        if not turned:
            return self.union(self.space.branches(node))
        if any(same_place(place, one) for place in plain for one in turned):
            return NOTHING
        taken = [branch for one in turned for branch in self.space.branches(one)]
        return self.outside(self.space.branches(Node(plain)), taken)

    def outside(self, branches: Iterable[Facets], taken: Sequence[Facets]) -> Outcome:
        """Return an instance of one of some branches that none of others takes."""
        left, self._left_to_try = self._left_to_try, _MOST_PIECES
        outcome: Outcome = NOTHING
        for branch in branches:
            found = self._past(branch, taken)
            if isinstance(found, Found):
                outcome = found
                if found.sure:
                    break
        self._left_to_try = left
        return outcome

    def _past(self, branch: Facets, taken: Sequence[Facets]) -> Outcome:
        """Return an instance of a branch that none of others takes, piece by piece."""
        self._left_to_try -= 1
        if self._left_to_try < 0:
            return UNKNOWN
        for index, other in enumerate(taken):
            if self.space.apart(branch, other):
                continue
            outcome: Outcome = NOTHING
            for piece in outside(branch, other):
                for part in self.space.settled([piece.facets]):
                    found = self._past(part, taken[index + 1 :])
                    if isinstance(found, Found):
                        if found.sure:
                            return found
                        outcome = found
            return outcome
        return self.branch(branch)

    def union(self, branches: Iterable[Facets]) -> Outcome:
        """Return an instance of one of several branches."""
        outcome: Outcome = NOTHING
        for branch in branches:
            found = self.branch(branch)
            if isinstance(found, Found):
                if found.sure:
                    return found
                outcome = found
        return outcome

    def branch(self, branch: Facets) -> Outcome:
        """Return an instance of one branch."""
        self.space.budget.spend()
        (name,) = branch.types
        if branch.values is not None:
            return self._checked(branch, branch.values)
        for hint in branch.hints:
            if type_of(hint) == name and accepts(self.space, branch, hint) is True:
                return Found(hint)
        if name == "number":
            tries, all_there_are = number_instances(branch)
            return self._checked(branch, tries) if all_there_are else self.tried(branch, tries)
        if name == "string":
            return self._string(branch)
        return array_instance(self, branch) if name == "array" else object_instance(self, branch)

    def _checked(self, branch: Facets, values: Iterable[Any]) -> Outcome:
        """Return the first value that fits; nothing when all are refused."""
        outcome: Outcome = NOTHING
        for value in values:
            answer = accepts(self.space, branch, value)
            if answer is True:
                return Found(own(value))
            if answer is None:
                outcome = Found(own(value), sure=False)
        return outcome

    def tried(self, branch: Facets, values: Iterable[Any]) -> Found:
        """Return the first of some guesses that fits; that none does proves nothing."""
        outcome = self._checked(branch, self._paid(values))
        return UNKNOWN if isinstance(outcome, Nothing) else outcome

    def _paid(self, values: Iterable[Any]) -> Iterator[Any]:
        """Yield values that are not too heavy, and use up the steps that each costs."""
        for value in values:
            if weight(value) <= MOST_VALUES:
                self.space.budget.spend(cost(value))
                yield value

    def _string(self, branch: Facets) -> Outcome:
        self.space.budget.spend(10 * (1 + len(branch.patterns) + len(branch.extra.not_patterns)))
        try:
            text = string_instance(branch)
        except Unsure:
            return self.tried(branch, ["text", "", "0", "A", "?"])
        return NOTHING if text is None else self.tried(branch, [text])
