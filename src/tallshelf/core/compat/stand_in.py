"""Whether one tool can take another's place, for its callers and its receivers."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from msgspec import Struct

from tallshelf.core.compat._compare import compare_schemas
from tallshelf.core.compat.of_objects import of_objects
from tallshelf.core.compat.result import Difference, Position


class Obstacle(Struct, frozen=True):
    """One thing in the way: in the arguments (``input``) or the results (``output``)."""

    position: Position
    difference: Difference

    @property
    def verdict(self) -> Literal["breaking", "undecided", "ignored"]:
        """What the second does with it: refuses or may answer it, ignores it, or nobody found out."""
        if _is_ignored(self.difference):
            return "ignored"
        return "breaking" if self.difference.verdict == "breaking" else "undecided"


class StandIn(Struct, frozen=True):
    """``stands_in`` is None when it could be neither shown nor refuted."""

    stands_in: bool | None
    obstacles: tuple[Obstacle, ...]


def stand_in(a: Mapping[str, Any], b: Mapping[str, Any]) -> StandIn:
    """Ask whether tool ``b`` can take the place of tool ``a``, both as MCP declares them.

    It can when it takes every call that ``a`` takes, reads all that is given in it, and answers with
    nothing that ``a`` would not. An argument that it takes and does not declare is in the way: it is ignored.
    Parameters are matched by name. A tool that promises no result can be replaced by any.
    """
    obstacles = list(_obstacles(a.get("inputSchema", {}), b.get("inputSchema", {}), "input"))
    if "outputSchema" in a:
        if "outputSchema" in b:
            obstacles += _obstacles(a["outputSchema"], b["outputSchema"], "output")
        else:
            message = "it promises no structured result, and the first does"
            obstacles.append(Obstacle("output", Difference("outputSchema", "breaking", message, "", None)))
    if any(obstacle.verdict in ("breaking", "ignored") for obstacle in obstacles):
        return StandIn(False, tuple(obstacles))
    return StandIn(None if obstacles else True, tuple(obstacles))


def _obstacles(old: Any, new: Any, position: Position) -> list[Obstacle]:
    comparison = compare_schemas(of_objects(old), of_objects(new), position, "as-declared")
    differences = [
        difference
        for difference in comparison.differences
        if difference.verdict in ("breaking", "undecided") or _is_ignored(difference)
    ]
    if not differences and comparison.verdict in ("breaking", "undecided"):
        differences = [Difference("", comparison.verdict, comparison.reason, "", "", comparison.witness)]
    return [Obstacle(position, difference) for difference in differences]


def _is_ignored(difference: Difference) -> bool:
    return difference.keyword == "argument-ignored" and difference.witness is not None
