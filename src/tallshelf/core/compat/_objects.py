"""An object of a branch, or a proof that there is none."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import Any

from tallshelf.core.compat._accepts import in_class, node_accepts
from tallshelf.core.compat._form import Facets, Node, SomeMember, member, named
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
from tallshelf.core.compat._regular import Unsure, find_string
from tallshelf.core.compat._sizes import MORE, MOST_ELEMENTS

_MOST_PATTERNS = 4


def object_instance(solver: Solver, branch: Facets) -> Outcome:
    """Return an object of a branch."""
    value: dict[str, Any] = {}
    heavy = 0
    for name in branch.required:
        found = solver.node(member(branch, name))
        if isinstance(found, Nothing):
            return NOTHING
        heavy += weight(found.instance)
        if heavy > MOST_VALUES:
            return UNKNOWN
        value[name] = own(found.instance)
    for some in branch.extra.some:
        outcome = _some(solver, branch, some, value)
        if outcome is NOTHING:
            return NOTHING
    if not _filled(solver, branch, value, branch.fewest_members):
        return NOTHING
    found = solver.tried(branch, [value])
    if not found.sure and branch.extra.excluded and _filled(solver, branch, value, len(value) + 1):
        return solver.tried(branch, [value])
    return found


def _some(solver: Solver, branch: Facets, some: SomeMember, value: dict[str, Any]) -> Outcome:
    """Put a member of a class into an object; nothing when there is none that could be."""
    for name, child in value.items():
        if in_class(some, name) and node_accepts(solver.space, some.node, child) is True:
            return Found(child)
    unsure = False
    full = branch.most_members is not None and len(branch.required) >= branch.most_members
    for fresh in _names(solver, branch, some):
        if full and fresh not in branch.required:
            continue
        if fresh is None:
            unsure = True
            continue
        outcome = solver.node(member(branch, fresh).also(*some.node.places))
        if isinstance(outcome, Nothing):
            continue
        unsure = True
        if outcome.sure:
            value[fresh] = own(outcome.instance)
            return outcome
    return UNKNOWN if unsure else NOTHING


def _names(solver: Solver, branch: Facets, some: SomeMember) -> Iterator[str | None]:
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
            yield from _fresh(
                solver,
                frozenset({*some.like, *like}),
                frozenset({*some.unlike, *patterns.difference(like)}),
                excluded,
            )


def _fresh(
    solver: Solver, like: frozenset[str], unlike: frozenset[str], excluded: frozenset[str]
) -> Iterator[str | None]:
    if not like:
        some = SomeMember(Node(()), (), tuple(unlike), excluded)
        plain = [name for name in ("other", "other1", "1", "Other") if in_class(some, name)]
        if plain:
            yield plain[0]
            return
    solver.space.budget.spend(20)
    try:
        found = find_string(like, unlike, excluded)
    except Unsure:
        yield None
        return
    if found is not None:
        yield found


def _filled(solver: Solver, branch: Facets, value: dict[str, Any], fewest: int) -> bool:
    """Add members until there are enough; no when there cannot be."""
    unsure = False
    while len(value) < min(fewest, MOST_ELEMENTS + MORE):
        free = SomeMember(Node(()), but=frozenset(value))
        for fresh in _names(solver, branch, free):
            if fresh is None:
                unsure = True
                continue
            node = member(branch, fresh)
            outcome = solver.node(node)
            if isinstance(outcome, Found):
                value[fresh] = own(outcome.instance)
                if weight(outcome.instance) * (fewest - len(value)) > MOST_VALUES:
                    return True  # too heavy to make; what there is so far proves nothing
                solver.space.budget.spend((fewest - len(value)) // 4)
                _alike(branch, value, fresh, node, fewest)
                break
        else:
            return unsure
    return True


def _alike(branch: Facets, value: dict[str, Any], name: str, node: Node, fewest: int) -> None:
    """Add members of names like one, as far as the same is asked of them, until there are enough."""
    for count in itertools.count(1):
        other = f"{name}{count}"
        if len(value) >= min(fewest, MOST_ELEMENTS + MORE) or member(branch, other).key != node.key:
            return
        value.setdefault(other, value[name])
