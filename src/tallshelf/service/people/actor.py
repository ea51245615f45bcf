"""Who does something, as one value: actions and queries take it, and nothing else, as identity."""

from __future__ import annotations

from dataclasses import dataclass

from tallshelf.core.entitlement import ALL_SCOPES, SCOPES, SYSTEM_CLOCK

__all__ = ["ALL_SCOPES", "CLOCK", "SCOPES", "Actor"]


@dataclass(frozen=True)
class Actor:
    """One authenticated caller.

    ``scopes`` limits what a token may do; a session has them all. ``via`` names the session or
    token for the ledger, without any secret; there is none by default.
    """

    id: int
    username: str
    name: str
    role: str
    teams: frozenset[str]
    via: str
    desks: frozenset[str] = frozenset()
    scopes: frozenset[str] = ALL_SCOPES

    @property
    def token(self) -> int | None:
        """The number of the token by which they ask, or None."""
        kind, _, rest = self.via.partition(":")
        number = rest.split(" ", 1)[0]
        return int(number) if kind == "token" and number.isdigit() else None

    @property
    def is_authenticated(self) -> bool:
        """Django REST framework asks this of whoever is signed in."""
        return True

    @property
    def pk(self) -> int:
        """Django REST framework throttles by this."""
        return self.id


CLOCK = Actor(
    id=0, username=SYSTEM_CLOCK, name="The clock", role="steward", teams=frozenset(), via=SYSTEM_CLOCK
)
"""Who does what is due by itself."""
