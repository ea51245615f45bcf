"""What happened between two snapshots, and which next version is honest."""

from tallshelf.core.changes._compare import compare_snapshots
from tallshelf.core.changes._consent import effective, seems_to_write
from tallshelf.core.changes._ruled import SAME_MEANING, parts_of, with_rulings
from tallshelf.core.changes._version import base_for, next_version
from tallshelf.core.changes.grouping import (
    ChangeGroup,
    ItemChanges,
    groups_of,
    items_of,
    subject_of,
    word_of,
)
from tallshelf.core.changes.life import LifeStep, item_life
from tallshelf.core.changes.result import (
    IMPACTS,
    Change,
    Impact,
    NextVersion,
    Reach,
    SnapshotComparison,
)
from tallshelf.core.changes.table import LOOSENED_CONSENT, TABLE, Row, worst

__all__ = [
    "IMPACTS",
    "LOOSENED_CONSENT",
    "SAME_MEANING",
    "TABLE",
    "Change",
    "ChangeGroup",
    "Impact",
    "ItemChanges",
    "LifeStep",
    "NextVersion",
    "Reach",
    "Row",
    "SnapshotComparison",
    "base_for",
    "compare_snapshots",
    "effective",
    "groups_of",
    "item_life",
    "items_of",
    "next_version",
    "parts_of",
    "seems_to_write",
    "subject_of",
    "with_rulings",
    "word_of",
    "worst",
]
