"""Small, readable instances of a branch; a guess where the form cannot say, confirmed elsewhere."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from tallshelf.core.compat._accepts import accepts
from tallshelf.core.compat._form import Facets, Node, type_of
from tallshelf.core.compat._normal import Document

_DEEPEST = 8
_FORMATS = {
    "date-time": "2026-06-01T06:00:00Z",
    "date": "2026-06-01",
    "time": "06:00:00Z",
    "duration": "PT1H",
    "email": "someone@pellam.example",
    "hostname": "host.example",
    "uri": "https://host.example/",
    "uuid": "00000000-0000-4000-8000-000000000000",
}


class Impossible(Exception):
    """No instance could be made."""


def sample(document: Document, node: Node, depth: int = 0) -> Any:
    """Return an instance of a node; raise `Impossible` when none is found."""
    if not node.places:
        return "anything"
    if depth > _DEEPEST:
        raise Impossible
    for branch in document.branches(node):
        try:
            return sample_branch(document, branch, depth)
        except Impossible:
            continue
    raise Impossible


def sample_branch(document: Document, branch: Facets, depth: int = 0) -> Any:
    """Return an instance of one branch; raise `Impossible` when none is found."""
    document.budget.spend()
    if branch.values is not None:
        return branch.values[0]
    (name,) = branch.types
    for hint in branch.hints:
        if accepts(document, branch, hint) is not False and type_of(hint) == name:
            return hint
    if name == "number":
        return sample_number(branch)
    if name == "string":
        return _string(branch)
    return _array(document, branch, depth) if name == "array" else _object(document, branch, depth)


def sample_number(branch: Facets) -> float:
    """Return a number of a branch: its step's first multiple inside the interval."""
    step = max(branch.multiples, default=Fraction(1))
    start = (
        branch.low.value
        if branch.low
        else min(branch.high.value, Fraction(1))
        if branch.high
        else Fraction(1)
    )
    number = -((-start) // step) * step
    if branch.low and branch.low.exclusive and number <= branch.low.value:
        number += step
    if branch.high and number >= branch.high.value and not branch.multiples and branch.low:
        number = (branch.low.value + branch.high.value) / 2
    elif (
        branch.high and number >= branch.high.value and (number > branch.high.value or branch.high.exclusive)
    ):
        number = (branch.high.value // step) * step
        if branch.high.exclusive and number == branch.high.value:
            number -= step
    return plain(number)


def plain(number: Fraction) -> float:
    """Return a fraction as the plainest JSON number."""
    return int(number) if number.denominator == 1 else float(number)


def _string(branch: Facets) -> str:
    text = _FORMATS.get(branch.format, "text")
    if branch.longest is not None and len(text) > branch.longest:
        text = text[: branch.longest]
    return text + "x" * (min(branch.shortest, 10_000) - len(text))


def _array(document: Document, branch: Facets, depth: int) -> list[Any]:
    count = min(branch.fewest_items, 100)
    return [sample(document, document.element(branch, index), depth + 1) for index in range(count)]


def _object(document: Document, branch: Facets, depth: int) -> dict[str, Any]:
    value = {name: sample(document, document.member(branch, name), depth + 1) for name in branch.required}
    optional = [name for members in branch.members for name in members.properties if name not in value]
    for name in optional[: max(0, branch.fewest_members - len(value))]:
        value[name] = sample(document, document.member(branch, name), depth + 1)
    for index in range(min(100, branch.fewest_members - len(value))):
        value[f"member_{index + 1}"] = sample(document, document.other_members(branch), depth + 1)
    return value
