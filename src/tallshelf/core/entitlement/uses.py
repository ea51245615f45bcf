"""The use of a server that asks its owner: which picks of a kit were agreed to, and which are to be asked."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from tallshelf.core.entitlement.state import State
from tallshelf.core.kits import ONLY_READING, parse_range

Pick = Mapping[str, Any]


def unagreed(state: State, kit: str, team: str, picks: Iterable[Pick]) -> Iterator[Pick]:
    """Yield the picks of a kit to whose use nobody agreed: of servers that ask, wider than agreed to or held before.

    The owner team asks itself nothing. Each pick has ``server``, ``version`` and ``items`` as `Pick.document` writes
    them.
    """
    live = state.kits.get(kit)
    before = (
        {one["server"]: one for one in live.picks} if live and not live.dropped and live.team == team else {}
    )
    for pick in picks:
        server = state.servers.get(pick["server"])
        if server is None or server.use != "ask" or server.team == team:
            continue
        allowed = state.uses.get((kit, server.slug))
        there = [before[server.slug]] if server.slug in before else []
        if allowed is not None and allowed.team == team:
            there.append({"version": allowed.version, "items": list(allowed.items)})
        if not any(_covers(one, pick) for one in there):
            yield pick


def items_of(pick: Pick) -> list[str]:
    """Return the items of a pick as entries name them: identities, or ``reading`` alone."""
    items = pick["items"]
    return [ONLY_READING] if items in (ONLY_READING, [ONLY_READING]) else sorted(items)


def _covers(agreed: Pick, wanted: Pick) -> bool:
    """Whether a pick takes nothing that another one does not take."""
    version, other = parse_range(wanted["version"]), parse_range(agreed["version"])
    same = version.text == other.text or other.form == "current"
    narrower = version.form == "exact" and other.takes(version.text)
    return (same or narrower) and set(items_of(wanted)) <= set(items_of(agreed))
