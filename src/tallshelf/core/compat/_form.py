"""The normal form: a schema as a union of branches, each a conjunction of facets of one type."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from fractions import Fraction
from functools import cached_property
from typing import Any, Protocol

from msgspec import Struct, field
from msgspec.structs import astuple, replace

from tallshelf.core.compat._regular import matches
from tallshelf.core.snapshot import canonical

TYPES = ("null", "boolean", "number", "string", "array", "object")
ALL_TYPES = frozenset(TYPES)
_EXTRA_OF: dict[str, tuple[str, ...]] = {
    "null": (),
    "boolean": (),
    "number": ("not_multiples",),
    "string": ("not_patterns",),
    "array": ("repeats", "counts"),
    "object": ("some",),
}
_ONE_TYPE = {name: frozenset({name}) for name in TYPES}


class Place:
    """One schema inside a document, or the complement of a node (``without``)."""

    __slots__ = ("home", "key", "pointer", "schema", "without")

    def __init__(
        self, schema: Any, pointer: str, home: Home | None = None, without: Node | None = None
    ) -> None:
        self.schema = schema
        self.pointer = pointer
        self.home = home
        self.without = without
        self.key = f"not({without.key})" if without else f"{home.tag if home else ''}{pointer}"


class Node:
    """Places that must all hold at one spot of an instance; none means anything goes."""

    __slots__ = ("_key", "places")

    def __init__(self, places: tuple[Place, ...]) -> None:
        self.places = places
        self._key: str | None = None

    @property
    def key(self) -> str:
        """The same for nodes that say the same places."""
        if self._key is None:
            places = self.places
            self._key = (
                places[0].key if len(places) == 1 else " & ".join(sorted({place.key for place in places}))
            )
        return self._key

    @property
    def pointer(self) -> str | None:
        return next((place.pointer for place in self.places if place.pointer[:1] in ("", "/")), None)

    def also(self, *places: Place) -> Node:
        """Return the node that asks for some places more."""
        return Node((*self.places, *places))


NEVER = Place(False, "!never")
ANYWAY = Place(True, "!any")
ANY = Node(())


def complement(node: Node) -> Place:
    """Return the place that takes all that a node refuses."""
    return Place(None, "!not", None, node)


class Bound(Struct, frozen=True):
    """An end of an interval of numbers."""

    value: Fraction
    exclusive: bool


class Members(Struct, frozen=True, eq=False):
    """What one schema object says about an object's members; ``rest`` None says nothing.

    ``rest`` is for names that neither ``properties`` names nor a pattern matches. ``declares`` is
    whether the names are an offer to callers, ``evaluates`` whether they count for the
    ``unevaluatedProperties`` around them.
    """

    properties: Mapping[str, Place]
    rest: Place | None = None
    declares: bool = False
    patterns: tuple[tuple[str, Place], ...] = ()
    evaluates: bool = False


class Elements(Struct, frozen=True, eq=False):
    """What one schema object says about an array's elements; ``rest`` None says nothing."""

    prefix: tuple[Place, ...]
    rest: Place | None
    evaluates: bool = False


class Count(Struct, frozen=True, eq=False):
    """How many elements, from an index on, are of a node; ``evaluates`` as in `Elements`."""

    node: Node
    start: int
    fewest: int
    most: int | None
    evaluates: bool = False


class SomeMember(Struct, frozen=True, eq=False):
    """A member must be there whose name is of a class and whose value is of a node.

    The class: names that match all of ``like``, none of ``unlike``, and are none of ``but``.
    """

    node: Node
    like: tuple[str, ...] = ()
    unlike: tuple[str, ...] = ()
    but: frozenset[str] = frozenset()


class Opaque(Struct, frozen=True):
    """A constraint that is not taken apart: equal texts mean equal constraints.

    Read ``closed`` it takes at most what its text takes.
    """

    keyword: str
    text: bytes
    pointer: str
    closed: bool = False

    def within(self, other: Opaque) -> bool:
        """Whether all that this one takes is shown to be taken by another."""
        return self.text == other.text and (self.closed or not other.closed)


class Extra(Struct, frozen=True, eq=False):
    """The constraints that few schemas have, most of them what complements ask for."""

    excluded: tuple[Any, ...] = ()
    not_multiples: frozenset[Fraction] = frozenset()
    not_patterns: frozenset[str] = frozenset()
    repeats: bool = False
    counts: tuple[Count, ...] = ()
    some: tuple[SomeMember, ...] = ()
    opaque: frozenset[Opaque] = frozenset()
    not_opaque: frozenset[Opaque] = frozenset()


NOTHING_EXTRA = Extra()


