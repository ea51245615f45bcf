"""Containment of two schemas in normal form: a walk that collects the gaps.

A gap is a place where it could not be shown that all that side A accepts is accepted by
side B. It carries instances of the whole schema that may prove it; they are guesses until
a validator confirms them. No gap at all is the proof. Recursion is by assuming the pair
that is already under comparison (coinduction).
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from msgspec.structs import replace

from tallshelf.core.compat._accepts import accepts, any_of, node_accepts
from tallshelf.core.compat._budget import Exhausted, TooMany
from tallshelf.core.compat._form import (
    ANYWAY,
    Elements,
    Facets,
    Node,
    Values,
    complement,
    declared,
    element,
    meet,
    member,
    named,
    prefix_length,
    speaks,
)
from tallshelf.core.compat._gap import Dropped, Gap, at, type_name
from tallshelf.core.compat._intervals import NEAR, ends, is_interval
from tallshelf.core.compat._normal import Document
from tallshelf.core.compat._outcome import Found, Nothing, Outcome, cost
from tallshelf.core.compat._solve import Solver
from tallshelf.core.compat._space import one_of_values, same_text
from tallshelf.core.compat._subtract import (
    Piece,
    extra_outside,
    other_members_outside,
    plainly_outside,
    with_member,
)
from tallshelf.core.pointer import names_of

_MOST_GAPS = 1_000
_MOST_CANDIDATES = 6
_MOST_VALUES = 20
"""Of more values that are refused at one place, one gap tells together."""


class Impossible(Exception):
    """No instance could be made."""


class Walk:
    """One containment question, A inside B; ``proving`` where its gaps are to be shown by instances."""

    def __init__(self, a: Document, b: Document, solver: Solver, *, proving: bool = True) -> None:
        self.a = a
        self.b = b
        self.proving = proving
        self.solver = solver
        self.space = solver.space
        self.dropped: list[Dropped] = []
        self.gained: list[Dropped] = []
        self.untold = 0
        self.cut = False
        self.emptied = False
        """Whether it came by an object of A of which closing left nothing."""
        self._assumed: set[tuple[str, str]] = set()
        self._instances: dict[int, tuple[Facets, Outcome]] = {}

    def gaps(self) -> list[Gap]:
        """Return the gaps of A against B, at most 1,000; how many more there are is in ``untold``.

        Where the bound on steps is met they are those found before, and ``cut`` is true.
        """
        told: list[Gap] = []
        try:
            for gap in self._node(self.a.root, self.b.root, ()):
                if len(told) < _MOST_GAPS:
                    self.space.budget.spend(sum(map(cost, gap.candidates)))
                    told.append(gap)
                else:
                    self.proving = False
                    self.untold += 1
        except (Exhausted, RecursionError):
            self.cut = True
        return told

    def _node(self, a: Node, b: Node, path: tuple[str, ...]) -> Iterator[Gap]:
        if not b.places or self._same_text(a, b):
            return
        pair = (a.key, b.key)
        if pair in self._assumed:
            return
        self._assumed.add(pair)
        try:
            branches, _ = self.space.branches(a), self.space.branches(b)
        except TooMany:
            yield Gap("anyOf", path, a.pointer, b.pointer, ())
            return
        self.emptied |= any(place.pointer in self.a.emptied for place in a.places)
        for branch in branches:
            self.space.budget.spend()
            yield from self._branch(branch, b, path)

    def _same_text(self, a: Node, b: Node) -> bool:
        if len(a.places) != 1 or len(b.places) != 1 or a.places[0].without or b.places[0].without:
            return False
        return same_text(a.places[0], self.a, b.places[0], self.b)

    def _branch(self, a: Facets, b_node: Node, path: tuple[str, ...]) -> Iterator[Gap]:
        branches = self.space.branches(b_node)
        same = [branch for branch in branches if branch.types == a.types]
        if not same:
            yield from self._type_gap(a, b_node, branches, path)
        elif a.values is not None:
            yield from self._finite(a, same, path)
        elif len(same) == 1:
            yield from self._pair(a, same[0], path)
        else:
            yield from self._union(a, b_node, same, path)

    def _type_gap(
        self, a: Facets, b_node: Node, branches: tuple[Facets, ...], path: tuple[str, ...]
    ) -> Iterator[Gap]:
        outcome = self.solver.branch(a)
        if isinstance(outcome, Nothing):
            return
        shut = not branches and any(place.schema is False for place in b_node.places)
        yield Gap(
            "additionalProperties" if shut else "type",
            path,
            at(a, "type"),
            b_node.pointer,
            (outcome.instance,),
            a_value=type_name(a),
            b_value=sorted(set(map(type_name, branches))),
        )

    def _finite(self, a: Facets, same: list[Facets], path: tuple[str, ...]) -> Iterator[Gap]:
        # What A's own branch asks as a whole, its values fulfil on B's side as well.
        known = a.extra.opaque
        fitting = [
            replace(
                facets,
                extra=replace(
                    facets.extra,
                    opaque=frozenset(o for o in facets.extra.opaque if not any(k.within(o) for k in known)),
                ),
            )
            if known
            else facets
            for facets in same
        ]
        answers = [
            (value, any_of(accepts(self.space, facets, value) for facets in fitting))
            for value in a.values or ()
        ]
        refused = [value for value, answer in answers if answer is False]
        unsure = [value for value, answer in answers if answer is None]
        if refused and is_interval(a) and all(map(is_interval, same)):
            yield from ends(a, same, refused, path)
            return
        where = at(a, "enum", "const"), at(same[0], "enum", "const")
        if len(refused) > _MOST_VALUES:
            yield Gap(
                "enum", path, *where, tuple(refused[:_MOST_CANDIDATES]), Values(refused), same[0].values
            )
            return
        for value in refused:
            yield Gap("enum", path, *where, (value,), a_value=value, b_value=same[0].values)
        if unsure and not refused:
            keyword = next((opaque.keyword for opaque in same[0].extra.opaque), "enum")
            yield Gap(keyword, path, *where, tuple(unsure[:_MOST_CANDIDATES]))

    def _union(self, a: Facets, b_node: Node, same: list[Facets], path: tuple[str, ...]) -> Iterator[Gap]:
        """A branch is inside a union when one member holds all of it, or all together do.

        Where they do not, the nearest member tells what it is that stands against it: of those that share
        something with it (the same tag), if there are any, the one with the fewest gaps.
        """
        nearest: list[Gap] = []
        asked: list[str] | None = []
        proving, self.proving = self.proving, True  # which member is nearest is told by instances
        for branch in [facets for facets in same if not self.space.apart(a, facets)] or same:
            before = set(self._assumed)
            gaps = list(itertools.islice(self._pair(a, branch, path), _MOST_GAPS))
            if not gaps:
                self.proving = proving
                return
            self._assumed = before
            only = [
                gap.path[-1] for gap in gaps if gap.keyword == "required" and len(gap.path) == len(path) + 1
            ]
            asked = [*asked, *only[:1]] if asked is not None and len(only) == len(gaps) == 1 else None
            if not nearest or len(gaps) < len(nearest):
                nearest = gaps
        self.proving = proving
        outcome = self.solver.outside([a], same)
        if isinstance(outcome, Nothing):
            return
        asking = next((name for name in _ASKING if any(name in facets.pointers for facets in same)), None)
        if asking and all(gap.keyword in ("required", "additionalProperties") for gap in nearest):
            where = next(facets.pointers[asking] for facets in same if asking in facets.pointers)
            yield Gap(asking, path, at(a), where, (outcome.instance,), a_value=names_of(where)[-1])
            return
        if asked and len(set(asked)) > 1:
            yield Gap("anyOf", path, at(a), b_node.pointer, (outcome.instance,), a_value=sorted(set(asked)))
            return
        telling = [gap for gap in nearest if len(gap.path) > len(path) or gap.keyword == "enum"]
        shown = []
        for gap in telling:
            candidates = tuple(
                candidate for candidate in gap.candidates if self._outside(a, b_node, candidate)
            )
            if candidates:
                shown.append(replace(gap, candidates=candidates))
        if shown:
            yield from shown
            return
        yield Gap(asking or "anyOf", path, at(a), b_node.pointer, (outcome.instance,))

    def _outside(self, a: Facets, b_node: Node, value: Any) -> bool:
        return accepts(self.space, a, value) is True and node_accepts(self.space, b_node, value) is False

    def _pair(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        (name,) = a.types
        if b.values is not None:
            yield from self._outside_values(a, b, path)
            return
        for piece in extra_outside(a, b):
            yield from self._leaf(piece, a, b, path)
        for piece in plainly_outside(a, b):
            if piece.keyword == "required":
                yield from self._required(piece, a, b, path)
            else:
                yield from self._leaf(piece, a, b, path)
        if name == "array":
            yield from self._elements(a, b, path)
        elif name == "object":
            yield from self._members(a, b, path)

    def _leaf(self, piece: Piece, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        """Yield a gap for a piece of A outside B, unless nothing is in it."""
        outcome = self._piece(piece)
        if isinstance(outcome, Nothing):
            return
        a_at, b_at = at(a, *NEAR.get(piece.keyword, (piece.keyword,))), at(b, piece.keyword)
        yield Gap(piece.keyword, path, a_at, b_at, (outcome.instance,), piece.a_value, piece.b_value)

    def _piece(self, piece: Piece) -> Found | Nothing:
        return self.solver.union(self.space.settled([piece.facets]))

    def _outside_values(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        """Yield a gap for what A takes beyond the values that are all B takes."""
        taken = [value for value in b.values or () if isinstance(value, str)]
        numbers = [value for value in b.values or () if isinstance(value, int | float)]
        near = [f"{value}{more}" for value in taken[:2] for more in ("x", value[-1:])]
        near += [max(numbers) + 1, min(numbers) - 1] if numbers else []  # type: ignore[list-item]
        hinted = replace(a, hints=(*a.hints, *near))
        places = Node((complement(Node((one_of_values(b.values or ()),))),))
        outcome = self.solver.union(
            facets
            for branch in self.space.branches(places)
            if branch.types == a.types
            for facets in self.space.settled([meet(hinted, branch)])
        )
        if isinstance(outcome, Nothing):
            return
        if is_interval(b) and isinstance(outcome.instance, int | float):
            yield from ends(a, [b], [outcome.instance], path)
            return
        yield Gap("enum", path, at(a), at(b, "enum", "const"), (outcome.instance,), b_value=b.values)

    # arrays

    def _elements(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        steady = max(prefix_length(a), prefix_length(b))
        reach = steady + 1 if a.most_items is None else min(steady + 1, a.most_items)
        for index in range(reach):
            found = self._node(element(a, index), element(b, index), (*path, "[]"))
            yield from self._lifted(found, partial(self._with_element, a, index))

    def _with_element(self, a: Facets, index: int, value: Any) -> Any:
        only = one_of_values([value])
        anything = (ANYWAY,) * index
        asked = Facets(fewest_items=index + 1, elements=(Elements((*anything, only), None),))
        return self._instance(meet(a, asked))

    def _instance(self, branch: Facets) -> Any:
        outcome = self.solver.union(self.space.settled([branch]))
        if isinstance(outcome, Nothing):
            raise Impossible
        return outcome.instance

    # objects

    def _required(self, piece: Piece, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        outcome = self._piece(piece)
        if isinstance(outcome, Nothing):
            return
        a_names, b_names, name = declared(a), declared(b), piece.name
        yield Gap(
            "required",
            (*path, name),
            a_names.get(name),
            b_names.get(name, at(b, "required")),
            (outcome.instance,),
            a_value=name in a_names,
        )

    def _members(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        a_names, b_names = declared(a), declared(b)
        for name in sorted(named(a) | named(b)):
            if name in b_names and name not in a_names and self.a.closed:
                self.dropped.append(Dropped((*path, name), b_names[name]))
            elif name in a_names and name not in b_names and self.a.closed:
                self.gained.append(Dropped((*path, name), a_names[name]))
            of_a, of_b = member(a, name), member(b, name)
            if self._same_text(of_a, of_b):
                continue
            found = self._node(of_a, of_b, (*path, name))
            for gap in self._lifted(found, partial(self._with_member, a, name)):
                yield self._named(gap, (*path, name), a_names.get(name), b_names.get(name))
        if any(members.patterns for members in (*a.members, *b.members)):
            yield from self._by_pattern(a, b, path)
            return
        other = self._fresh(named(a) | named(b))
        found = self._node(_rest(a), _rest(b), (*path, "*"))
        offered = any(speaks(members.rest) for members in a.members)
        for gap in self._lifted(found, partial(self._with_member, a, other)):
            undeclared = gap.path == (*path, "*") and not offered
            yield replace(gap, keyword="undeclared-member" if undeclared else gap.keyword)

    def _by_pattern(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        """Members that no schema names, where patterns tell them apart."""
        for members in b.members:
            for piece in other_members_outside(a, members):
                for gap in self._leaf(piece, a, b, path):
                    rest = piece.keyword == "additionalProperties"
                    yield replace(gap, keyword="undeclared-member", path=(*path, "*")) if rest else gap

    def _named(self, gap: Gap, path: tuple[str, ...], a_at: str | None, b_at: str | None) -> Gap:
        """Say which side declares the member, where the gap is at the member itself."""
        if gap.path != path:
            return gap
        if a_at is None and b_at is not None:
            return replace(gap, keyword="undeclared-member", b_pointer=b_at)
        return replace(gap, a_pointer=gap.a_pointer or a_at, b_pointer=gap.b_pointer or b_at)

    def _with_member(self, a: Facets, name: str, value: Any) -> Any:
        if name not in a.required:
            around = self._around(a)
            if isinstance(around, Found) and isinstance(around.instance, dict):
                made = {**around.instance, name: value}
                if accepts(self.space, a, made) is True:
                    return made
        only = one_of_values([value])
        return self._instance(with_member(a, name, only))

    def _around(self, a: Facets) -> Outcome:
        """Return an instance of a branch, found once for all its members."""
        kept = self._instances.get(id(a))
        if kept is None:
            kept = self._instances[id(a)] = a, self.solver.branch(a)
        return kept[1]

    def _fresh(self, names: set[str]) -> str:
        return next(
            name
            for name in map("other{}".format, itertools.chain([""], itertools.count(1)))
            if name not in names
        )

    def _lifted(self, gaps: Iterator[Gap], lift: Callable[[Any], Any]) -> Iterator[Gap]:
        """Put each gap's candidates into an instance of the schema around it."""
        if not self.proving:
            yield from gaps
            return
        for gap in gaps:
            candidates: list[Any] = []
            for candidate in gap.candidates[:_MOST_CANDIDATES]:
                try:
                    candidates.append(lift(candidate))
                except Impossible:
                    break
            yield replace(gap, candidates=tuple(candidates))


def _rest(branch: Facets) -> Node:
    return Node(tuple(members.rest for members in branch.members if members.rest is not None))


_ASKING = ("dependentRequired", "dependentSchemas", "dependencies")
