"""Desks that rules name without anybody sitting there for good: the teams that a request concerns.

A team's desk has the slug ``team:SLUG``; its members sit at it for as long as they belong to the team.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tallshelf.core.routing.facts import Facts

FALLBACK_DESK = "curators"
HIT_TEAMS, OWNER_TEAM = "hit-teams", "owner-team"
RESERVED = frozenset({HIT_TEAMS, OWNER_TEAM})
"""Names that a rule asks by, and no desk has: the owner teams of the kits that are hit, and that of the server."""
_PREFIX = "team:"


def team_desk(team: str) -> str:
    """Return the slug of a team's desk."""
    return _PREFIX + team


def team_of(desk: str) -> str:
    """Return whose desk it is; empty for one where people have seats."""
    return desk.removeprefix(_PREFIX) if desk.startswith(_PREFIX) else ""


def asked_by(desk: str, facts: Facts) -> Sequence[str]:
    """Return the desks that a rule asks which names one; the hit teams but for the owner team, which has part in it."""
    if desk == OWNER_TEAM:
        return (team_desk(facts.team),)
    if desk == HIT_TEAMS:
        return tuple(team_desk(hit_team) for hit_team in facts.hit_teams if hit_team != facts.team)
    return (desk,)
