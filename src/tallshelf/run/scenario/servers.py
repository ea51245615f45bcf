"""The two dozen servers of the scenario: who owns them, how they run."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Owned:
    """One server: who submits for it, what the catalog says of it, and over what it runs."""

    slug: str
    title: str
    team: str
    who: str
    data_class: str
    tags: tuple[str, ...]
    transport: str = "stdio"
    use: str = "open"


SERVERS = {
    owned.slug: owned
    for owned in (
        Owned("berth-planner", "Berth planner", "berths", "tomas", "internal", ("harbour", "planning")),
        Owned("tide-tables", "Tide tables", "berths", "tomas", "public", ("harbour",), "streamable-http"),
        Owned("pilotage", "Pilotage", "berths", "tomas", "internal", ("harbour",), use="ask"),
        Owned("harbour-radio", "Harbour radio", "berths", "tomas", "internal", ("harbour",)),
        Owned("incident-log", "Incident log", "berths", "tomas", "confidential", ("safety",)),
        Owned("crew-roster", "Crew roster", "crew", "mira", "internal", ("people", "planning")),
        Owned("crew-certificates", "Crew certificates", "crew", "mira", "confidential", ("people",)),
        Owned("rest-hours", "Rest hours", "crew", "mira", "confidential", ("people", "safety")),
        Owned("crew-travel", "Crew travel", "crew", "mira", "confidential", ("people",)),
        Owned("muster-drills", "Muster drills", "crew", "mira", "internal", ("safety",)),
        Owned("engine-log", "Engine log", "fleet-upkeep", "signe", "internal", ("engines",)),
        Owned("fuel-ledger", "Fuel ledger", "fleet-upkeep", "signe", "internal", ("engines",)),
        Owned("dry-dock", "Dry dock", "fleet-upkeep", "signe", "internal", ("planning",)),
        Owned("spare-parts", "Spare parts", "fleet-upkeep", "signe", "internal", ("engines", "stock")),
        Owned("hull-survey", "Hull survey", "fleet-upkeep", "signe", "internal", ("safety",)),
        Owned("fare-desk", "Fare desk", "ticketing", "jonas", "public", ("passengers",), "streamable-http"),
        Owned("bookings", "Bookings", "ticketing", "jonas", "confidential", ("passengers",)),
        Owned("passenger-notices", "Passenger notices", "ticketing", "jonas", "public", ("passengers",)),
        Owned("lost-property", "Lost property", "ticketing", "jonas", "confidential", ("passengers",)),
        Owned("vehicle-deck", "Vehicle deck", "ticketing", "jonas", "internal", ("planning",)),
        Owned("freight-manifest", "Freight manifest", "shore-freight", "jonas", "internal", ("freight",)),
        Owned("customs-notes", "Customs notes", "shore-freight", "jonas", "restricted", ("freight",)),
        Owned("cold-store", "Cold store", "shore-freight", "jonas", "internal", ("freight", "stock")),
        Owned("yard-slots", "Yard slots", "shore-freight", "jonas", "internal", ("freight",), "http+sse"),
    )
}
RUNNING = tuple(slug for slug, owned in SERVERS.items() if owned.transport != "stdio")
"""The servers that the demo runs over HTTP, in the order of their ports."""


def launch_records(slug: str, version: str, urls: dict[str, str]) -> list[dict[str, Any]]:
    """Return how the test and production environments run a server."""
    if slug in urls:
        return [{"environment": "production", "transport": SERVERS[slug].transport, "url": urls[slug]}]
    package = {
        "name": f"pellam-{slug}",
        "version": version,
        "integrity": "sha256-" + "0123456789abcdef" * 4,
    }
    words = ["-m", "tallshelf.run.scenario.tool_server", slug, version]
    return [
        {
            "environment": "production",
            "transport": "stdio",
            "command": "python",
            "args": words,
            "package": package,
            "env": ["PELLAM_TOKEN"] if slug == "freight-manifest" else [],
        },
        {"environment": "test", "transport": "stdio", "command": "python", "args": words},
    ]
