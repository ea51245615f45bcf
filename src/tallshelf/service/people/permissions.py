"""Who may do what, as the table in `core.entitlement` says: what an actor is refused before an act is tried."""

from __future__ import annotations

from collections.abc import Iterable

from tallshelf.core.entitlement import ACTS, refusal_of
from tallshelf.core.errors import Denied
from tallshelf.core.routing import team_desk
from tallshelf.service.people.actor import Actor

_ASK = "Ask a curator, or someone of the owner team."


def refusal(actor: Actor, act: str, team: str | None = None) -> str | None:
    """Return why an actor may not do an act on something of a team, or None when they may."""
    return refusal_of(actor.role, actor.scopes, actor.teams, act, team)


def reads_at(actor: Actor, desks: Iterable[str]) -> bool:
    """Whether an actor reads what some desks are asked about: they sit at one of them, or it is their team's."""
    own = actor.desks | {team_desk(team) for team in actor.teams}
    return refusal(actor, "see") is None and not own.isdisjoint(desks)


def require(actor: Actor, act: str, team: str | None = None) -> None:
    """Raise `Denied` with the reason when an actor may not do an act."""
    reason = refusal(actor, act, team)
    if reason is not None:
        rule = ACTS[act]
        scoped = actor.role in rule.roles and rule.scope not in actor.scopes
        remedy = f"Make a token with the scope {rule.scope} on your own page." if scoped else _ASK
        raise Denied(reason, remedy=remedy)
