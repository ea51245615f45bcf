"""The algebra under the verdicts: what branches are made of two schemas is what instances say of them."""

from __future__ import annotations

from typing import Any

import jsonschema_rs
from hypothesis import given, settings
from hypothesis import strategies as st

from tallshelf.core.compat import compare_schemas
from tallshelf.core.compat._accepts import accepts, any_of
from tallshelf.core.compat._budget import Budget, Exhausted
from tallshelf.core.compat._dialect import DRAFT_2020
from tallshelf.core.compat._form import Node, complement, type_of
from tallshelf.core.compat._normal import Document
from tallshelf.core.compat._space import EVERYTHING, Space
from tests.core.schemas import INSTANCES, SCHEMAS

SETTINGS = settings(max_examples=120)
SOME = st.lists(INSTANCES, min_size=1, max_size=5)


class Algebra:
    """Two or three schemas in one space."""

    def __init__(self, *schemas: Any) -> None:
        self.space = Space(Budget(20_000))
        self.roots = [
            Document(one, DRAFT_2020, self.space, f"s{number}").root for number, one in enumerate(schemas)
        ]
        self.valid = [
            jsonschema_rs.Draft202012Validator(one, validate_formats=False).is_valid for one in schemas
        ]

    def said(self, branches: Any, value: Any) -> bool | None:
        """Whether a union of branches takes a value."""
        return any_of(accepts(self.space, one, value) for one in branches if type_of(value) in one.types)

    def not_of(self, node: Node) -> Node:
        return Node((complement(node),))

    def both(self, *nodes: Node) -> Node:
        return Node(tuple(place for node in nodes for place in node.places))


def agree(said: bool | None, told: bool) -> bool:
    return said is None or said is told


@SETTINGS
@given(SCHEMAS, SCHEMAS, SOME)
def test_intersection_complement_and_difference_are_those_of_instances(one, other, values):
    algebra = Algebra(one, other)
    (a, b), (is_a, is_b) = algebra.roots, algebra.valid
    try:
        both = algebra.space.branches(algebra.both(a, b))
        neither = algebra.space.branches(algebra.both(algebra.not_of(a), algebra.not_of(b)))
        less = algebra.space.less(algebra.space.branches(a), algebra.space.branches(b))
        turned = algebra.space.branches(algebra.not_of(a))
    except Exhausted:
        return
    for value in values:
        assert agree(algebra.said(both, value), is_a(value) and is_b(value))
        assert agree(algebra.said(neither, value), not is_a(value) and not is_b(value))
        assert agree(algebra.said(less, value), is_a(value) and not is_b(value))
        assert agree(algebra.said(turned, value), not is_a(value))


@SETTINGS
@given(SCHEMAS, SCHEMAS, SCHEMAS, SOME)
def test_de_morgan_distributivity_and_absorption_hold_on_instances(one, other, third, values):
    algebra = Algebra(one, other, third)
    space, (a, b, c) = algebra.space, algebra.roots
    try:
        branches = [space.branches(root) for root in (a, b, c)]
        laws = {
            "De Morgan": (
                space.less(EVERYTHING, space.met(branches[0], branches[1])),
                [*space.less(EVERYTHING, branches[0]), *space.less(EVERYTHING, branches[1])],
            ),
            "De Morgan's other": (
                space.less(EVERYTHING, [*branches[0], *branches[1]]),
                space.met(space.less(EVERYTHING, branches[0]), space.less(EVERYTHING, branches[1])),
            ),
            "distributivity": (
                space.met(branches[0], [*branches[1], *branches[2]]),
                [*space.met(branches[0], branches[1]), *space.met(branches[0], branches[2])],
            ),
            "absorption": (space.met(branches[0], [*branches[0], *branches[1]]), branches[0]),
            "double complement": (space.less(EVERYTHING, space.less(EVERYTHING, branches[0])), branches[0]),
        }
    except Exhausted:
        return
    for law, (left, right) in laws.items():
        for value in values:
            answers = {algebra.said(left, value), algebra.said(right, value)} - {None}
            assert len(answers) < 2, (law, value)


@SETTINGS
@given(SCHEMAS, SCHEMAS, SCHEMAS)
def test_verdicts_are_transitive(one, other, third):
    fine = ("compatible", "identical")
    first, second, whole = (
        compare_schemas(*pair, "input").verdict for pair in ((one, other), (other, third), (one, third))
    )
    if first in fine and second in fine:
        assert whole != "breaking"
        if first == second == "identical":
            assert compare_schemas(third, one, "input").verdict != "breaking"
