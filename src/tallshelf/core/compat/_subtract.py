"""What of one branch lies outside another: pieces, each with one constraint turned around.

A typed branch is a conjunction, so what it does not take is a union: one piece for each of its
constraints. Together the pieces take exactly what the first branch takes and the second refuses.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from tallshelf.core.compat._form import (
    ANY,
    ANYWAY,
    NEVER,
    Bound,
    Count,
    Elements,
    Facets,
    Members,
    Node,
    Place,
    SomeMember,
    complement,
    meet,
    more,
    plain,
)


class Piece(Struct, frozen=True, eq=False):
    """A part of one branch that another refuses because of a ``keyword``.

    ``name`` is the member in question; ``a_value`` and ``b_value`` are what the two say by the
    keyword, for a sentence.
    """

    keyword: str
    facets: Facets
    name: str = ""
    a_value: Any = None
    b_value: Any = None


def outside(a: Facets, b: Facets) -> Iterator[Piece]:
    """Yield the pieces of A outside B, both of one type."""
    (name,) = a.types
    if b.values is not None:
        yield Piece("enum", more(a, excluded=b.values), b_value=b.values)
    yield from _BY_TYPE.get(name, _none)(a, b)
    yield from extra_outside(a, b)


def plainly_outside(a: Facets, b: Facets) -> Iterator[Piece]:
    """Yield the pieces that B's members and elements are not in question for."""
    (name,) = a.types
    yield from {**_BY_TYPE, "array": _array_sizes, "object": _object_sizes}.get(name, _none)(a, b)


def extra_outside(a: Facets, b: Facets) -> Iterator[Piece]:
    """Yield the pieces for the constraints that few schemas have."""
    extra = b.extra
    if extra.excluded:
        yield Piece("not", meet(a, Facets(values=extra.excluded)))
    for step in extra.not_multiples:
        yield Piece("not", replace(a, multiples=a.multiples | {step}))
    for pattern in extra.not_patterns:
        yield Piece("not", replace(a, patterns=a.patterns | {pattern}))
    if extra.repeats:
        yield Piece("not", replace(a, unique=True))
    for count in extra.counts:
        if count.fewest > 0:
            yield Piece("contains", more(a, counts=(Count(count.node, count.start, 0, count.fewest - 1),)))
        if count.most is not None:
            yield Piece("contains", more(a, counts=(Count(count.node, count.start, count.most + 1, None),)))
    for some in extra.some:
        yield Piece("not", replace(a, members=(*a.members, _all_members(some))))
    for opaque in extra.opaque:
        if not any(own.within(opaque) for own in a.extra.opaque):
            yield Piece(opaque.keyword, more(a, not_opaque=frozenset({opaque})))
    for opaque in extra.not_opaque:
        if not any(opaque.within(own) for own in a.extra.not_opaque):
            yield Piece("not", more(a, opaque=frozenset({opaque})))


def _all_members(some: SomeMember) -> Members:
    """Return the constraint that no member of a class is of a node: what refuses `SomeMember`."""
    refusing = complement(some.node)
    if some.like:
        # Such classes come from one pattern at a time.
        return Members({}, patterns=tuple((pattern, refusing) for pattern in some.like))
    return Members(
        dict.fromkeys(some.but, ANYWAY),
        rest=refusing,
        patterns=tuple((pattern, ANYWAY) for pattern in some.unlike),
    )


def _none(a: Facets, b: Facets) -> Iterator[Piece]:
    return iter(())


def _numbers(a: Facets, b: Facets) -> Iterator[Piece]:
    if b.low and not _at_least(a.low, b.low):
        keyword = "exclusiveMinimum" if b.low.exclusive else "minimum"
        below = meet(a, Facets(high=Bound(b.low.value, not b.low.exclusive)))
        yield Piece(keyword, _near(below, b.low, -1), "", _end(a.low), _end(b.low))
    if b.high and not _at_most(a.high, b.high):
        keyword = "exclusiveMaximum" if b.high.exclusive else "maximum"
        above = meet(a, Facets(low=Bound(b.high.value, not b.high.exclusive)))
        yield Piece(keyword, _near(above, b.high, 1), "", _end(a.high), _end(b.high))
    for step in sorted(b.multiples):
        if not any((own / step).denominator == 1 for own in a.multiples):
            fractions = more(a, not_multiples=frozenset({step}))
            if step == 1 and "multipleOf" not in b.pointers:
                yield Piece("type", fractions, "", "number", ["integer"])
            else:
                own = plain(max(a.multiples)) if a.multiples else None
                yield Piece("multipleOf", fractions, "", own, plain(step))


def _end(bound: Bound | None) -> float | None:
    return plain(bound.value) if bound else None