class Facets(Struct, frozen=True, eq=False):
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
    extra: Extra = NOTHING_EXTRA
    pointers: Mapping[str, str] = field(default_factory=dict)
    hints: tuple[Any, ...] = ()
    format: str = ""


ANYTHING = Facets()


class Home(Protocol):
    """The document that a place belongs to, as far as branches are made of it."""

    tag: str
    closed: bool

    def fold(self, place: Place) -> Sequence[Facets]: ...
    def text(self, place: Place) -> bytes | None: ...
    def close(self, branch: Facets, places: Sequence[Place]) -> Facets: ...


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
        extra=_both(left.extra, right.extra),
        pointers={**right.pointers, **left.pointers},
        hints=left.hints + right.hints,
        format=left.format or right.format,
    )


def _both(left: Extra, right: Extra) -> Extra:
    if left is NOTHING_EXTRA or right is NOTHING_EXTRA:
        return right if left is NOTHING_EXTRA else left
    return Extra(
        excluded=distinct([*left.excluded, *right.excluded]),
        not_multiples=left.not_multiples | right.not_multiples,
        not_patterns=left.not_patterns | right.not_patterns,
        repeats=left.repeats or right.repeats,
        counts=left.counts + right.counts,
        some=left.some + right.some,
        opaque=left.opaque | right.opaque,
        not_opaque=left.not_opaque | right.not_opaque,
    )


def more(facets: Facets, **changes: Any) -> Facets:
    """Return facets with extra constraints met."""
    return replace(facets, extra=_both(facets.extra, Extra(**changes)))


def of_type(facets: Facets, name: str) -> Facets:
    """Return the facets narrowed to one JSON type."""
    if facets.extra is NOTHING_EXTRA:
        return replace(facets, types=_ONE_TYPE[name])
    own = facets.extra
    changes: dict[str, Any] = {field: getattr(own, field) for field in _EXTRA_OF[name]}
    kept = Extra(opaque=own.opaque, not_opaque=own.not_opaque, excluded=own.excluded, **changes)
    said = any(astuple(kept))
    return replace(facets, types=_ONE_TYPE[name], extra=kept if said else NOTHING_EXTRA)


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


def plain(number: Fraction) -> float:
    """Return a fraction as the plainest JSON number."""
    return int(number) if number.denominator == 1 else float(number)


class Values(tuple[Any, ...]):
    """JSON values, which know their canonical texts."""

    @cached_property
    def texts(self) -> frozenset[bytes]:
        """Return the canonical text of each."""
        return frozenset(map(canonical, self))


def is_among(value: Any, values: tuple[Any, ...]) -> bool:
    """Whether a value is one of some, by JSON's equality."""
    texts = values.texts if isinstance(values, Values) else map(canonical, values)
    return canonical(value) in texts


def distinct(values: list[Any]) -> Values:
    """Return values without repetitions, by JSON's equality, in order."""
    return Values({canonical(value): value for value in values}.values())


def _common(left: tuple[Any, ...] | None, right: tuple[Any, ...] | None) -> tuple[Any, ...] | None:
    if left is None or right is None:
        return right if left is None else left
    kept = right if isinstance(right, Values) else Values(right)
    return Values(value for value in left if is_among(value, kept))


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


def member(branch: Facets, name: str) -> Node:
    """Return what a branch asks of the member of a name."""
    places: list[Place] = []
    for members in branch.members:
        own = [members.properties[name]] if name in members.properties else []
        own += [place for pattern, place in members.patterns if matches(pattern, name)]
        if not own and members.rest is not None:
            own = [members.rest]
        places += own
    return Node(tuple(place for place in places if place is not ANYWAY))


def element(branch: Facets, index: int) -> Node:
    """Return what a branch asks of the element at an index."""
    places = [
        place
        for elements in branch.elements
        if (place := (elements.prefix[index] if index < len(elements.prefix) else elements.rest)) is not None
        and place is not ANYWAY
    ]
    return Node(tuple(places))


def prefix_length(branch: Facets) -> int:
    """Return the index from which on a branch asks the same of all elements."""
    lengths = [len(elements.prefix) for elements in branch.elements]
    return max([*lengths, *(count.start for count in branch.extra.counts)], default=0)


def declared(branch: Facets) -> dict[str, str]:
    """Return the names that a branch offers as members, with where."""
    return {
        name: place.pointer
        for members in branch.members
        if members.declares
        for name, place in members.properties.items()
    }


def named(branch: Facets) -> set[str]:
    """Return the names that a branch says something of, declared or not."""
    names = {name for members in branch.members for name in members.properties}
    return names.union(branch.required)


def speaks(rest: Place | None) -> bool:
    """Whether a place says something of members that are not named."""
    return rest is not None and rest.without is None and rest.schema not in (True, False, {})
