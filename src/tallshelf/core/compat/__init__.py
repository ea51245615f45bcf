"""Containment of JSON Schemas: proof, refutation by witness, or *undecided*."""

from tallshelf.core.compat._compare import compare_schemas
from tallshelf.core.compat._dialect import KEYWORDS
from tallshelf.core.compat.of_objects import of_objects
from tallshelf.core.compat.result import Comparison, Difference, Position, Reading, Verdict, Witness
from tallshelf.core.compat.stand_in import Obstacle, StandIn, stand_in

__all__ = [
    "KEYWORDS",
    "Comparison",
    "Difference",
    "Obstacle",
    "Position",
    "Reading",
    "StandIn",
    "Verdict",
    "Witness",
    "compare_schemas",
    "of_objects",
    "stand_in",
]
