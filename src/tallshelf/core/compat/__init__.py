"""Containment of JSON Schemas: proof, refutation by witness, or *undecided*."""

from tallshelf.core.compat._compare import compare_schemas
from tallshelf.core.compat._confirm import Unusable, validator
from tallshelf.core.compat.result import Comparison, Difference, Position, Reading, Verdict, Witness

__all__ = [
    "Comparison",
    "Difference",
    "Position",
    "Reading",
    "Unusable",
    "Verdict",
    "Witness",
    "compare_schemas",
    "validator",
]
