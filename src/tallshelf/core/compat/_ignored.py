"""Arguments that the old schema declares and the new one takes without declaring them: accepted, and ignored.

A name is declared by ``properties``, by ``patternProperties``, or by an ``additionalProperties`` (or
``unevaluatedProperties``) that is a schema other than ``true`` or ``{}``. A map, which names no member at
all, stays a map whatever its values are.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from msgspec import Struct

from tallshelf.core.compat._accepts import accepts
from tallshelf.core.compat._dialect import DRAFT_2020
from tallshelf.core.compat._form import (
    ANYWAY,
    Facets,
    Node,
    element,
    meet,
    member,
    named,
    prefix_length,
    speaks,
    type_of,
)
from tallshelf.core.compat._normal import Document
from tallshelf.core.compat._outcome import Found, Nothing
from tallshelf.core.compat._regular import Unsure, find_string, matches
from tallshelf.core.compat._solve import Solver
from tallshelf.core.compat._space import same_text
from tallshelf.core.compat._subtract import with_member
from tallshelf.core.pointer import names_of, step_of

ELEMENT = "[]"
Way = tuple[str, ...]


class Ignored(Struct, frozen=True):
    """One argument that is no longer declared, and a call that both schemas may take in which it is given.

    ``path`` is for a sentence, ``way`` leads to the argument in ``instance`` (RFC 6901).
    """

    path: Way
    pointer: str
    way: str
    instance: Any


class _Offer(Struct, frozen=True):
    """A name that an old branch declares; ``step`` is how a sentence calls it."""

    name: str
    step: str
    pointer: str


class Hunt:
    """Looks for what calls of the old schema, read as declared, may give and the new one does not declare."""

    def __init__(self, old: Document, new: Document, solver: Solver) -> None:
        self._old = old
        self._new = new
        self._solver = solver
        self._space = solver.space
        self._seen: set[tuple[str, str]] = set()
        self._asked = 0

    def found(self) -> list[Ignored]:
        """Return the ignored arguments, one for each place of the old schema that declares one."""
        first: dict[str, Ignored] = {}
        for ignored in self._nodes(self._old.root, self._new.root, ()):
            if ignored.pointer not in first and not self._is_declared(
                self._new.root, ignored.instance, names_of(ignored.way)
            ):
                first[ignored.pointer] = ignored
        return list(first.values())

    def _nodes(self, old: Node, new: Node, path: Way) -> Iterator[Ignored]:
        pair = old.key, new.key
        if not old.places or pair in self._seen or self._says_the_same(old, new):
            return
        self._seen.add(pair)
        for was in self._space.branches(old):
            for now in self._space.branches(new):
                if (
                    was.types != now.types
                    or was.types not in (_OBJECT, _ARRAY)
                    or self._space.apart(was, now)
                ):
                    continue
                if was.types == _ARRAY:
                    yield from self._elements(was, now, path)
                else:
                    yield from self._members(was, now, new, path)

    def _says_the_same(self, old: Node, new: Node) -> bool:
        if len(old.places) != 1 or len(new.places) != 1 or old.places[0].without or new.places[0].without:
            return False
        return same_text(new.places[0], self._new, old.places[0], self._old.opened)

    def _elements(self, was: Facets, now: Facets, path: Way) -> Iterator[Ignored]:
        for index in range(max(prefix_length(was), prefix_length(now)) + 1):
            inner = self._nodes(element(was, index), element(now, index), (*path, ELEMENT))
            for ignored in inner:
                asked: dict[str, Any] = {"prefixItems": [True] * index + [{"const": ignored.instance}]}
                instance = self._asking(was, now, {**asked, "minItems": index + 1})
                if instance is not None:
                    yield Ignored(ignored.path, ignored.pointer, f"/{index}{ignored.way}", instance.instance)

    def _members(self, was: Facets, now: Facets, new: Node, path: Way) -> Iterator[Ignored]:
        for offer in self._offers(was, now):
            self._space.budget.spend()
            below = (*path, offer.step)
            if not declares(now, offer.name):
                instance = self._given(was, now, new, offer.name)
                if instance is not None:
                    yield Ignored(below, offer.pointer, f"/{step_of(offer.name)}", instance.instance)
                continue
            for ignored in self._nodes(member(was, offer.name), member(now, offer.name), below):
                asked = {"properties": {offer.name: {"const": ignored.instance}}, "required": [offer.name]}
                lifted = self._asking(was, now, asked)
                if lifted is not None:
                    way = f"/{step_of(offer.name)}{ignored.way}"
                    yield Ignored(ignored.path, ignored.pointer, way, lifted.instance)

    def _offers(self, was: Facets, now: Facets) -> Iterator[_Offer]:
        """Yield the names that a branch declares, one of each pattern and of the rest."""
        known = frozenset(named(was) | named(now))
        for members in was.members:
            if members.declares:
                for name, place in members.properties.items():
                    yield _Offer(name, name, place.pointer)
            for pattern, place in members.patterns:
                fresh = _like(pattern, known)
                if members.evaluates and fresh is not None:
                    yield _Offer(fresh, pattern, place.pointer)
            if speaks(members.rest) and members.rest is not None and not _is_map(now):
                patterns = frozenset(pattern for facets in (was, now) for pattern in _patterns(facets))
                fresh = _unlike(patterns, known)
                if fresh is not None:
                    yield _Offer(fresh, "*", members.rest.pointer)

    def _given(self, was: Facets, now: Facets, new: Node, name: str) -> Found | None:
        """Return a value of both branches with a member that no branch which takes the value declares."""
        both = with_member(meet(was, now), name, ANYWAY)
        others = [
            facets
            for facets in self._space.branches(new)
            if facets.types == _OBJECT and declares(facets, name)
        ]
        outcome = self._solver.outside(self._space.settled([both]), others)
        if isinstance(outcome, Nothing):
            return None
        return None if self._is_declared(new, outcome.instance, [name]) else outcome

    def _is_declared(self, node: Node, value: Any, way: Sequence[str]) -> bool:
        """Whether a branch that takes a value declares the member to which a way leads in it."""
        takes = (facets for facets in self._space.branches(node) if type_of(value) in facets.types)
        for branch in takes:
            if accepts(self._space, branch, value) is False:
                continue
            if len(way) == 1:
                if type_of(value) == "object" and declares(branch, way[0]):
                    return True
                continue
            inner = element(branch, int(way[0])) if isinstance(value, list) else member(branch, way[0])
            below = value[int(way[0])] if isinstance(value, list) else value[way[0]]
            if inner.places and self._is_declared(inner, below, way[1:]):
                return True
        return False

    def _asking(self, was: Facets, now: Facets, schema: dict[str, Any]) -> Found | None:
        """Return a value of both branches and of a schema as well."""
        self._asked += 1
        document = Document(schema, DRAFT_2020, self._space, f"asked {self._asked}")
        branches = self._space.met(self._space.settled([meet(was, now)]), self._space.branches(document.root))
        outcome = self._solver.union(branches)
        return None if isinstance(outcome, Nothing) else outcome


def declares(branch: Facets, name: str) -> bool:
    """Whether a branch declares a member of a name."""
    for members in branch.members:
        if members.declares and name in members.properties:
            return True
        if members.evaluates and any(matches(pattern, name) for pattern, _ in members.patterns):
            return True
        of_rest = name not in members.properties and not any(
            matches(one, name) for one, _ in members.patterns
        )
        if of_rest and speaks(members.rest):
            return True
    return False


def _is_map(branch: Facets) -> bool:
    return not any(members.declares and members.properties for members in branch.members)


def _patterns(branch: Facets) -> list[str]:
    return [pattern for members in branch.members for pattern, _ in members.patterns]


def _like(pattern: str, known: frozenset[str]) -> str | None:
    try:
        return find_string(frozenset({pattern}), frozenset(), known)
    except Unsure:
        return None


def _unlike(patterns: frozenset[str], known: frozenset[str]) -> str | None:
    plain = (name for name in ("other", "other1", "Other", "1") if name not in known)
    for name in plain:
        if not any(matches(pattern, name) for pattern in patterns):
            return name
    try:
        return find_string(frozenset(), patterns, known)
    except Unsure:
        return None


_OBJECT = frozenset({"object"})
_ARRAY = frozenset({"array"})
