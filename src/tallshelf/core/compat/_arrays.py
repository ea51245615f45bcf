"""An array of a branch, or a proof that there is none."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import Any

from tallshelf.core.compat._accepts import node_accepts
from tallshelf.core.compat._form import Count, Facets, Node, Place, complement, element, prefix_length
from tallshelf.core.compat._outcome import (
    MOST_VALUES,
    NOTHING,
    UNKNOWN,
    Found,
    Nothing,
    Outcome,
    Solver,
    own,
    weight,
)
from tallshelf.core.compat._sizes import MORE, MOST_ELEMENTS
from tallshelf.core.compat._space import one_of_values
from tallshelf.core.snapshot import canonical

_ONE_BY_ONE = 100


def array_instance(solver: Solver, branch: Facets) -> Outcome:
    """Return an array of a branch."""
    steady = prefix_length(branch)
    most = _longest(solver, branch, steady)
    if most is not None and branch.fewest_items > most:
        return NOTHING
    counts = branch.extra.counts
    if any(_impossible(solver, branch, count, steady, most) for count in counts):
        return NOTHING
    if any(_contradict(solver, one, other) for one, other in itertools.permutations(counts, 2)):
        return NOTHING
    if branch.extra.repeats:
        return _repeating(solver, branch, steady, most)
    chosen: dict[int, tuple[Place, ...]] = {}
    for count in branch.extra.counts:
        _choose(solver, branch, count, chosen, most)
    length = max([branch.fewest_items, *(index + 1 for index in chosen)])
    outcome = _of_length(solver, branch, length, chosen)
    if not outcome.sure and branch.extra.excluded and (most is None or length < most):
        return _of_length(solver, branch, length + 1, chosen)
    return outcome


def _longest(solver: Solver, branch: Facets, steady: int) -> int | None:
    """Return how many elements there can be at most; None is no end."""
    most = branch.most_items
    for index in range(steady + 1 if most is None else min(steady + 1, most)):
        if isinstance(solver.node(element(branch, index)), Nothing):
            return index
    if branch.unique and steady == 0:
        branches = solver.space.branches(element(branch, 0)) if element(branch, 0).places else ()
        if branches and all(facets.values is not None for facets in branches):
            different = {canonical(value) for facets in branches for value in facets.values or ()}
            most = len(different) if most is None else min(most, len(different))
    return most


def _impossible(solver: Solver, branch: Facets, count: Count, steady: int, most: int | None) -> bool:
    """Whether no array can have as many, or as few, elements of a node as asked for."""
    last = max(steady, count.start)
    fitting = sum(
        not isinstance(solver.node(element(branch, index).also(*count.node.places)), Nothing)
        for index in range(count.start, last)
    )
    endless = not isinstance(solver.node(element(branch, last).also(*count.node.places)), Nothing)
    if count.fewest and not endless and fitting < count.fewest:
        return True
    if most is not None and count.fewest > max(0, most - count.start):
        return True
    if count.most is None:
        return False
    forced = 0
    for index in range(count.start, max(count.start, branch.fewest_items)):
        spot = element(branch, min(index, last)).also(complement(count.node))
        if isinstance(solver.node(spot), Nothing):
            forced += 1 if index < last else branch.fewest_items - index
        if index >= last:
            break
    return forced > count.most


def _contradict(solver: Solver, count: Count, other: Count) -> bool:
    """Whether one asks for more elements of a node than another allows of a node around it."""
    if other.most is None or count.fewest <= other.most or other.start > count.start:
        return False
    return isinstance(solver.node(count.node.also(complement(other.node))), Nothing)


def _choose(
    solver: Solver, branch: Facets, count: Count, chosen: dict[int, tuple[Place, ...]], most: int | None
) -> None:
    """Pick the places at which elements of a node shall stand."""
    wanted = count.fewest
    spots = itertools.count(count.start) if most is None else range(count.start, most)
    for index in spots:
        if wanted == 0 or index > count.start + _ONE_BY_ONE:
            return
        asked = (*chosen.get(index, ()), *count.node.places)
        if isinstance(solver.node(element(branch, index).also(*asked)), Found):
            wanted -= 1
            chosen[index] = asked


def _of_length(solver: Solver, branch: Facets, length: int, chosen: dict[int, tuple[Place, ...]]) -> Found:
    if length > MOST_ELEMENTS + MORE:
        return UNKNOWN
    elements: list[Any] = []
    heavy = 0
    limits = [count for count in branch.extra.counts if count.most is not None]
    alike = max([prefix_length(branch), *(index + 1 for index in chosen)])
    for index in range(length):
        if index > alike and not limits:
            break
        node = element(branch, index).also(*chosen.get(index, ()))
        outcome = _apart(solver, node, limits, elements if branch.unique else [])
        heavy += weight(outcome.instance) if isinstance(outcome, Found) else MOST_VALUES
        if not isinstance(outcome, Found) or heavy >= MOST_VALUES:
            return UNKNOWN
        elements.append(own(outcome.instance))
    if len(elements) < length and heavy + weight(elements[-1]) * (length - len(elements)) > MOST_VALUES:
        return UNKNOWN
    if len(elements) < length and branch.unique:
        elements += _different(solver, branch, elements, length - len(elements))
    for index in range(len(elements), length if branch.unique else len(elements)):
        outcome = _apart(solver, element(branch, index), limits, elements)
        if not isinstance(outcome, Found) or index > _ONE_BY_ONE:
            return UNKNOWN
        elements.append(own(outcome.instance))
    elements += elements[-1:] * (length - len(elements))
    return solver.tried(branch, [elements])


def _different(solver: Solver, branch: Facets, taken: list[Any], number: int) -> list[Any]:
    """Return elements like the last one, none of them taken or twice; fewer where that is not enough."""
    node, known = element(branch, len(taken)), {canonical(one) for one in taken}
    found: list[Any] = []
    with solver.space.budget.paid(1 + number // 2):
        for one in itertools.islice(variants(taken[-1]), 4 * number):
            text = canonical(one)
            if text not in known and node_accepts(solver.space, node, one) is True:
                known.add(text)
                found.append(one)
                if len(found) == number:
                    break
    return found


def variants(value: Any) -> Iterator[Any]:
    """Yield values of the shape of one: numbers further on, texts with a number, the same inside of others."""
    for count in itertools.count(1):
        if isinstance(value, bool) or value is None:
            return
        if isinstance(value, int | float):
            yield value + count
        elif isinstance(value, str):
            text = str(count)
            yield value + text
            yield value[: max(0, len(value) - len(text))] + text
        elif isinstance(value, list):
            yield [*value, count]
        else:
            inner = [name for name, child in value.items() if not isinstance(child, bool | None)]
            for name in inner:
                yield {**value, name: next(itertools.islice(variants(value[name]), count - 1, None), None)}
            if not inner:
                yield {**value, f"other{count}": count}


def _apart(solver: Solver, node: Node, limits: list[Count], taken: list[Any]) -> Outcome:
    """Return an instance that no limit counts, and none of those taken, where that can be."""
    wishes = [complement(count.node) for count in limits]
    if taken:
        wishes.append(complement(Node((one_of_values(taken),))))
    outcome = solver.node(node.also(*wishes)) if wishes else solver.node(node)
    if isinstance(outcome, Found) and outcome.sure:
        return outcome
    return solver.node(node.also(*wishes[len(limits) :])) if wishes else outcome


def _repeating(solver: Solver, branch: Facets, steady: int, most: int | None) -> Outcome:
    """Return an array with one element twice."""
    ends = range(steady + 2 if most is None else min(steady + 2, most))
    unsure = False
    for first, second in itertools.combinations(ends, 2):
        outcome = solver.node(element(branch, first).also(*element(branch, second).places))
        if isinstance(outcome, Nothing):
            continue
        unsure = True
        if outcome.sure:
            same = (one_of_values([outcome.instance]),)
            made = _of_length(
                solver, branch, max(branch.fewest_items, second + 1), {first: same, second: same}
            )
            if made.sure:
                return made
    return UNKNOWN if unsure else NOTHING
