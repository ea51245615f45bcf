"""Containment of two schemas in normal form: a walk that collects the gaps.

A gap is a place where it could not be shown that all that side A accepts is accepted by
side B. It carries instances of the whole schema that may prove it; they are guesses until
a validator confirms them. No gap at all is the proof. Recursion is by assuming the pair
that is already under comparison (coinduction).
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import partial
from typing import Any

from tallshelf.core.compat._accepts import accepts, matches
from tallshelf.core.compat._form import Facets, Node, Place, altered
from tallshelf.core.compat._normal import Document, declared
from tallshelf.core.compat._sample import Impossible, plain, sample, sample_branch, sample_number
from tallshelf.core.snapshot import canonical

_MOST_GAPS = 200
_MOST_CANDIDATES = 6


@dataclass(frozen=True)
class Gap:
    """One place where A is not shown to be inside B.

    ``a_value`` and ``b_value`` are what the two sides say there, for the sentence.
    """

    keyword: str
    path: tuple[str, ...]
    a_pointer: str | None
    b_pointer: str | None
    candidates: tuple[Any, ...]
    a_value: Any = None
    b_value: Any = None


@dataclass(frozen=True)
class Dropped:
    """A member that B declares and A does not, where nothing stands against it."""

    path: tuple[str, ...]
    b_pointer: str


class Walk:
    """One containment question, A inside B."""

    def __init__(self, a: Document, b: Document) -> None:
        self.a = a
        self.b = b
        self.dropped: list[Dropped] = []
        self._assumed: set[tuple[tuple[str, ...], tuple[str, ...]]] = set()

    def gaps(self) -> list[Gap]:
        """Return the gaps of A against B, at most 200."""
        return list(itertools.islice(self._node(self.a.root, self.b.root, ()), _MOST_GAPS))

    def _node(self, a: Node, b: Node, path: tuple[str, ...]) -> Iterator[Gap]:
        if not b.places or self._same_text(a, b):
            return
        pair = (a.key, b.key)
        if a.places and pair in self._assumed:
            return
        self._assumed.add(pair)
        if not a.places:
            a = Node((Place(True, "/"),))
        for branch in self.a.branches(a):
            self.a.budget.spend()
            yield from self._branch(branch, b, path)

    def _same_text(self, a: Node, b: Node) -> bool:
        """Whether both say the same in the same words, and B is not closed where A is open."""
        if len(a.places) != 1 or len(b.places) != 1 or (self.b.closed and not self.a.closed):
            return False
        one, other = a.places[0], b.places[0]
        if (one.pointer == "") != (other.pointer == ""):
            return False  # the root is closed even where it declares nothing
        text = self.a.text(one)
        return text is not None and text == self.b.text(other)

    def _branch(self, a: Facets, b_node: Node, path: tuple[str, ...]) -> Iterator[Gap]:
        branches = self.b.branches(b_node)
        same = [branch for branch in branches if branch.types == a.types]
        if not same:
            yield self._type_gap(a, b_node, branches, path)
        elif a.values is not None:
            yield from self._finite(a, b_node, same, path)
        elif len(same) == 1:
            yield from self._pair(a, same[0], path)
        else:
            yield from self._any_pair(a, b_node, same, path)

    def _type_gap(self, a: Facets, b_node: Node, branches: tuple[Facets, ...], path: tuple[str, ...]) -> Gap:
        shut = not branches and any(place.schema is False for place in b_node.places)
        keyword = "additionalProperties" if shut else "type"
        others = sorted({name for branch in branches for name in branch.types})
        return Gap(
            keyword,
            path,
            _at(a, "type"),
            b_node.pointer,
            self._samples(a),
            a_value=next(iter(a.types)),
            b_value=others,
        )

    def _finite(self, a: Facets, b_node: Node, same: list[Facets], path: tuple[str, ...]) -> Iterator[Gap]:
        # What A's own branch asks as a whole, its values fulfil on B's side as well.
        known = {one.text for one in a.opaque}
        fitting = [
            altered(one, opaque=frozenset(rest for rest in one.opaque if rest.text not in known))
            for one in same
        ]
        answers = [(value, _any(accepts(self.b, one, value) for one in fitting)) for value in a.values or ()]
        refused = [value for value, answer in answers if answer is False]
        unsure = [value for value, answer in answers if answer is None]
        where = _at(a, "enum", "const"), _at(same[0], "enum", "const")
        for value in refused:
            yield Gap("enum", path, *where, (value,), a_value=value, b_value=same[0].values)
        if unsure and not refused:
            keyword = next((one.keyword for one in same[0].opaque), "enum")
            yield Gap(keyword, path, *where, tuple(unsure[:_MOST_CANDIDATES]))

    def _any_pair(self, a: Facets, b_node: Node, same: list[Facets], path: tuple[str, ...]) -> Iterator[Gap]:
        """A branch is inside a union when one member holds all of it."""
        candidates: list[Any] = []
        for branch in same:
            before = set(self._assumed)
            found = list(itertools.islice(self._pair(a, branch, path), _MOST_GAPS))
            if not found:
                return
            self._assumed = before
            candidates.extend(one for gap in found for one in gap.candidates)
        keyword = next((name for name in _ASKING if any(name in one.pointers for one in same)), "anyOf")
        yield Gap(keyword, path, _at(a), b_node.pointer, tuple(candidates[: 4 * _MOST_CANDIDATES]))

    def _pair(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        (name,) = a.types
        if b.values is not None:
            yield Gap("enum", path, _at(a), _at(b, "enum", "const"), self._outside(a, b), b_value=b.values)
            return
        known = {one.text for one in a.opaque}
        for one in sorted(b.opaque, key=lambda one: (one.pointer, one.keyword)):
            if one.text not in known:
                yield Gap(one.keyword, path, _at(a), one.pointer, self._samples(a))
        yield from _BY_TYPE[name](self, a, b, path)

    def _samples(self, a: Facets) -> tuple[Any, ...]:
        try:
            return (sample_branch(self.a, a), *a.hints[:2])
        except Impossible:
            return ()

    def _outside(self, a: Facets, b: Facets) -> tuple[Any, ...]:
        """Instances of A that are none of B's values."""
        (name,) = a.types
        if name == "string":
            taken = [value for value in b.values or () if isinstance(value, str)]
            near = (one for value in taken[:2] for one in (f"{value}x", value + value[-1:]))
            return (*self._samples(a), *near, "other")
        if name == "number":
            numbers = [value for value in b.values or () if isinstance(value, int | float)]
            return (*self._samples(a), max(numbers, default=0) + 1, min(numbers, default=0) - 1)
        return self._samples(a)

    # numbers

    def _numbers(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        for lower in (True, False):
            a_end, b_end = (a.low, b.low) if lower else (a.high, b.high)
            sign = 1 if lower else -1
            if b_end is None or (
                a_end is not None
                and (
                    sign * a_end.value > sign * b_end.value
                    or (a_end.value == b_end.value and (a_end.exclusive or not b_end.exclusive))
                )
            ):
                continue
            keyword = _bound_keyword(b, lower)
            step = max(a.multiples, default=Fraction(1))
            beyond = (b_end.value // step) * step
            tries = [beyond - sign * step * shift for shift in (0, 1, 2, -1)]
            ends = [a_end.value, (a_end.value + b_end.value) / 2] if a_end else []
            yield Gap(
                keyword,
                path,
                _at(a, *_bound_keywords(lower)),
                _at(b, keyword),
                tuple(plain(value) for value in [*tries, *ends]),
                a_value=plain(a_end.value) if a_end else None,
                b_value=plain(b_end.value),
            )
        for step in sorted(b.multiples):
            if not any(other and (other / step).denominator == 1 for other in a.multiples):
                keyword = "type" if "multipleOf" not in b.pointers else "multipleOf"
                start = sample_number(a)
                own = max(a.multiples, default=None)
                shifts = (own, 2 * own, 3 * own) if own else (step / 2, step / 4, step / 3)
                yield Gap(
                    keyword,
                    path,
                    _at(a, keyword),
                    _at(b, keyword),
                    (start, *(start + plain(shift) for shift in shifts)),
                    a_value="number",
                    b_value=["integer"] if keyword == "type" else plain(step),
                )

    # strings

    def _strings(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        text = sample_branch(self.a, a)
        if b.shortest > a.shortest:
            short = text[: b.shortest - 1] if len(text) >= b.shortest else text
            yield self._facet("minLength", path, a, b, a.shortest, b.shortest, (short, short[: a.shortest]))
        if b.longest is not None and (a.longest is None or a.longest > b.longest):
            longer = text + "x" * (min(b.longest, 100_000) + 1 - len(text))
            yield self._facet("maxLength", path, a, b, a.longest, b.longest, (longer,))
        for pattern in sorted(b.patterns - a.patterns):
            refused = [one for one in (text, "text", "", "0", "?", *a.hints) if isinstance(one, str)]
            yield self._facet(
                "pattern",
                path,
                a,
                b,
                None,
                pattern,
                tuple(one for one in refused if not matches(pattern, one)),
            )

    # arrays

    def _arrays(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        if b.fewest_items > a.fewest_items:
            yield self._facet(
                "minItems", path, a, b, a.fewest_items, b.fewest_items, self._of_length(a, a.fewest_items)
            )
        if b.most_items is not None and (a.most_items is None or a.most_items > b.most_items):
            yield self._facet(
                "maxItems", path, a, b, a.most_items, b.most_items, self._of_length(a, b.most_items + 1)
            )
        if b.unique and not a.unique and (a.most_items is None or a.most_items > 1):
            one = self._of_length(a, 1)
            doubled = tuple(value * 2 for value in one)
            yield self._facet("uniqueItems", path, a, b, False, True, doubled)
        known = max((len(one.prefix) for one in (*a.elements, *b.elements)), default=0)
        reach = known + 1 if a.most_items is None else min(known + 1, a.most_items)
        for index in range(reach):
            found = self._node(self.a.element(a, index), self.b.element(b, index), (*path, "[]"))
            yield from self._lifted(found, partial(self._with_element, a, index))

    def _of_length(self, a: Facets, count: int) -> tuple[Any, ...]:
        if count > 1000:
            return ()
        try:
            elements = [sample(self.a, self.a.element(a, index), 1) for index in range(count)]
        except Impossible:
            return ()
        if a.unique:
            elements = [
                f"{value}{index}"
                if isinstance(value, str)
                else value + index
                if isinstance(value, int)
                else value
                for index, value in enumerate(elements)
            ]
        return (elements,)

    def _with_element(self, a: Facets, index: int, value: Any) -> Any:
        (elements,) = self._of_length(a, max(index + 1, a.fewest_items)) or (None,)
        if elements is None:
            raise Impossible
        elements[index] = value
        return elements

    # objects

    def _objects(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        a_names, b_names = declared(a), declared(b)
        for name in b.required:
            if name not in a.required:
                yield Gap(
                    "required",
                    (*path, name),
                    a_names.get(name),
                    b_names.get(name, _at(b, "required")),
                    self._without(a, name),
                    a_value=name in a_names,
                )
        least = max(a.fewest_members, len(a.required))
        if b.fewest_members > least:
            yield self._facet("minProperties", path, a, b, least, b.fewest_members, self._samples(a))
        yield from self._too_many(a, b, path)
        for name in sorted({*a_names, *b_names, *a.required}):
            if name in b_names and name not in a_names and self.a.closed:
                self.dropped.append(Dropped((*path, name), b_names[name]))
            found = self._node(self.a.member(a, name), self.b.member(b, name), (*path, name))
            for gap in self._lifted(found, partial(self._with_member, a, name)):
                yield self._named(gap, (*path, name), a_names.get(name), b_names.get(name))
        other = self._fresh({*a_names, *b_names})
        found = self._node(self.a.other_members(a), self.b.other_members(b), (*path, "*"))
        for gap in self._lifted(found, partial(self._with_member, a, other)):
            yield replace(gap, keyword="undeclared-member" if gap.path == (*path, "*") else gap.keyword)

    def _named(self, gap: Gap, path: tuple[str, ...], a_at: str | None, b_at: str | None) -> Gap:
        """Say which side declares the member, where the gap is at the member itself."""
        if gap.path != path:
            return gap
        if a_at is None and b_at is not None:
            return replace(gap, keyword="undeclared-member", b_pointer=b_at)
        return replace(gap, a_pointer=gap.a_pointer or a_at, b_pointer=gap.b_pointer or b_at)

    def _too_many(self, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
        if b.most_members is None or (a.most_members is not None and a.most_members <= b.most_members):
            return
        others = self.a.branches(self.a.other_members(a)) if self.a.other_members(a).places else True
        if not others and len(declared(a)) <= b.most_members:
            return
        try:
            value = sample_branch(self.a, a)
            for name in declared(a):
                if len(value) <= b.most_members and name not in value:
                    value[name] = sample(self.a, self.a.member(a, name))
            for index in range(min(100, b.most_members + 1 - len(value))):
                value[f"member_{index + 1}"] = sample(self.a, self.a.other_members(a))
            candidates: tuple[Any, ...] = (value,)
        except Impossible:
            candidates = ()
        yield self._facet("maxProperties", path, a, b, a.most_members, b.most_members, candidates)

    def _without(self, a: Facets, name: str) -> tuple[Any, ...]:
        return tuple(
            {key: child for key, child in value.items() if key != name}
            for value in self._samples(a)
            if isinstance(value, dict)
        )

    def _with_member(self, a: Facets, name: str, value: Any) -> Any:
        return {**sample_branch(self.a, a), name: value}

    def _fresh(self, names: set[str]) -> str:
        return next(
            name
            for name in map("other{}".format, itertools.chain([""], itertools.count(1)))
            if name not in names
        )

    # all

    def _lifted(self, gaps: Iterator[Gap], lift: Callable[[Any], Any]) -> Iterator[Gap]:
        """Put each gap's candidates into an instance of the schema around it."""
        for gap in gaps:
            candidates: list[Any] = []
            for candidate in gap.candidates[: 4 * _MOST_CANDIDATES]:
                try:
                    candidates.append(lift(candidate))
                except Impossible:
                    break
            yield replace(gap, candidates=tuple(candidates))

    def _facet(
        self,
        keyword: str,
        path: tuple[str, ...],
        a: Facets,
        b: Facets,
        a_value: Any,
        b_value: Any,
        candidates: Any,
    ) -> Gap:
        return Gap(keyword, path, _at(a, keyword), _at(b, keyword), tuple(candidates), a_value, b_value)


_ASKING = ("dependentRequired", "dependentSchemas", "dependencies")


def _any(answers: Iterable[bool | None]) -> bool | None:
    found = set(answers)
    return True if True in found else None if None in found else False


def _nothing(walk: Walk, a: Facets, b: Facets, path: tuple[str, ...]) -> Iterator[Gap]:
    return iter(())


_BY_TYPE: dict[str, Callable[[Walk, Facets, Facets, tuple[str, ...]], Iterator[Gap]]] = {
    "null": _nothing,
    "boolean": _nothing,
    "number": Walk._numbers,
    "string": Walk._strings,
    "array": Walk._arrays,
    "object": Walk._objects,
}


def _at(facets: Facets, *keywords: str) -> str | None:
    """Return where a branch says one of some keywords, or where the branch itself is."""
    for keyword in keywords:
        if keyword in facets.pointers:
            return facets.pointers[keyword]
    return facets.pointers.get("")


def _bound_keywords(lower: bool) -> tuple[str, str]:
    return ("minimum", "exclusiveMinimum") if lower else ("maximum", "exclusiveMaximum")


def _bound_keyword(facets: Facets, lower: bool) -> str:
    plain_name, exclusive = _bound_keywords(lower)
    end = facets.low if lower else facets.high
    return exclusive if end and end.exclusive else plain_name


def same_schema(old: Any, new: Any) -> bool:
    """Whether two schemas are the same JSON value."""
    return canonical(old) == canonical(new)
