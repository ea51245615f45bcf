"""Taking entries in, one small function for each event: what it changes in the `State`.

Entries of before the chain was keyed say less; what they lack is counted in `State.not_told` and nothing is made
up for it.
"""

from __future__ import annotations

from tallshelf.core.entitlement import tell_catalog, tell_kits, tell_people, tell_requests, tell_telling
from tallshelf.core.entitlement.records import Entry
from tallshelf.core.entitlement.state import State

_TELLS = {
    **tell_people.TELLS,
    **tell_catalog.TELLS,
    **tell_requests.TELLS,
    **tell_kits.TELLS,
    **tell_telling.TELLS,
}


def tell(state: State, entry: Entry) -> None:
    """Take one entry in; `State.begin` was called for it. Unknown events change nothing."""
    handler = _TELLS.get(entry.event)  # type: ignore[call-overload]
    if handler is None or entry.body is None:
        return
    handler(state, entry, entry.body)
