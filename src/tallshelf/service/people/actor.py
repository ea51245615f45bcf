"""Who does something, as one value: actions and queries take it, and nothing else, as identity."""

from __future__ import annotations

from dataclasses import dataclass

SCOPES = ("read", "check", "submit", "sign", "curate", "administer")
ALL_SCOPES = frozenset(SCOPES)


@dataclass(frozen=True)
class Actor:
    """One authenticated caller.

    ``scopes`` limits what a token may do; a session has them all. ``via`` names the session or
    token for the ledger, without any secret.
    """

    id: int
    username: str
    name: str
    role: str
    teams: frozenset[str]
    desks: frozenset[str] = frozenset()
    scopes: frozenset[str] = ALL_SCOPES
    via: str = "local"

    @property
    def is_authenticated(self) -> bool:
        """Django REST framework asks this of whoever is signed in."""
        return True

    @property
    def pk(self) -> int:
        """Django REST framework throttles by this."""
        return self.id


CLOCK = Actor(id=0, username="clock", name="The clock", role="steward", teams=frozenset(), via="clock")
"""Who does what is due by itself."""
