"""From JSON Schema (2020-12, draft-07) to the normal form, as branches are asked for."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from tallshelf.core.compat._accepts import accepts
from tallshelf.core.compat._form import (
    ANYTHING,
    NEVER,
    TYPES,
    Budget,
    Elements,
    Exhausted,
    Facets,
    Members,
    Node,
    Opaque,
    Place,
    altered,
    meet,
    of_type,
    type_of,
)
from tallshelf.core.compat._keywords import SIMPLE, UNIONS, dependencies, escape
from tallshelf.core.snapshot import canonical

MOST_BRANCHES = 64
_MOST_FINITE = 64


class Document:
    """One schema document, read into branches as they are asked for.

    With ``closed``, objects that say nothing about undeclared members take none; an object
    below the root that declares no properties at all is free-form, and stays open.
    """

    def __init__(self, root: Any, budget: Budget, *, closed: bool = False) -> None:
        self.root = Node((Place(root, ""),))
        self.closed = closed
        self.budget = budget
        self._root_schema = root
        self._draft_07 = isinstance(root, dict) and "draft-07" in str(root.get("$schema", ""))
        self._anchors: dict[str, Place] | None = None
        self._texts: dict[str, bytes | None] = {}
        self._folded: dict[str, tuple[Facets, ...]] = {}
        self._branches: dict[tuple[str, ...], tuple[Facets, ...]] = {}
        self._folding: set[str] = set()

    def branches(self, node: Node) -> tuple[Facets, ...]:
        """Return the branches of a node, each of one type; none when nothing fits."""
        key = node.key
        if key not in self._branches:
            facets = self.product([self.fold(place) for place in node.places])
            typed = (of_type(one, name) for one in facets for name in TYPES if name in one.types)
            self._branches[key] = tuple(one for one in map(self._settle, typed) if one is not None)
        return self._branches[key]

    def text(self, place: Place) -> bytes | None:
        """Return the canonical text of a place; None when a reference in it leads elsewhere."""
        if place.pointer not in self._texts:
            text = canonical(place.schema)
            self._texts[place.pointer] = None if b'Ref":' in text or b'$ref":' in text else text
        return self._texts[place.pointer]

    def member(self, branch: Facets, name: str) -> Node:
        """Return what a branch asks of the member of a name."""
        places = [
            place
            for members in branch.members
            if (place := members.properties.get(name, members.rest)) is not None
        ]
        if not places and self._is_closed(branch) and name not in declared(branch):
            return Node((NEVER,))
        return Node(tuple(places))

    def other_members(self, branch: Facets) -> Node:
        """Return what a branch asks of members that no schema names."""
        places = [members.rest for members in branch.members if members.rest is not None]
        if not places and self._is_closed(branch):
            return Node((NEVER,))
        return Node(tuple(places))

    def element(self, branch: Facets, index: int) -> Node:
        """Return what a branch asks of the element at an index."""
        places = [
            place
            for elements in branch.elements
            if (place := (elements.prefix[index] if index < len(elements.prefix) else elements.rest))
            is not None
        ]
        return Node(tuple(places))

    def resolve(self, reference: str) -> Place | None:
        """Return the place that a local reference names, or None."""
        if not reference.startswith("#"):
            return None
        pointer = reference[1:]
        if pointer and not pointer.startswith("/"):
            return self._anchored(pointer)
        schema: Any = self._root_schema
        for step in pointer.split("/")[1:] if pointer else []:
            name = step.replace("~1", "/").replace("~0", "~")
            if isinstance(schema, dict) and name in schema:
                schema = schema[name]
            elif isinstance(schema, list) and name.isascii() and name.isdigit() and int(name) < len(schema):
                schema = schema[int(name)]
            else:
                return None
        return Place(schema, pointer)

    def _anchored(self, name: str) -> Place | None:
        """Return the place of an ``$anchor``, or None."""
        if self._anchors is None:
            found: dict[str, Place] = {}
            level = [Place(self._root_schema, "")]
            while level:
                for place in level:
                    if isinstance(place.schema, dict) and isinstance(place.schema.get("$anchor"), str):
                        found.setdefault(place.schema["$anchor"], place)
                level = [below for place in level for below in _below(place)]
            self._anchors = found
        return self._anchors.get(name)

    def _is_closed(self, branch: Facets) -> bool:
        """Whether undeclared members are shut out; never where a whole constraint may name some."""
        if not self.closed or any(one.keyword in _MAY_NAME_MEMBERS for one in branch.opaque):
            return False
        return any(members.declares for members in branch.members) or branch.pointers.get("") == ""

    def fold(self, place: Place) -> tuple[Facets, ...]:
        """Return a place as a union of conjunctions, not yet split by type."""
        if place.schema is True:
            return (ANYTHING,)
        if not isinstance(place.schema, dict):
            return ()
        if place.pointer in self._folding:
            return (self.opaque("$ref", place),)
        if place.pointer not in self._folded:
            self.budget.spend()
            self._folding.add(place.pointer)
            try:
                self._folded[place.pointer] = self._read(place)
            finally:
                self._folding.discard(place.pointer)
        return self._folded[place.pointer]

    def _read(self, place: Place) -> tuple[Facets, ...]:
        schema = place.schema
        if self._draft_07 and "$ref" in schema:
            schema = {"$ref": schema["$ref"]}  # in draft-07 what stands beside a reference is ignored
            place = Place(schema, place.pointer)
        if any(keyword in schema for keyword in _WHOLE) or ("$id" in schema and place.pointer):
            return (altered(self.opaque("unevaluated", place), pointers={"": place.pointer}),)
        parts: list[tuple[Facets, ...]] = [(Facets(pointers={"": place.pointer}, hints=_hints(schema)),)]
        for keyword, value in schema.items():
            if keyword in SIMPLE:
                found = SIMPLE[keyword](value)
                where = {keyword: f"{place.pointer}/{keyword}"}
                parts.append((altered(found, pointers=where),))
            elif keyword in UNIONS:
                parts.append(UNIONS[keyword](self, place, keyword))
            elif keyword in _OPAQUE:
                parts.append((self.opaque(keyword, place),))
            elif keyword == "dependencies" and self._draft_07:
                parts.append(dependencies(self, place, keyword))
        both = (self._read_members(place), self._read_elements(place))
        parts += [(one,) for one in both if one is not ANYTHING]
        return self.product(parts)

    def _read_members(self, place: Place) -> Facets:
        schema = place.schema
        if "patternProperties" in schema:
            return self.opaque("patternProperties", place, ("properties", "additionalProperties"))
        if not schema.keys() & {"properties", "additionalProperties"}:
            return ANYTHING
        declares = isinstance(schema.get("properties"), dict)
        properties = {
            name: Place(child, f"{place.pointer}/properties/{escape(name)}")
            for name, child in (schema["properties"] if declares else {}).items()
        }
        rest = (
            Place(schema["additionalProperties"], f"{place.pointer}/additionalProperties")
            if "additionalProperties" in schema
            else None
        )
        return Facets(members=(Members(properties, rest, declares),))

    def _read_elements(self, place: Place) -> Facets:
        schema = place.schema
        if isinstance(schema.get("items"), list):
            return self._read_tuple(place)
        if not schema.keys() & {"items", "prefixItems"}:
            return ANYTHING
        prefix = tuple(
            Place(child, f"{place.pointer}/prefixItems/{index}")
            for index, child in enumerate(schema.get("prefixItems", ()))
        )
        rest = Place(schema["items"], f"{place.pointer}/items") if "items" in schema else None
        return Facets(elements=(Elements(prefix, rest),))

    def _read_tuple(self, place: Place) -> Facets:
        """Read draft-07's list of ``items``, which 2020-12 calls ``prefixItems``."""
        schema = place.schema
        prefix = tuple(
            Place(child, f"{place.pointer}/items/{index}") for index, child in enumerate(schema["items"])
        )
        more = schema.get("additionalItems", True)
        rest = None if more is True else Place(more, f"{place.pointer}/additionalItems")
        return Facets(elements=(Elements(prefix, rest),))

    def opaque(self, keyword: str, place: Place, also: tuple[str, ...] = ()) -> Facets:
        """Return a constraint that is not taken apart; equal text and definitions make it equal."""
        if keyword in ("unevaluated", "$ref"):
            body: Any = place.schema
        else:
            body = {name: place.schema[name] for name in (keyword, *also) if name in place.schema}
        text = canonical(body)
        if b'Ref":' in text or b'$ref":' in text:
            text += canonical(self._root_schema)
        return Facets(opaque=frozenset({Opaque(keyword, text, place.pointer)}))

    def product(self, parts: list[tuple[Facets, ...]]) -> tuple[Facets, ...]:
        """Return the conjunction of unions as a union; raise `Exhausted` when it grows too large."""
        size = 1
        for part in parts:
            size *= len(part)
            if size > MOST_BRANCHES:
                raise Exhausted
        self.budget.spend(size)
        found: list[Facets] = []
        for combination in itertools.product(*parts):
            facets = ANYTHING
            for one in combination:
                facets = meet(facets, one) if facets is not ANYTHING else one
            if facets.types and facets.values != ():
                found.append(facets)
        return tuple(found)

    def _settle(self, branch: Facets) -> Facets | None:
        """Drop a branch that nothing fits; turn small sets into their values."""
        (name,) = branch.types
        values = branch.values
        if values is None:
            values = _finite(branch, name)
        if values is not None:
            kept = tuple(
                value
                for value in values
                if type_of(value) == name and accepts(self, altered(branch, values=None), value) is not False
            )
            return altered(branch, values=kept) if kept else None
        return None if _is_empty(self, branch, name) else branch


