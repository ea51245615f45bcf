"""Building a change by its row of the protocol table."""

from __future__ import annotations

from typing import Any

from tallshelf.core.changes.result import Change
from tallshelf.core.changes.table import TABLE


def make(kind: str, item: str, message: str, **fields: Any) -> Change:
    """Build a change with the impact and reach that its row of the table gives."""
    row = TABLE[kind]
    fields.setdefault("impact", row.impact)
    fields.setdefault("reach", row.reach)
    if fields["impact"] == "breaking":
        fields.setdefault("proof", "protocol-table")
    return Change(item=item, kind=kind, message=message, silent=row.silent, **fields)
