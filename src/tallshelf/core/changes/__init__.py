"""What happened between two snapshots, and which next version is honest."""

from tallshelf.core.changes._compare import compare_snapshots
from tallshelf.core.changes._version import base_for, next_version
from tallshelf.core.changes.life import LifeStep, item_life
from tallshelf.core.changes.result import (
    IMPACTS,
    Change,
    Impact,
    NextVersion,
    Reach,
    SnapshotComparison,
)
from tallshelf.core.changes.table import TABLE, Row, worst

__all__ = [
    "IMPACTS",
    "TABLE",
    "Change",
    "Impact",
    "LifeStep",
    "NextVersion",
    "Reach",
    "Row",
    "SnapshotComparison",
    "base_for",
    "compare_snapshots",
    "item_life",
    "next_version",
    "worst",
]
