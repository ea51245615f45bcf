"""Whether a branch of the normal form accepts one value: yes, no, or cannot say (None)."""

from __future__ import annotations

import functools
import json
from typing import Any

import jsonschema_rs

from tallshelf.core.compat._form import Facets, Node, Reader, exact, type_of
from tallshelf.core.snapshot import canonical


def node_accepts(document: Reader, node: Node, value: Any) -> bool | None:
    """Whether any branch of a node accepts a value."""
    answers = [
        accepts(document, branch, value)
        for branch in document.branches(node)
        if type_of(value) in branch.types
    ]
    return True if True in answers else None if None in answers else False


def accepts(document: Reader, branch: Facets, value: Any) -> bool | None:
    """Whether one branch accepts a value of its type."""
    document.budget.spend()
    if branch.values is not None and canonical(value) not in map(canonical, branch.values):
        return False
    answer = _BY_TYPE[type_of(value)](document, branch, value)
    if answer is not True or not branch.opaque:
        return answer
    return _every(_whole_accepts(one.text, value) for one in branch.opaque)


def _whole_accepts(text: bytes, value: Any) -> bool | None:
    """Whether a constraint that was left whole accepts a value; None where it leads elsewhere by reference."""
    validator = _whole(text)
    return None if validator is None else bool(validator.is_valid(value))


@functools.lru_cache(maxsize=256)
def _whole(text: bytes) -> Any:
    try:
        # Beside a reference stands the whole document, and the two are no single JSON text.
        return jsonschema_rs.Draft202012Validator(
            json.loads(text), validate_formats=False, pattern_options=jsonschema_rs.RegexOptions()
        )
    except (ValueError, jsonschema_rs.ValidationError):
        return None


def _number(document: Reader, branch: Facets, value: float) -> bool | None:
    number = exact(value)
    if branch.low and (number < branch.low.value or (number == branch.low.value and branch.low.exclusive)):
        return False
    if branch.high and (
        number > branch.high.value or (number == branch.high.value and branch.high.exclusive)
    ):
        return False
    return all(step and (number / step).denominator == 1 for step in branch.multiples)


def _string(document: Reader, branch: Facets, value: str) -> bool | None:
    if len(value) < branch.shortest or (branch.longest is not None and len(value) > branch.longest):
        return False
    answers = [matches(pattern, value) for pattern in branch.patterns]
    return False if False in answers else None if None in answers else True


def _array(document: Reader, branch: Facets, value: list[Any]) -> bool | None:
    if len(value) < branch.fewest_items:
        return False
    if branch.most_items is not None and len(value) > branch.most_items:
        return False
    if branch.unique and len({canonical(element) for element in value}) < len(value):
        return False
    return _every(
        node_accepts(document, document.element(branch, index), element)
        for index, element in enumerate(value)
    )


def _object(document: Reader, branch: Facets, value: dict[str, Any]) -> bool | None:
    if any(name not in value for name in branch.required) or len(value) < branch.fewest_members:
        return False
    if branch.most_members is not None and len(value) > branch.most_members:
        return False
    return _every(
        node_accepts(document, document.member(branch, name), child) for name, child in value.items()
    )


def _always(document: Reader, branch: Facets, value: Any) -> bool | None:
    return True


def _every(answers: Any) -> bool | None:
    unsure = False
    for answer in answers:
        if answer is False:
            return False
        unsure = unsure or answer is None
    return None if unsure else True


@functools.lru_cache(maxsize=1024)
def _pattern(pattern: str) -> Any:
    try:
        return jsonschema_rs.Draft202012Validator(
            {"pattern": pattern}, pattern_options=jsonschema_rs.RegexOptions()
        )
    except (ValueError, jsonschema_rs.ValidationError):
        return None


def matches(pattern: str, text: str) -> bool | None:
    """Whether a pattern is found in a text, by an engine without backtracking; None if it cannot read it."""
    validator = _pattern(pattern)
    return None if validator is None else bool(validator.is_valid(text))


_BY_TYPE = {
    "null": _always,
    "boolean": _always,
    "number": _number,
    "string": _string,
    "array": _array,
    "object": _object,
}

__all__ = ["accepts", "matches", "node_accepts"]
