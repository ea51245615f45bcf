"""An instance of a node, small and readable; or that there is none; or that it was not found out.

That there is none is claimed only by a rule that proves it. A node that is met again below
itself adds nothing: an instance is finite, so a smallest one never needs it (induction).
"""

from __future__ import annotations

import copy
import itertools
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from tallshelf.core.compat._accepts import accepts, in_class, node_accepts
from tallshelf.core.compat._form import (
    Count,
    Facets,
    Node,
    Place,
    SomeMember,
    TooMany,
    complement,
    element,
    member,
    named,
    prefix_length,
    type_of,
)
from tallshelf.core.compat._regular import Unsure, find_string
from tallshelf.core.compat._scalars import number_instances, string_instance
from tallshelf.core.compat._space import Space, one_of_values, same_place
from tallshelf.core.compat._subtract import outside
from tallshelf.core.snapshot import canonical

_DEEPEST = 24
_MOST_ELEMENTS = 100
_MOST_PATTERNS = 4
_MOST_PIECES = 300


@dataclass(frozen=True, eq=False)
class Found:
    """What was found: an instance, for ``sure`` or as a guess; ``instance`` may be any JSON value."""

    instance: Any
    sure: bool = True


class Nothing:
    """Proved: no instance fits."""


NOTHING = Nothing()
UNKNOWN = Found(None, sure=False)
Outcome = Found | Nothing
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
            return self._checked(branch, tries) if all_there_are else self._tried(branch, tries)
        if name == "string":
            return self._string(branch)
        return self._array(branch) if name == "array" else self._object(branch)

    def _checked(self, branch: Facets, values: Iterable[Any]) -> Outcome:
        """Return the first value that fits; nothing when all are refused."""
        outcome: Outcome = NOTHING
        for value in values:
            answer = accepts(self.space, branch, value)
            if answer is True:
                return Found(_own(value))
            if answer is None:
                outcome = Found(_own(value), sure=False)
        return outcome

    def _tried(self, branch: Facets, values: Iterable[Any]) -> Found:
        """Return the first of some guesses that fits; that none does proves nothing."""
        found = self._checked(branch, values)
        return UNKNOWN if isinstance(found, Nothing) else found

    def _string(self, branch: Facets) -> Outcome:
        self.space.budget.spend(10 * (1 + len(branch.patterns) + len(branch.extra.not_patterns)))
        try:
            text = string_instance(branch)
        except Unsure:
            return self._tried(branch, ["text", "", "0", "A", "?"])
        return NOTHING if text is None else self._tried(branch, [text])

    # arrays

    def _array(self, branch: Facets) -> Outcome:
        steady = prefix_length(branch)
        most = self._longest(branch, steady)
        if most is not None and branch.fewest_items > most:
            return NOTHING
        counts = branch.extra.counts
        if any(self._impossible(branch, count, steady, most) for count in counts):
            return NOTHING
        if any(self._contradict(one, other) for one, other in itertools.permutations(counts, 2)):
            return NOTHING
        if branch.extra.repeats:
            return self._repeating(branch, steady, most)
        chosen: dict[int, tuple[Place, ...]] = {}
        for count in branch.extra.counts:
            self._choose(branch, count, chosen, most)
        length = max([branch.fewest_items, *(index + 1 for index in chosen)])
        found = self._of_length(branch, length, chosen)
        if not found.sure and branch.extra.excluded and (most is None or length < most):
            return self._of_length(branch, length + 1, chosen)
        return found

    def _longest(self, branch: Facets, steady: int) -> int | None:
        """Return how many elements there can be at most; None is no end."""
        most = branch.most_items
        for index in range(steady + 1 if most is None else min(steady + 1, most)):
            if isinstance(self.node(element(branch, index)), Nothing):
                return index
        if branch.unique and steady == 0:
            branches = self.space.branches(element(branch, 0)) if element(branch, 0).places else ()
            if branches and all(one.values is not None for one in branches):
                different = {canonical(value) for one in branches for value in one.values or ()}
                most = len(different) if most is None else min(most, len(different))
        return most

    def _impossible(self, branch: Facets, count: Count, steady: int, most: int | None) -> bool:
        """Whether no array can have as many, or as few, elements of a node as asked for."""
        last = max(steady, count.start)
        fitting = sum(
            not isinstance(self.node(element(branch, index).also(*count.node.places)), Nothing)
            for index in range(count.start, last)
        )
        endless = not isinstance(self.node(element(branch, last).also(*count.node.places)), Nothing)
        if count.fewest and not endless and fitting < count.fewest:
            return True
        if most is not None and count.fewest > max(0, most - count.start):
            return True
        if count.most is None:
            return False
        forced = 0
        for index in range(count.start, max(count.start, branch.fewest_items)):
            spot = element(branch, min(index, last)).also(complement(count.node))
            if isinstance(self.node(spot), Nothing):
                forced += 1 if index < last else branch.fewest_items - index
            if index >= last:
                break
        return forced > count.most

    def _contradict(self, one: Count, other: Count) -> bool:
        """Whether one asks for more elements of a node than another allows of a node around it."""
        if other.most is None or one.fewest <= other.most or other.start > one.start:
            return False
        return isinstance(self.node(one.node.also(complement(other.node))), Nothing)

    def _choose(
        self, branch: Facets, count: Count, chosen: dict[int, tuple[Place, ...]], most: int | None
    ) -> None:
        """Pick the places at which elements of a node shall stand."""
        wanted = count.fewest
        spots = itertools.count(count.start) if most is None else range(count.start, most)
        for index in spots:
            if wanted == 0 or index > count.start + _MOST_ELEMENTS:
                return
            asked = (*chosen.get(index, ()), *count.node.places)
            if isinstance(self.node(element(branch, index).also(*asked)), Found):
                wanted -= 1
                chosen[index] = asked

    def _of_length(self, branch: Facets, length: int, chosen: dict[int, tuple[Place, ...]]) -> Found:
        if length > _MOST_ELEMENTS:
            return UNKNOWN
        elements: list[Any] = []
        limits = [count for count in branch.extra.counts if count.most is not None]
        for index in range(length):
            node = element(branch, index).also(*chosen.get(index, ()))
            found = self._apart(node, limits, elements if branch.unique else [])
            if not isinstance(found, Found):
                return UNKNOWN
            elements.append(_own(found.instance))
        return self._tried(branch, [elements])

    def _apart(self, node: Node, limits: list[Count], taken: list[Any]) -> Outcome:
        """Return an instance that no limit counts, and none of those taken, where that can be."""
        wishes = [complement(count.node) for count in limits]
        if taken:
            wishes.append(complement(Node((one_of_values(taken),))))
        found = self.node(node.also(*wishes)) if wishes else self.node(node)
        if isinstance(found, Found) and found.sure:
            return found
        return self.node(node.also(*wishes[len(limits) :])) if wishes else found

    def _repeating(self, branch: Facets, steady: int, most: int | None) -> Outcome:
        """Return an array with one element twice."""
        ends = range(steady + 2 if most is None else min(steady + 2, most))
        unsure = False
        for first, second in itertools.combinations(ends, 2):
            found = self.node(element(branch, first).also(*element(branch, second).places))
            if isinstance(found, Nothing):
                continue
            unsure = True
            if found.sure:
                same = (one_of_values([found.instance]),)
                made = self._of_length(
                    branch, max(branch.fewest_items, second + 1), {first: same, second: same}
                )
                if made.sure:
                    return made
        return UNKNOWN if unsure else NOTHING

    # objects

    def _object(self, branch: Facets) -> Outcome:
        value: dict[str, Any] = {}
        for name in branch.required:
            found = self.node(member(branch, name))
            if isinstance(found, Nothing):
                return NOTHING
            value[name] = _own(found.instance)
        for some in branch.extra.some:
            outcome = self._some(branch, some, value)
            if outcome is NOTHING:
                return NOTHING
        if not self._filled(branch, value, branch.fewest_members):
            return NOTHING
        found = self._tried(branch, [value])
        if not found.sure and branch.extra.excluded and self._filled(branch, value, len(value) + 1):
            return self._tried(branch, [value])
        return found

    def _some(self, branch: Facets, some: SomeMember, value: dict[str, Any]) -> Outcome:
        """Put a member of a class into an object; nothing when there is none that could be."""
        for name, child in value.items():
            if in_class(some, name) and node_accepts(self.space, some.node, child) is True:
                return Found(child)
        unsure = False
        full = branch.most_members is not None and len(branch.required) >= branch.most_members
        for fresh in self._names(branch, some):
            if full and fresh not in branch.required:
                continue
            if fresh is None:
                unsure = True
                continue
            found = self.node(member(branch, fresh).also(*some.node.places))
            if isinstance(found, Nothing):
                continue
            unsure = True
            if found.sure:
                value[fresh] = _own(found.instance)
                return found
        return UNKNOWN if unsure else NOTHING

    def _names(self, branch: Facets, some: SomeMember) -> Iterator[str | None]:
        """Yield a name for each kind that a branch tells apart in a class; None where one is not known."""
        known = named(branch)
        yield from (name for name in sorted(known) if in_class(some, name))
        patterns = {pattern for members in branch.members for pattern, _ in members.patterns}
        patterns -= {*some.like, *some.unlike}
        if len(patterns) > _MOST_PATTERNS:
            yield None
            return
        excluded = frozenset(known | some.but)
        for count in range(len(patterns) + 1):
            for like in itertools.combinations(sorted(patterns), count):
                yield from self._fresh(
                    frozenset({*some.like, *like}),
                    frozenset({*some.unlike, *patterns.difference(like)}),
                    excluded,
                )

    def _fresh(
        self, like: frozenset[str], unlike: frozenset[str], excluded: frozenset[str]
    ) -> Iterator[str | None]:
        if not like:
            some = SomeMember(Node(()), (), tuple(unlike), excluded)
            plain = [name for name in ("other", "other1", "1", "Other") if in_class(some, name)]
            if plain:
                yield plain[0]
                return
        self.space.budget.spend(20)
        try:
            found = find_string(like, unlike, excluded)
        except Unsure:
            yield None
            return
        if found is not None:
            yield found

    def _filled(self, branch: Facets, value: dict[str, Any], fewest: int) -> bool:
        """Add members until there are enough; no when there cannot be."""
        unsure = False
        while len(value) < fewest:
            if len(value) > _MOST_ELEMENTS:
                return True
            free = SomeMember(Node(()), but=frozenset(value))
            for fresh in self._names(branch, free):
                if fresh is None:
                    unsure = True
                    continue
                found = self.node(member(branch, fresh))
                if isinstance(found, Found):
                    value[fresh] = _own(found.instance)
                    break
            else:
                return unsure
        return True


def _own(value: Any) -> Any:
    """Return a value that no schema holds."""
    return copy.deepcopy(value) if isinstance(value, dict | list) else value
