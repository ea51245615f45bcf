"""Whether a branch of the normal form accepts one value: yes, no, or cannot say (None)."""

from __future__ import annotations

import functools
import json
from collections.abc import Iterable
from fractions import Fraction
from typing import Any, Protocol

import jsonschema_rs

from tallshelf.core.compat._budget import Budget
from tallshelf.core.compat._form import (
    NOTHING_EXTRA,
    Count,
    Facets,
    Node,
    Opaque,
    SomeMember,
    element,
    exact,
    is_among,
    member,
    prefix_length,
    type_of,
)
from tallshelf.core.compat._regular import matches
from tallshelf.core.snapshot import canonical
from tallshelf.core.usable import refuse

Answer = bool | None
_MANY = 50
"""Of more elements than this, one in so many is counted as a step."""


class Reader(Protocol):
    """What reads nodes into branches, as far as judging a value needs it."""

    budget: Budget

    def branches(self, node: Node) -> tuple[Facets, ...]: ...


def node_accepts(space: Reader, node: Node, value: Any) -> Answer:
    """Whether all places of a node accept a value."""
    if not node.places:
        return True
    turned = [place.without for place in node.places if place.without]
    if turned:
        answers = [inverse(node_accepts(space, one, value)) for one in turned]
        plain = tuple(place for place in node.places if not place.without)
        return every([*answers, node_accepts(space, Node(plain), value)])
    name = type_of(value)
    return any_of(accepts(space, branch, value) for branch in space.branches(node) if name in branch.types)


def accepts(space: Reader, branch: Facets, value: Any) -> Answer:
    """Whether one branch accepts a value of its type."""
    space.budget.spend()
    if branch.values is not None and not is_among(value, branch.values):
        return False
    answer = _BY_TYPE[type_of(value)](space, branch, value)
    if answer is False or branch.extra is NOTHING_EXTRA:
        return answer
    return every([answer, _extra(space, branch, value)])


def _extra(space: Reader, branch: Facets, value: Any) -> Answer:
    extra = branch.extra
    if extra.excluded and is_among(value, extra.excluded):
        return False
    answers = [whole_accepts(opaque, value) for opaque in extra.opaque]
    answers += [inverse(whole_accepts(opaque, value)) for opaque in extra.not_opaque]
    return every(answers)


def whole_accepts(constraint: Opaque, value: Any) -> Answer:
    """Whether a constraint that was left whole accepts a value; None where that cannot be said."""
    validator = _whole(constraint.text)
    if validator is None:
        return None
    answer = bool(validator.is_valid(value))
    return None if answer and constraint.closed else answer


@functools.lru_cache(maxsize=256)
def _whole(text: bytes) -> Any:
    try:
        # Beside a reference stands the whole document, and the two are no single JSON text.
        return jsonschema_rs.Draft202012Validator(
            json.loads(text),
            validate_formats=False,
            retriever=refuse,
            pattern_options=jsonschema_rs.RegexOptions(),
        )
    except (ValueError, jsonschema_rs.ValidationError, jsonschema_rs.ReferencingError):
        return None


def _number(space: Reader, branch: Facets, value: float) -> Answer:
    # Whole numbers say the same as fractions, at a tenth of the cost: long lists of values come by here.
    parts, whole = value.as_integer_ratio() if isinstance(value, int) else exact(value).as_integer_ratio()
    if branch.low:
        above = parts * branch.low.value.denominator - branch.low.value.numerator * whole
        if above < 0 or (above == 0 and branch.low.exclusive):
            return False
    if branch.high:
        above = parts * branch.high.value.denominator - branch.high.value.numerator * whole
        if above > 0 or (above == 0 and branch.high.exclusive):
            return False
    if any(_is_multiple(parts, whole, step) for step in branch.extra.not_multiples):
        return False
    return all(_is_multiple(parts, whole, step) for step in branch.multiples)


