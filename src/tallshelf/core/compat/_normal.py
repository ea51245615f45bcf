"""From JSON Schema to the normal form: one document, read place by place as it is asked for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from tallshelf.core.compat._budget import TooMany
from tallshelf.core.compat._dialect import Dialect, pruned
from tallshelf.core.compat._form import (
    ANYTHING,
    ANYWAY,
    NEVER,
    NOTHING_EXTRA,
    Elements,
    Facets,
    Members,
    Node,
    Opaque,
    Place,
    complement,
    more,
    named,
)
from tallshelf.core.compat._keywords import SIMPLE, UNIONS
from tallshelf.core.compat._references import References
from tallshelf.core.compat._regular import matches
from tallshelf.core.compat._space import Space
from tallshelf.core.compat._spoken import spoken_of
from tallshelf.core.pointer import step_of
from tallshelf.core.snapshot import canonical


class Document:
    """One schema document, read into branches as they are asked for.

    With ``opened``, the same document read as written, it is read as declared: objects that say
    nothing about undeclared members take none; an object below the root that declares no
    properties at all is free-form, and stays open.
    """

    def __init__(
        self, root: Any, dialect: Dialect, space: Space, tag: str, opened: Document | None = None
    ) -> None:
        self.tag = tag
        self.dialect = dialect
        self.space = space
        self.closed = opened is not None
        self.opened = opened or self
        self.references: References = opened.references if opened else References(root)
        self.root = Node((Place(root, "", self),))
        self.emptied: set[str] = set()
        """Where reading it as declared left objects that nobody could send."""
        self.tracking = 0
        """How many keywords ``unevaluated…`` are being read around the place being read."""
        self._root_schema = root
        self._texts: dict[str, bytes | None] = opened._texts if opened else {}
        self._folded: dict[tuple[str, bool], Sequence[Facets]] = {}
        self._folding: set[str] = set()

    def text(self, place: Place) -> bytes | None:
        """Return the canonical text of a place; None when a reference in it leads elsewhere."""
        if place.pointer not in self._texts:
            text = canonical(place.schema)
            refers = b'Ref":' in text or b'$ref":' in text
            self._texts[place.pointer] = None if refers else self.dialect.name.encode() + text
        return self._texts[place.pointer]

    def close(self, branch: Facets, places: Sequence[Place]) -> Facets:
        """Shut undeclared members out of a branch, made of some places, that says nothing about them.

        What any keyword of it speaks of stays, as the open branch has it. Never where a constraint that
        was left whole may name some. Where too few members are left for what the branch asks for, nobody
        could send any: such a place is kept in ``emptied``.
        """
        if branch.values is not None:
            return branch
        if any(opaque.keyword in _MAY_NAME_MEMBERS for opaque in branch.extra.opaque):
            return branch
        rests = [members.rest for members in branch.members if members.rest is not None]
        if any(rest is not NEVER and rest.without is None for rest in rests):
            return branch
        at_root = branch.pointers.get("") == "" and NEVER not in rests
        if not at_root and not any(members.declares for members in branch.members):
            return branch
        names = dict.fromkeys(named(branch), ANYWAY)
        for place in places:
            names.update(dict.fromkeys(spoken_of(place.schema), ANYWAY))
        patterns = tuple(
            (pattern, ANYWAY)
            for members in branch.members
            for pattern, _ in members.patterns
            if members.evaluates
        )
        if branch.fewest_members > len(names) and not patterns:
            self.emptied.add(branch.pointers.get("", ""))
        return replace(branch, members=(*branch.members, Members(names, NEVER, patterns=patterns)))

    def fold(self, place: Place) -> Sequence[Facets]:
        """Return a place as a union of conjunctions, not yet split by type."""
        if place.schema is True:
            return (ANYTHING,)
        if not isinstance(place.schema, dict):
            return ()
        if place.pointer in self._folding:
            return (self.opaque("$ref", place),)
        key = place.pointer, bool(self.tracking)
        if key not in self._folded:
            self.space.budget.spend()
            self._folding.add(place.pointer)
            try:
                self._folded[key] = self._read(place)
            finally:
                self._folding.discard(place.pointer)
        return self._folded[key]

    def _read(self, place: Place) -> Sequence[Facets]:
        if self.dialect.ref_alone and "$ref" in place.schema:
            place = Place({"$ref": place.schema["$ref"]}, place.pointer, self)
        own = place.schema.get("$schema")
        if own is not None and place.pointer:
            return (self.opaque("$schema", place),)
        tracks = _UNEVALUATED & place.schema.keys() & self.dialect.keywords
        if not tracks:
            return self._read_keywords(place)
        self.tracking += 1
        try:
            return [self._unevaluated(place, facets) for facets in self._read_keywords(place)]
        except (TooMany, _Hidden):
            return (replace(self.opaque("unevaluated", place), pointers={"": place.pointer}),)
        finally:
            self.tracking -= 1

    def _read_keywords(self, place: Place) -> Sequence[Facets]:
        schema = place.schema
        simple: dict[str, Any] = {"hints": _hints(schema)}
        pointers = {"": place.pointer}
        parts: list[Sequence[Facets]] = []
        for keyword, value in schema.items():
            if keyword not in self.dialect.keywords:
                continue
            if keyword in SIMPLE:
                pointers[keyword] = f"{place.pointer}/{keyword}"
                for facet, said in SIMPLE[keyword](value).items():
                    if facet in simple:
                        parts.append((replace(ANYTHING, **{facet: said}),))
                    else:
                        simple[facet] = said
            elif keyword in UNIONS:
                parts.append(self._union(place, keyword))
        parts.insert(0, (replace(ANYTHING, pointers=pointers, **simple),))
        both = (self._read_members(place), self._read_elements(place))
        parts += [(facets,) for facets in both if facets is not ANYTHING]
        return self.space.product(parts)

    def _union(self, place: Place, keyword: str) -> Sequence[Facets]:
        if keyword == "if" and not place.schema.keys() & {"then", "else"} and not self.tracking:
            return (ANYTHING,)
        try:
            return UNIONS[keyword](self, place, keyword)
        except TooMany:
            return (self.opaque(keyword, place, _TOGETHER.get(keyword, ())),)

    def _read_members(self, place: Place) -> Facets:
        schema = place.schema
        if not schema.keys() & _OF_MEMBERS:
            return ANYTHING
        patterns = schema.get("patternProperties", {})
        unread = any(matches(pattern, "") is None for pattern in patterns)
        if unread and "additionalProperties" in schema:
            return self.opaque("patternProperties", place, ("properties", "additionalProperties"))
        declares = isinstance(schema.get("properties"), dict)
        properties = {
            name: Place(child, f"{place.pointer}/properties/{step_of(name)}", self)
            for name, child in (schema["properties"] if declares else {}).items()
        }
        by_pattern = tuple(
            (pattern, Place(child, f"{place.pointer}/patternProperties/{step_of(pattern)}", self))
            for pattern, child in ({} if unread else patterns).items()
        )
        rest = (
            Place(schema["additionalProperties"], f"{place.pointer}/additionalProperties", self)
            if "additionalProperties" in schema
            else None
        )
        whole = self.opaque("patternProperties", place).extra if unread else NOTHING_EXTRA
        return Facets(members=(Members(properties, rest, declares, by_pattern, evaluates=True),), extra=whole)

    def _read_elements(self, place: Place) -> Facets:
        schema = place.schema
        keywords = self.dialect.keywords
        tuple_keyword, rest_keyword = "prefixItems", "items"
        if "additionalItems" in keywords and isinstance(schema.get("items"), list):
            tuple_keyword, rest_keyword = "items", "additionalItems"
        if not schema.keys() & {tuple_keyword, rest_keyword} & keywords:
            return ANYTHING
        children = schema.get(tuple_keyword, ()) if tuple_keyword in keywords else ()
        prefix = tuple(
            Place(child, f"{place.pointer}/{tuple_keyword}/{index}", self)
            for index, child in enumerate(children)
        )
        rest = (
            Place(schema[rest_keyword], f"{place.pointer}/{rest_keyword}", self)
            if rest_keyword in schema
            else None
        )
        return Facets(elements=(Elements(prefix, rest, evaluates=True),))

    def _unevaluated(self, place: Place, facets: Facets) -> Facets:
        """Say of members and elements that no keyword of a schema evaluated what it asks of them."""
        if any(opaque.keyword != "propertyNames" for opaque in facets.extra.opaque):
            raise _Hidden
        found, schema = facets, place.schema
        if "unevaluatedProperties" in schema:
            known = [members for members in facets.members if members.evaluates]
            if all(members.rest is None for members in known):
                rest = Place(schema["unevaluatedProperties"], f"{place.pointer}/unevaluatedProperties", self)
                names = {name: ANYWAY for members in known for name in members.properties}
                patterns = tuple((pattern, ANYWAY) for members in known for pattern, _ in members.patterns)
                own = Members(names, rest, patterns=patterns, evaluates=True)
                found = replace(found, members=(*found.members, own))
        if "unevaluatedItems" in schema:
            seen = [elements for elements in facets.elements if elements.evaluates]
            if all(elements.rest is None for elements in seen):
                length = max((len(elements.prefix) for elements in seen), default=0)
                rest = Place(schema["unevaluatedItems"], f"{place.pointer}/unevaluatedItems", self)
                counted = [count.node for count in facets.extra.counts if count.evaluates]
                if counted:  # what was counted is evaluated; the others are of the rest
                    rest = complement(Node(tuple(map(complement, [Node((rest,)), *counted]))))
                more_elements = Elements((ANYWAY,) * length, rest, evaluates=True)
                found = replace(found, elements=(*found.elements, more_elements))
        return found

    def opaque(self, keyword: str, place: Place, also: tuple[str, ...] = ()) -> Facets:
        """Return a constraint that is not taken apart; equal text and definitions make it equal."""
        body: Any = place.schema
        if keyword not in ("unevaluated", "$ref", "$schema"):
            body = {name: body[name] for name in (keyword, *also) if name in body}
        body = pruned(body, self._constrains)
        text = canonical(body)
        if b'Ref":' in text or b'$ref":' in text or self.dialect.name != "2020-12":
            text += self.dialect.name.encode() + canonical(self._root_schema)
        return more(ANYTHING, opaque=frozenset({Opaque(keyword, text, place.pointer, self.closed)}))

    def _constrains(self, keyword: str) -> bool:
        return keyword in self.dialect.keywords or keyword in _STRUCTURE


class _Hidden(Exception):
    """What was evaluated cannot be told."""


def _hints(schema: Mapping[str, Any]) -> tuple[Any, ...]:
    examples = schema.get("examples")
    hints = list(examples[:3]) if isinstance(examples, list) else []
    return (*hints, schema["default"]) if "default" in schema else tuple(hints)


_STRUCTURE = frozenset(["$defs", "definitions", "$id", "$anchor", "$dynamicAnchor"])
_UNEVALUATED = frozenset({"unevaluatedProperties", "unevaluatedItems"})
_OF_MEMBERS = frozenset({"properties", "patternProperties", "additionalProperties"})
_TOGETHER = {
    "if": ("then", "else"),
    "contains": ("minContains", "maxContains"),
}
_MAY_NAME_MEMBERS = frozenset(
    [
        "patternProperties",
        "unevaluated",
        "$ref",
        "$dynamicRef",
        "$recursiveRef",
        "$schema",
        "oneOf",
        "not",
        "if",
    ]
)
