"""Who works at Pellam Sound Ferries."""

from __future__ import annotations

from dataclasses import dataclass

TEAMS = {
    "berths": "Berths",
    "crew": "Crew",
    "fleet-upkeep": "Fleet upkeep",
    "ticketing": "Ticketing",
    "shore-freight": "Shore freight",
}


@dataclass(frozen=True)
class Account:
    """One invented account; CI accounts have no password."""

    username: str
    name: str
    role: str
    teams: tuple[str, ...] = ()
    desks: tuple[str, ...] = ()


ACCOUNTS = (
    Account("pell", "Pell Ashdown", "steward"),
    Account("ines", "Ines Varga", "curator", (), ("curators",)),
    Account("oskar", "Oskar Lund", "curator", (), ("curators",)),
    Account("tomas", "Tomas Eide", "submitter", ("berths",)),
    Account("mira", "Mira Holt", "submitter", ("crew",)),
    Account("jonas", "Jonas Reed", "submitter", ("ticketing", "shore-freight")),
    Account("signe", "Signe Falk", "submitter", ("fleet-upkeep",)),
    Account("runa", "Runa Blythe", "reader", (), ("security",)),
    Account("kari", "Kari Moen", "reader", (), ("security",)),
    Account("edda", "Edda Thorne", "reader"),
    Account("ci-berths", "CI of the Berths team", "ci", ("berths",)),
)
DESKS = {"curators": "Curators", "security": "Security"}
PASSWORD = "skerry-light-2210"
