"""What several acts share."""

from __future__ import annotations

from tallshelf.core.errors import BadArgument


def need_reason(reason: str) -> str:
    """Return a reason without spaces around it; raise `BadArgument` when there is none."""
    if not reason.strip():
        raise BadArgument("a reason is needed", remedy="Say in a sentence why; it is kept in the ledger.")
    return reason.strip()
