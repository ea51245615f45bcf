"""The normal form: a schema as a union of branches, each a conjunction of facets of one type."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from fractions import Fraction
from typing import Any, Protocol

from tallshelf.core.snapshot import canonical

TYPES = ("null", "boolean", "number", "string", "array", "object")
ALL_TYPES = frozenset(TYPES)
_ONE_TYPE = {name: frozenset({name}) for name in TYPES}


@dataclass(frozen=True, eq=False)
class Place:
    """One schema inside a document, named by its pointer."""

    schema: Any
    pointer: str


@dataclass(frozen=True, eq=False)
class Node:
    """Schemas that must all hold at one place of an instance; none means anything goes."""

    places: tuple[Place, ...]

    @property
    def key(self) -> tuple[str, ...]:
        return tuple(sorted({place.pointer for place in self.places}))

    @property
    def pointer(self) -> str | None:
        return self.places[0].pointer if self.places and self.places[0] is not NEVER else None


NEVER = Place(False, "!never")


@dataclass(frozen=True)
class Bound:
    """An end of an interval of numbers."""

    value: Fraction
    exclusive: bool


@dataclass(frozen=True, eq=False)
class Members:
    """What one schema object says about an object's members; ``rest`` None says nothing."""

    properties: Mapping[str, Place]
    rest: Place | None
    declares: bool


@dataclass(frozen=True, eq=False)
class Elements:
    """What one schema object says about an array's elements; ``rest`` None says nothing."""

    prefix: tuple[Place, ...]
    rest: Place | None


@dataclass(frozen=True)
class Opaque:
    """A constraint that is not taken apart: equal texts mean equal constraints."""

    keyword: str
    text: bytes
    pointer: str


@dataclass(frozen=True, eq=False)
class Facets:
    """A conjunction of constraints; those of other types than an instance's say nothing."""

    types: frozenset[str] = ALL_TYPES
    values: tuple[Any, ...] | None = None
    low: Bound | None = None
    high: Bound | None = None
    multiples: frozenset[Fraction] = frozenset()
    shortest: int = 0
    longest: int | None = None
    patterns: frozenset[str] = frozenset()
    fewest_items: int = 0
    most_items: int | None = None
    unique: bool = False
    elements: tuple[Elements, ...] = ()
    fewest_members: int = 0
    most_members: int | None = None
    members: tuple[Members, ...] = ()
    required: Mapping[str, str] = field(default_factory=dict)
    opaque: frozenset[Opaque] = frozenset()
    pointers: Mapping[str, str] = field(default_factory=dict)
    hints: tuple[Any, ...] = ()
    format: str = ""


ANYTHING = Facets()


class Budget:
    """A count of steps that ends the work, the same on every machine."""

    def __init__(self, steps: int) -> None:
        self._left = steps

    def spend(self, steps: int = 1) -> None:
        """Use up steps; raise `Exhausted` when there are none left."""
        self._left -= steps
        if self._left < 0:
            raise Exhausted


class Exhausted(Exception):
    """The comparison used up its steps."""


class Reader(Protocol):
    """What reads a document into branches, as far as judging a value needs it."""

    budget: Budget

    def branches(self, node: Node) -> tuple[Facets, ...]: ...
    def member(self, branch: Facets, name: str) -> Node: ...
    def element(self, branch: Facets, index: int) -> Node: ...


def meet(left: Facets, right: Facets) -> Facets:
    """Return the conjunction of two conjunctions."""
    return Facets(
        types=left.types & right.types,
        values=_common(left.values, right.values),
        low=_tighter(left.low, right.low, lower=True),
        high=_tighter(left.high, right.high, lower=False),
        multiples=left.multiples | right.multiples,
        shortest=max(left.shortest, right.shortest),
        longest=_least(left.longest, right.longest),
        patterns=left.patterns | right.patterns,
        fewest_items=max(left.fewest_items, right.fewest_items),
        most_items=_least(left.most_items, right.most_items),
        unique=left.unique or right.unique,
        elements=left.elements + right.elements,
        fewest_members=max(left.fewest_members, right.fewest_members),
        most_members=_least(left.most_members, right.most_members),
        members=left.members + right.members,
        required={**left.required, **right.required},
        opaque=left.opaque | right.opaque,
        pointers={**right.pointers, **left.pointers},
        hints=left.hints + right.hints,
        format=left.format or right.format,
    )


def of_type(facets: Facets, name: str) -> Facets:
    """Return the facets narrowed to one JSON type."""
    return altered(facets, types=_ONE_TYPE[name])


def altered(facets: Facets, **changes: Any) -> Facets:
    """Return facets with some changed; `dataclasses.replace` looks at every field, and this is hot."""
    made = object.__new__(Facets)
    made.__dict__.update(facets.__dict__, **changes)
    return made


def type_of(value: Any) -> str:
    """Return the JSON type of a value; an integer is a number."""
    if value is None:
        return "null"
    if isinstance(value, bool):
        return "boolean"
    if isinstance(value, int | float):
        return "number"
    if isinstance(value, str):
        return "string"
    return "array" if isinstance(value, list) else "object"


def exact(number: float) -> Fraction:
    """Return a JSON number as the decimal that its text says."""
    return Fraction(number) if isinstance(number, int) else Fraction(Decimal(repr(number)))


def distinct(values: list[Any]) -> tuple[Any, ...]:
    """Return values without repetitions, by JSON's equality, in order."""
    return tuple({canonical(value): value for value in values}.values())


def _common(left: tuple[Any, ...] | None, right: tuple[Any, ...] | None) -> tuple[Any, ...] | None:
    if left is None or right is None:
        return right if left is None else left
    kept = {canonical(value) for value in right}
    return tuple(value for value in left if canonical(value) in kept)


def _tighter(left: Bound | None, right: Bound | None, *, lower: bool) -> Bound | None:
    if left is None or right is None:
        return right if left is None else left
    if left.value == right.value:
        return left if left.exclusive else right
    return left if (left.value > right.value) == lower else right


def _least(left: int | None, right: int | None) -> int | None:
    if left is None or right is None:
        return right if left is None else left
    return min(left, right)
