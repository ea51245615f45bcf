"""The branches of a node: all its places met, complements taken away, the impossible dropped."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Any

from msgspec.structs import replace

from tallshelf.core.compat._accepts import accepts
from tallshelf.core.compat._budget import Budget, TooMany
from tallshelf.core.compat._form import (
    ANYTHING,
    ANYWAY,
    NOTHING_EXTRA,
    TYPES,
    Count,
    Elements,
    Facets,
    Home,
    Node,
    Place,
    Values,
    complement,
    meet,
    member,
    of_type,
    type_of,
)
from tallshelf.core.compat._subtract import outside
from tallshelf.core.snapshot import canonical

MOST_BRANCHES = 256
_MOST_FINITE = 64


class Space:
    """All nodes of one comparison, whichever document their places are from."""

    def __init__(self, budget: Budget) -> None:
        self.budget = budget
        self._branches: dict[str, tuple[Facets, ...]] = {}

    def branches(self, node: Node) -> tuple[Facets, ...]:
        """Return the branches of a node, each of one type; none when nothing fits."""
        key = node.key
        if key not in self._branches:
            self._branches[key] = tuple(self._made(node))
        return self._branches[key]

    def _made(self, node: Node) -> Iterable[Facets]:
        found: list[Facets] | None = None
        homes: dict[Home | None, list[Place]] = {}
        for place in node.places:
            if not place.without:
                homes.setdefault(place.home, []).append(place)
        for home, places in homes.items():
            typed = self._typed(home, places)
            found = typed if found is None else self.met(found, typed)
        if found is None:
            found = list(EVERYTHING)
        for place in node.places:
            if place.without:
                if any(same_place(one, place.without) for one in node.places):
                    return []
                found = self.less(found, self.branches(place.without))
        return found

    def _typed(self, home: Home | None, places: list[Place]) -> list[Facets]:
        facets = self.product([_folded(home, place) for place in places])
        if facets == (ANYTHING,):
            return list(EVERYTHING)
        typed = [of_type(facet, name) for facet in facets for name in TYPES if name in facet.types]
        if home is not None and home.closed:
            typed = [home.close(one, places) if one.types == _OBJECT else one for one in typed]
        return self.settled(typed)

    def met(self, left: Sequence[Facets], right: Sequence[Facets]) -> list[Facets]:
        """Return the conjunction of two unions of typed branches."""
        self.budget.spend(1 + len(left) * len(right) // 4)
        return self.settled(
            meet(facets, other) for facets in left for other in right if facets.types == other.types
        )

    def apart(self, facets: Facets, other: Facets) -> bool:
        """Whether two branches are seen at first sight to share nothing."""
        return facets.types != other.types or not self.settled([meet(facets, other)])

    def less(self, branches: Sequence[Facets], taken: Sequence[Facets]) -> list[Facets]:
        """Return what of a union of branches lies outside another."""
        left = list(branches)
        for other in taken:
            kept: list[Facets] = []
            for facets in left:
                if self.apart(facets, other):
                    kept.append(facets)
                else:
                    kept += self.settled(piece.facets for piece in outside(facets, other))
                if len(kept) > MOST_BRANCHES:
                    raise TooMany
            left = kept
        return left

    def product(self, parts: Sequence[Sequence[Facets]]) -> tuple[Facets, ...]:
        """Return the conjunction of unions as a union; raise `TooMany` when it grows too large."""
        found: list[Facets] = [ANYTHING]
        for part in parts:
            self.budget.spend(len(found) * len(part))
            met = [facets if other is ANYTHING else meet(other, facets) for other in found for facets in part]
            found = [facets for facets in met if facets.types and facets.values != ()]
            if len(found) > MOST_BRANCHES:
                raise TooMany
        return tuple(found)

    def settled(self, branches: Iterable[Facets]) -> list[Facets]:
        """Drop the branches that nothing fits at first sight; turn small sets into their values."""
        found = []
        for branch in branches:
            self.budget.spend()
            facets = self._settle(branch)
            if facets is not None:
                found.append(facets)
        return found

    def _settle(self, branch: Facets) -> Facets | None:
        (name,) = branch.types
        if branch.extra is not NOTHING_EXTRA:
            settled = _settle_extra(branch)
            if settled is None:
                return None
            branch = settled
        values = branch.values
        if values is None and name in _FEW and branch.extra is NOTHING_EXTRA:
            return Facets(types=branch.types, values=_FEW[name], pointers=branch.pointers, hints=branch.hints)
        if values is None:
            values = _finite(branch, name)
        if values is not None:
            return self._of_values(branch, name, values)
        return None if _is_empty(branch, name) else branch

    def _of_values(self, branch: Facets, name: str, values: Sequence[Any]) -> Facets | None:
        """Return the branch with the values that fit; where all surely do they are all it says."""
        bare = replace(branch, values=None)
        answers = [(value, accepts(self, bare, value)) for value in values if type_of(value) == name]
        kept = Values(value for value, answer in answers if answer is not False)
        if not kept:
            return None
        if any(answer is None for _, answer in answers):
            return replace(branch, values=kept)
        return Facets(
            types=branch.types,
            values=kept,
            # implied by the values, and kept for what they evaluate
            members=tuple(members for members in branch.members if members.evaluates)
            if name == "object"
            else (),
            elements=tuple(elements for elements in branch.elements if elements.evaluates)
            if name == "array"
            else (),
            pointers=branch.pointers,
            hints=branch.hints,
        )


def _folded(home: Home | None, place: Place) -> Sequence[Facets]:
    if home is not None:
        return home.fold(place)
    if place.schema is True:
        return (ANYTHING,)
    return () if place.schema is False else (Facets(values=tuple(place.schema["enum"])),)


def same_place(place: Place, node: Node) -> bool:
    """Whether a place is shown by its text alone to lie inside a node."""
    if len(node.places) != 1:
        return False
    (other,) = node.places
    if place.key == other.key:
        return True
    if place.home is None or other.home is None:
        return False
    return same_text(place, place.home, other, other.home)


def same_text(place: Place, home: Home, other: Place, other_home: Home) -> bool:
    """Whether two places say the same in the same words, and the second is not closed where the first is open.

    The root is closed even where it declares nothing, so it is like no other place.
    """
    if (other_home.closed and not home.closed) or (place.pointer == "") != (other.pointer == ""):
        return False
    text = home.text(place)
    return text is not None and text == other_home.text(other)


def one_of_values(values: Sequence[Any]) -> Place:
    """Return the place that takes some values alone, whatever document they are for."""
    listed = list(values)
    return Place({"enum": listed}, f"!{canonical(listed).decode()}")


def _settle_extra(branch: Facets) -> Facets | None:
    """Meet the extra constraints with each other, or return None where they cannot all hold."""
    extra = branch.extra
    if extra.repeats and branch.unique:
        return None
    if extra.not_patterns & branch.patterns:
        return None
    if any((own / step).denominator == 1 for own in branch.multiples for step in extra.not_multiples):
        return None
    if any(opaque.within(other) for opaque in extra.opaque for other in extra.not_opaque):
        return None
    if [] in extra.excluded and branch.types == _ARRAY:
        branch = replace(branch, fewest_items=max(1, branch.fewest_items))
    if {} in extra.excluded and branch.types == _OBJECT:
        branch = replace(branch, fewest_members=max(1, branch.fewest_members))
    counts: dict[tuple[str, int], Count] = {}
    for count in extra.counts:
        before = counts.get((count.node.key, count.start))
        if before is not None:
            mosts = [most for most in (count.most, before.most) if most is not None]
            count = Count(
                count.node,
                count.start,
                max(count.fewest, before.fewest),
                min(mosts, default=None),
                count.evaluates or before.evaluates,
            )
        if count.most is not None and count.fewest > count.most:
            return None
        counts[count.node.key, count.start] = count
    if not counts:
        return branch
    none = [count for count in counts.values() if count.most == 0]
    universal = tuple(Elements((ANYWAY,) * count.start, complement(count.node)) for count in none)
    kept = tuple(count for count in counts.values() if count.most != 0)
    made = replace(branch, elements=branch.elements + universal)
    return replace(made, extra=replace(extra, counts=kept))


def _finite(branch: Facets, name: str) -> tuple[Any, ...] | None:
    if name in _FEW:
        return _FEW[name]
    if name == "number" and branch.low and branch.high and Fraction(1) in branch.multiples:
        first, last = -((-branch.low.value) // 1), branch.high.value // 1
        if last - first < _MOST_FINITE:
            return tuple(range(int(first), int(last) + 1))
    if name == "string" and branch.longest == 0:
        return ("",)
    if name == "array" and branch.most_items == 0:
        return ([],)
    if name == "object" and branch.most_members == 0:
        return ({},)
    return None


def _is_empty(branch: Facets, name: str) -> bool:
    if name == "number" and branch.low and branch.high:
        low, high = branch.low, branch.high
        return low.value > high.value or (low.value == high.value and (low.exclusive or high.exclusive))
    if name == "string":
        return branch.longest is not None and branch.shortest > branch.longest
    if name == "array":
        return branch.most_items is not None and branch.fewest_items > branch.most_items
    if name == "object":
        return any(_is_never(member(branch, name)) for name in branch.required) or (
            branch.most_members is not None
            and max(branch.fewest_members, len(branch.required)) > branch.most_members
        )
    return False


def _is_never(node: Node) -> bool:
    """Whether a node takes nothing, as far as its places say so in so many words."""
    if any(place.schema is False for place in node.places):
        return True
    if len(node.places) < 2:
        return False
    listed = [values for place in node.places if (values := _listed(place)) is not None]
    return len(listed) > 1 and not frozenset.intersection(*listed)


def _listed(place: Place) -> frozenset[bytes] | None:
    """Return the values that a place itself lists, by their canonical text; None where it lists none."""
    schema = place.schema
    if not isinstance(schema, dict) or "$ref" in schema:
        return None
    if "const" in schema:
        return frozenset({canonical(schema["const"])})
    return frozenset(map(canonical, schema["enum"])) if "enum" in schema else None


_ARRAY = frozenset({"array"})
_OBJECT = frozenset({"object"})
_FEW: dict[str, tuple[Any, ...]] = {"null": (None,), "boolean": (False, True)}
EVERYTHING = tuple(replace(of_type(ANYTHING, name), values=_FEW.get(name)) for name in TYPES)
"""The branches of what takes anything."""
