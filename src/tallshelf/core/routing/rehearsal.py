"""Trying a rule set on requests of the past: who would have been asked."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from tallshelf.core.routing.facts import Facts
    from tallshelf.core.routing.route import Route, RuleSet


class DeskLoad(Struct, frozen=True):
    """How many requests and sign-offs a desk had to give, and would have had to."""

    desk: str
    requests_before: int
    requests_after: int
    sign_offs_before: int
    sign_offs_after: int


class Moved(Struct, frozen=True):
    """One request that would have gone another way: desks it would have reached besides, and not at all."""

    request: int
    added: tuple[str, ...]
    dropped: tuple[str, ...]


class Rehearsal(Struct, frozen=True):
    """What a rule set would have done: how many requests it was tried on, desks, and those that moved."""

    requests: int
    desks: tuple[DeskLoad, ...]
    moved: tuple[Moved, ...]
    approved_by_rule_before: int
    approved_by_rule_after: int


def try_rules(now: RuleSet, wanted: RuleSet, past: Iterable[tuple[int, Facts]]) -> Rehearsal:
    """Route past requests, by number and facts, under the rules in force and under other ones."""
    routes = [(number, now.route(facts), wanted.route(facts)) for number, facts in past]
    loads = (
        [Counter(_asked(route)) for route in _columns(routes, 1)],
        [Counter(_asked(route)) for route in _columns(routes, 2)],
    )
    desks = sorted({desk for side in loads for load in side for desk in load})
    moved = [
        Moved(
            number,
            tuple(sorted({*_asked(after)} - {*_asked(before)})),
            tuple(sorted({*_asked(before)} - {*_asked(after)})),
        )
        for number, before, after in routes
        if _asked(before) != _asked(after)
    ]
    return Rehearsal(
        requests=len(routes),
        desks=tuple(
            DeskLoad(
                desk,
                *(sum(desk in load for load in side) for side in loads),
                *(sum(load[desk] for load in side) for side in loads),
            )
            for desk in desks
        ),
        moved=tuple(moved),
        approved_by_rule_before=sum(not before.steps for _, before, _ in routes),
        approved_by_rule_after=sum(not after.steps for _, _, after in routes),
    )


def _columns(routes: list[tuple[int, Route, Route]], at: int) -> list[Route]:
    return [row[at] for row in routes]  # type: ignore[misc]


def _asked(route: Route) -> dict[str, int]:
    """Return how many sign-offs each desk is asked for."""
    asked: Counter[str] = Counter()
    for step in route.steps:
        for seat in step.seats:
            asked[seat.desk] += seat.sign_offs
    return dict(asked)
