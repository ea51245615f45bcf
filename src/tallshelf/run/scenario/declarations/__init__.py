"""What the servers of the scenario declare, release by release, faults included."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tallshelf.run.scenario.declarations import berths, crew, freight, ticketing, upkeep

__all__ = ["declared", "names"]

_SERVERS: dict[str, Callable[[str], dict[str, Any]]] = {
    **berths.SERVERS,
    **crew.SERVERS,
    **upkeep.SERVERS,
    **ticketing.SERVERS,
    **freight.SERVERS,
}


def declared(name: str, version: str) -> dict[str, Any]:
    """Return the snapshot document of a server's release; ``1.1.0+running`` is one that drifted."""
    return _SERVERS[name](version)


def names() -> list[str]:
    """Return the names of the servers of the scenario."""
    return sorted(_SERVERS)