def _is_multiple(parts: int, whole: int, step: Fraction) -> bool:
    return step != 0 and parts * step.denominator % (whole * step.numerator) == 0


def _string(space: Reader, branch: Facets, value: str) -> Answer:
    if len(value) < branch.shortest or (branch.longest is not None and len(value) > branch.longest):
        return False
    answers = [matches(pattern, value) for pattern in branch.patterns]
    answers += [inverse(matches(pattern, value)) for pattern in branch.extra.not_patterns]
    return every(answers)


def _array(space: Reader, branch: Facets, value: list[Any]) -> Answer:
    if len(value) < branch.fewest_items:
        return False
    if branch.most_items is not None and len(value) > branch.most_items:
        return False
    if branch.unique or branch.extra.repeats:
        repeats = len({canonical(one) for one in value}) < len(value)
        if (repeats and branch.unique) or (branch.extra.repeats and not repeats):
            return False
    steady = prefix_length(branch)
    own = [node_accepts(space, element(branch, index), one) for index, one in enumerate(value[:steady])]
    own += _each(space, element(branch, steady), value[steady:])
    return every([every(own), *(_counted(space, count, value) for count in branch.extra.counts)])


def _each(space: Reader, node: Node, values: Iterable[Any]) -> list[Answer]:
    """Ask of each value, and once of those that are the same object: long arrays are made so."""
    known: dict[int, Answer] = {}
    answers = []
    for index, one in enumerate(values):
        if id(one) not in known:
            with space.budget.paid(int(index < _MANY or index % _MANY == 0)):
                known[id(one)] = node_accepts(space, node, one)
        answers.append(known[id(one)])
    return answers


def _counted(space: Reader, count: Count, value: list[Any]) -> Answer:
    answers = _each(space, count.node, value[count.start :])
    sure, possible = answers.count(True), len(answers) - answers.count(False)
    if possible < count.fewest or (count.most is not None and sure > count.most):
        return False
    return True if sure >= count.fewest and (count.most is None or possible <= count.most) else None


def _object(space: Reader, branch: Facets, value: dict[str, Any]) -> Answer:
    if any(name not in value for name in branch.required) or len(value) < branch.fewest_members:
        return False
    if branch.most_members is not None and len(value) > branch.most_members:
        return False
    known: dict[tuple[str, int], Answer] = {}
    for name, child in value.items():
        node = member(branch, name)
        key = node.key, id(child)
        if key not in known:
            known[key] = node_accepts(space, node, child)
    return every([every(known.values()), *(_has_some(space, some, value) for some in branch.extra.some)])


def _has_some(space: Reader, some: SomeMember, value: dict[str, Any]) -> Answer:
    return any_of(
        node_accepts(space, some.node, child) for name, child in value.items() if in_class(some, name)
    )


def in_class(some: SomeMember, name: str) -> bool:
    """Whether a name is of the class that a constraint on some member speaks of."""
    return (
        name not in some.but
        and all(matches(pattern, name) for pattern in some.like)
        and not any(matches(pattern, name) for pattern in some.unlike)
    )


def _always(space: Reader, branch: Facets, value: Any) -> Answer:
    return True


def inverse(answer: Answer) -> Answer:
    """Return the opposite; what cannot be said stays so."""
    return None if answer is None else not answer


def every(answers: Iterable[Answer]) -> Answer:
    """Whether all hold: no as soon as one does not."""
    unsure = False
    for answer in answers:
        if answer is False:
            return False
        unsure = unsure or answer is None
    return None if unsure else True


def any_of(answers: Iterable[Answer]) -> Answer:
    """Whether one holds: yes as soon as one does."""
    return inverse(every(map(inverse, answers)))


_BY_TYPE = {
    "null": _always,
    "boolean": _always,
    "number": _number,
    "string": _string,
    "array": _array,
    "object": _object,
}

__all__ = ["accepts", "any_of", "every", "in_class", "inverse", "node_accepts", "whole_accepts"]