def declared(branch: Facets) -> Mapping[str, str]:
    """Return the names that a branch declares as members, with where."""
    return {name: place.pointer for members in branch.members for name, place in members.properties.items()}


def _finite(branch: Facets, name: str) -> tuple[Any, ...] | None:
    if name == "null":
        return (None,)
    if name == "boolean":
        return (False, True)
    if name == "number" and branch.low and branch.high and Fraction(1) in branch.multiples:
        first, last = -((-branch.low.value) // 1), branch.high.value // 1
        if last - first < _MOST_FINITE:
            return tuple(range(int(first), int(last) + 1))
    if name == "string" and branch.longest == 0:
        return ("",)
    return None


def _is_empty(document: Document, branch: Facets, name: str) -> bool:
    if name == "number" and branch.low and branch.high:
        low, high = branch.low, branch.high
        return low.value > high.value or (low.value == high.value and (low.exclusive or high.exclusive))
    if name == "string":
        return branch.longest is not None and branch.shortest > branch.longest
    if name == "array":
        return branch.most_items is not None and branch.fewest_items > branch.most_items
    if name == "object":
        return any(_is_never(document.member(branch, name)) for name in branch.required) or (
            branch.most_members is not None
            and max(branch.fewest_members, len(branch.required)) > branch.most_members
        )
    return False


def _is_never(node: Node) -> bool:
    return any(place.schema is False for place in node.places)


def _hints(schema: Mapping[str, Any]) -> tuple[Any, ...]:
    examples = schema.get("examples")
    hints = list(examples[:3]) if isinstance(examples, list) else []
    return (*hints, schema["default"]) if "default" in schema else tuple(hints)


def _below(place: Place) -> list[Place]:
    """Return all values right below a place; names are escaped as in pointers."""
    if isinstance(place.schema, dict):
        return [Place(value, f"{place.pointer}/{escape(key)}") for key, value in place.schema.items()]
    if isinstance(place.schema, list):
        return [Place(value, f"{place.pointer}/{index}") for index, value in enumerate(place.schema)]
    return []


_OPAQUE = frozenset(
    [
        "if",
        "then",
        "else",
        "contains",
        "minContains",
        "maxContains",
        "propertyNames",
        "$dynamicRef",
        "$recursiveRef",
    ]
)
_MAY_NAME_MEMBERS = frozenset(
    [
        "patternProperties",
        "unevaluated",
        "$ref",
        "oneOf",
        "not",
        "if",
        "then",
        "else",
    ]
)
_WHOLE = frozenset({"unevaluatedProperties", "unevaluatedItems", "$dynamicAnchor"})