def _near(piece: Facets, end: Bound, sign: int) -> Facets:
    """Return a piece with a hint to try the number just past a bound first."""
    step = max(piece.multiples, default=Fraction(1))
    last = (end.value // step) * step
    tries = sorted((last + shift * step for shift in (-1, 0, 1)), reverse=sign < 0)
    past = [fraction for fraction in tries if sign * (fraction - end.value) >= 0]
    return replace(piece, hints=(*map(plain, past), *piece.hints))


def _at_least(own: Bound | None, end: Bound) -> bool:
    if own is None:
        return False
    return own.value > end.value or (own.value == end.value and (own.exclusive or not end.exclusive))


def _at_most(own: Bound | None, end: Bound) -> bool:
    if own is None:
        return False
    return own.value < end.value or (own.value == end.value and (own.exclusive or not end.exclusive))


def _strings(a: Facets, b: Facets) -> Iterator[Piece]:
    if b.shortest > a.shortest:
        yield Piece("minLength", meet(a, Facets(longest=b.shortest - 1)), "", a.shortest, b.shortest)
    if b.longest is not None and (a.longest is None or a.longest > b.longest):
        yield Piece("maxLength", meet(a, Facets(shortest=b.longest + 1)), "", a.longest, b.longest)
    for pattern in sorted(b.patterns - a.patterns):
        yield Piece("pattern", more(a, not_patterns=frozenset({pattern})), b_value=pattern)


def _array_sizes(a: Facets, b: Facets) -> Iterator[Piece]:
    if b.fewest_items > a.fewest_items:
        fewer = meet(a, Facets(most_items=b.fewest_items - 1))
        yield Piece("minItems", fewer, "", a.fewest_items, b.fewest_items)
    if b.most_items is not None and (a.most_items is None or a.most_items > b.most_items):
        longer = meet(a, Facets(fewest_items=b.most_items + 1))
        yield Piece("maxItems", longer, "", a.most_items, b.most_items)
    if b.unique and not a.unique:
        yield Piece("uniqueItems", more(a, repeats=True), "", False, True)


def _arrays(a: Facets, b: Facets) -> Iterator[Piece]:
    yield from _array_sizes(a, b)
    for elements in b.elements:
        for index, place in enumerate(elements.prefix):
            wrong = complement(Node((place,)))
            turned = Elements((*[ANYWAY] * index, wrong), None)
            piece = replace(meet(a, Facets(fewest_items=index + 1)), elements=(*a.elements, turned))
            yield Piece("items", piece)
        if elements.rest is not None:
            wrong_node = Node((complement(Node((elements.rest,))),))
            yield Piece("items", more(a, counts=(Count(wrong_node, len(elements.prefix), 1, None),)))


def _object_sizes(a: Facets, b: Facets) -> Iterator[Piece]:
    for name in b.required:
        if name not in a.required:
            yield Piece("required", replace(a, members=(*a.members, Members({name: NEVER}))), name)
    if b.fewest_members > max(a.fewest_members, len(a.required)):
        piece = meet(a, Facets(most_members=b.fewest_members - 1))
        yield Piece("minProperties", piece, "", a.fewest_members, b.fewest_members)
    if b.most_members is not None and (a.most_members is None or a.most_members > b.most_members):
        piece = meet(a, Facets(fewest_members=b.most_members + 1))
        yield Piece("maxProperties", piece, "", a.most_members, b.most_members)


def _objects(a: Facets, b: Facets) -> Iterator[Piece]:
    yield from _object_sizes(a, b)
    for members in b.members:
        for name, place in members.properties.items():
            yield Piece("properties", with_member(a, name, complement(Node((place,)))), name)
        yield from other_members_outside(a, members)


def other_members_outside(a: Facets, members: Members) -> Iterator[Piece]:
    """Yield the pieces for what B says of members by pattern, and of those it does not name."""
    for pattern, place in members.patterns:
        wrong = Node((complement(Node((place,))),))
        yield Piece("patternProperties", more(a, some=(SomeMember(wrong, like=(pattern,)),)))
    if members.rest is not None:
        wrong = ANY if members.rest.schema is False else Node((complement(Node((members.rest,))),))
        unlike = tuple(pattern for pattern, _ in members.patterns)
        some = SomeMember(wrong, unlike=unlike, but=frozenset(members.properties))
        yield Piece("additionalProperties", more(a, some=(some,)))


def with_member(a: Facets, name: str, place: Place) -> Facets:
    """Return a branch that asks for a member as well, of a place."""
    asked = Facets(required={name: ""}, members=(Members({name: place}),))
    return replace(meet(a, asked), required={**a.required, name: ""})


_BY_TYPE = {"number": _numbers, "string": _strings, "array": _arrays, "object": _objects}
