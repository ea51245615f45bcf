"""One small function for each keyword, gathered in tables: simple facets, and unions."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Sequence
from fractions import Fraction
from typing import Any

from msgspec.structs import replace

from tallshelf.core.compat._budget import TooMany
from tallshelf.core.compat._form import (
    ANYTHING,
    ANYWAY,
    NEVER,
    NOTHING_EXTRA,
    TYPES,
    Bound,
    Count,
    Facets,
    Members,
    Node,
    Place,
    declared,
    distinct,
    exact,
    meet,
    more,
    of_type,
)
from tallshelf.core.compat._reading import Document
from tallshelf.core.compat._space import EVERYTHING
from tallshelf.core.pointer import step_of

_LONGEST_NAME = 500
_MOST_APART = 6
_LAST_SHORT = 0xD7FF


Facet = dict[str, Any]
_WHOLE = frozenset({Fraction(1)})


def _type(value: Any) -> Facet:
    names = [value] if isinstance(value, str) else value
    types = frozenset("number" if name == "integer" else name for name in names)
    whole = "integer" in names and "number" not in names
    return {"types": types, "multiples": _WHOLE} if whole else {"types": types}


def _format(value: Any) -> Facet:
    return {"format": value} if isinstance(value, str) else {}


SIMPLE: dict[str, Callable[[Any], Facet]] = {
    "type": _type,
    "enum": lambda value: {"values": distinct(value)},
    "const": lambda value: {"values": (value,)},
    "minimum": lambda value: {"low": Bound(exact(value), exclusive=False)},
    "maximum": lambda value: {"high": Bound(exact(value), exclusive=False)},
    "exclusiveMinimum": lambda value: {"low": Bound(exact(value), exclusive=True)},
    "exclusiveMaximum": lambda value: {"high": Bound(exact(value), exclusive=True)},
    "multipleOf": lambda value: {"multiples": frozenset({exact(value)})},
    "minLength": lambda value: {"shortest": int(value)},
    "maxLength": lambda value: {"longest": int(value)},
    "pattern": lambda value: {"patterns": frozenset({value})},
    "minItems": lambda value: {"fewest_items": int(value)},
    "maxItems": lambda value: {"most_items": int(value)},
    "uniqueItems": lambda value: {"unique": bool(value)},
    "minProperties": lambda value: {"fewest_members": int(value)},
    "maxProperties": lambda value: {"most_members": int(value)},
    "required": lambda value: {"required": dict.fromkeys(value, "")},
    "format": _format,
}

Union = Sequence[Facets]


def _all_of(document: Document, place: Place, keyword: str) -> Union:
    return document.space.product([document.fold(child) for child in _children(document, place, keyword)])


def _any_of(document: Document, place: Place, keyword: str) -> Union:
    """Read ``anyOf`` as a union; where it is asked what was evaluated, as one of members that are apart.

    Of members that hold together each tells what it evaluated.
    """
    children = _children(document, place, keyword)
    members = [document.fold(child) for child in children]
    if not document.tracking:
        return tuple(itertools.chain.from_iterable(members))
    if len(children) > _MOST_APART:
        raise TooMany
    found: list[Facets] = []
    for held in itertools.product((True, False), repeat=len(children)):
        if any(held):
            kept = [members[index] for index, holds in enumerate(held) if holds]
            union: Union = typed(document, document.space.product(kept))
            for child in (child for child, holds in zip(children, held, strict=True) if not holds):
                union = document.space.less(union, _opened(document, child))
            found += union
    return found


def _one_of(document: Document, place: Place, keyword: str) -> Union:
    """Read ``oneOf`` as a union where its members share nothing; else take the others from each."""
    children = _children(document, place, keyword)
    members = [typed(document, document.fold(child)) for child in children]
    opened = [_opened(document, child) for child in children]
    found: list[Facets] = []
    for index, member in enumerate(members):
        for other, branches in enumerate(opened):
            if other != index:
                member = document.space.less(member, branches)
        found += member
    return found


def _opened(document: Document, place: Place) -> tuple[Facets, ...]:
    """Return the branches of a place read open: what stands under a negation is not closed."""
    return document.space.branches(Node((Place(place.schema, place.pointer, document.opened),)))


def typed(document: Document, facets: Iterable[Facets]) -> list[Facets]:
    """Return facets split by type, without those that nothing fits."""
    return document.space.settled(
        of_type(facet, name) for facet in facets for name in TYPES if name in facet.types
    )


def _untyped(branches: Sequence[Facets]) -> Union:
    """Gather the branches that say nothing but their type into one."""
    free = {name for facets in branches if facets in EVERYTHING for name in facets.types}
    rest = [facets for facets in branches if facets not in EVERYTHING]
    return [*rest, replace(ANYTHING, types=frozenset(free))] if free else rest


def _not(document: Document, place: Place, keyword: str) -> Union:
    (child,) = _one(document, place, keyword)
    return _negated(document, child)


def _negated(document: Document, place: Place) -> Union:
    """Return what a place refuses; by De Morgan's laws where it says one thing only.

    Not where it is asked what was evaluated: under a negation nothing is.
    """
    schema = place.schema
    says = set(schema) if isinstance(schema, dict) and not document.tracking else set()
    if says == {"not"}:
        return document.fold(_one(document, place, "not")[0])
    if says == {"anyOf"}:
        return document.space.product(
            [_negated(document, child) for child in _children(document, place, "anyOf")]
        )
    if says == {"allOf"}:
        children = _children(document, place, "allOf")
        return [facets for child in children for facets in _negated(document, child)]
    return _untyped(document.space.less(EVERYTHING, _opened(document, place)))


def _if(document: Document, place: Place, keyword: str) -> Union:
    """Read a condition: it holds, and so does ``then``; or it does not, and ``else`` does."""
    space, (condition,) = document.space, _one(document, place, "if")
    positive = document.fold(condition)
    then, otherwise = (
        document.fold(_one(document, place, name)[0]) if name in place.schema else (ANYTHING,)
        for name in ("then", "else")
    )
    offered = {
        name: Place(True, pointer) for facets in positive for name, pointer in declared(facets).items()
    }
    negative = _untyped(space.less(EVERYTHING, _opened(document, condition)))
    if offered:
        negative = [meet(facets, Facets(members=(Members(offered, declares=True),))) for facets in negative]
    return [*space.product([positive, then]), *space.product([negative, otherwise])]


def _ref(document: Document, place: Place, keyword: str) -> Union:
    target = document.references.resolve(place.schema[keyword], place.pointer)
    if target is None or (keyword != "$ref" and not document.references.single):
        return (document.opaque(keyword, place),)
    return document.fold(Place(*target, document))


def dependencies(document: Document, place: Place, keyword: str) -> Union:
    """Read what the presence of a member asks for: it is absent, or what it asks for holds."""
    parts: list[Union] = [(ANYTHING,)]
    for name, wanted in place.schema[keyword].items():
        where = {keyword: f"{place.pointer}/{keyword}/{step_of(name)}"}
        needed = wanted if isinstance(wanted, list) else []
        present = Facets(types=_OBJECT, required=dict.fromkeys([name, *needed], ""), pointers=where)
        child = Place(True if isinstance(wanted, list) else wanted, where[keyword], document)
        both = tuple(meet(present, facets) for facets in document.fold(child))
        absent = Facets(members=(Members({name: NEVER}),), pointers=where)
        parts.append((absent, *(facets for facets in both if facets.types)))
    return document.space.product(parts)


def _contains(document: Document, place: Place, keyword: str) -> Union:
    (child,) = _one(document, place, keyword)
    known = document.dialect.keywords
    fewest = int(place.schema.get("minContains", 1)) if "minContains" in known else 1
    most = place.schema.get("maxContains") if "maxContains" in known else None
    evaluates = document.dialect.contains_evaluates
    count = Count(Node((child,)), 0, fewest, None if most is None else int(most), evaluates)
    if fewest == 0 and most is None and not document.tracking:
        return (ANYTHING,)
    return (more(replace(ANYTHING, pointers={keyword: child.pointer}), counts=(count,)),)


def _property_names(document: Document, place: Place, keyword: str) -> Union:
    """Read what all names must be like as what members of other names are: not there."""
    (child,) = _one(document, place, keyword)
    branches = [facets for facets in document.space.branches(Node((child,))) if facets.types == _STRING]
    where = {keyword: child.pointer}
    if not branches:
        return (Facets(most_members=0, pointers=where),)
    if all(facets.values is not None for facets in branches):
        names = [value for facets in branches for value in facets.values or ()]
        return (Facets(members=(Members(dict.fromkeys(names, ANYWAY), NEVER),), pointers=where),)
    members = _named_like(branches[0]) if len(branches) == 1 else _named_like_any(branches)
    if members is None:
        return (document.opaque(keyword, place),)
    return (Facets(members=members, pointers=where),)


def _named_like_any(branches: Sequence[Facets]) -> tuple[Members, ...] | None:
    """Return what takes the names of several branches, where each is one pattern, or values, or anything."""
    choices: list[str] = []
    for branch in branches:
        if branch.values is not None:
            choices += ["^" + "".join(f"\\u{ord(char):04x}" for char in name) + "$" for name in branch.values]
            if any(ord(char) > _LAST_SHORT for name in branch.values for char in name):
                return None
            continue
        patterns = _patterns_of(branch)
        if patterns is None or len(patterns) > 1 or branch.extra is not NOTHING_EXTRA:
            return None
        if not patterns:
            return ()
        choices += patterns
    return (Members({}, NEVER, patterns=(("|".join(f"(?:{choice})" for choice in choices), ANYWAY),)),)


def _named_like(branch: Facets) -> tuple[Members, ...] | None:
    patterns = _patterns_of(branch)
    if patterns is None or branch.extra.opaque | branch.extra.not_opaque:
        return None
    excluded = dict.fromkeys(branch.extra.excluded, NEVER)
    return (
        *(Members({}, NEVER, patterns=((pattern, ANYWAY),)) for pattern in sorted(patterns)),
        *(Members({}, patterns=((pattern, NEVER),)) for pattern in sorted(branch.extra.not_patterns)),
        *([Members(excluded)] if excluded else []),
    )


def _patterns_of(branch: Facets) -> set[str] | None:
    """Return what a branch says of strings as patterns, lengths too; None where they are too long."""
    if max(branch.shortest, branch.longest or 0) > _LONGEST_NAME:
        return None
    patterns = set(branch.patterns)
    if branch.shortest or branch.longest is not None:
        most = "" if branch.longest is None else branch.longest
        patterns.add(f"^[\\s\\S]{{{branch.shortest},{most}}}$")
    return patterns


def _children(document: Document, place: Place, keyword: str) -> list[Place]:
    return [
        Place(child, f"{place.pointer}/{keyword}/{index}", document)
        for index, child in enumerate(place.schema[keyword])
    ]


def _one(document: Document, place: Place, keyword: str) -> tuple[Place]:
    return (Place(place.schema[keyword], f"{place.pointer}/{keyword}", document),)


UNIONS: dict[str, Callable[[Document, Place, str], Union]] = {
    "allOf": _all_of,
    "anyOf": _any_of,
    "oneOf": _one_of,
    "$ref": _ref,
    "$dynamicRef": _ref,
    "$recursiveRef": _ref,
    "not": _not,
    "if": _if,
    "contains": _contains,
    "propertyNames": _property_names,
    "dependencies": dependencies,
    "dependentRequired": dependencies,
    "dependentSchemas": dependencies,
}
_OBJECT = frozenset({"object"})
_STRING = frozenset({"string"})
