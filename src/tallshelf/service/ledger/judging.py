"""Asking the judge beforehand, for pages: whether somebody would be entitled to an act."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tallshelf.core.entitlement import Entry as Act
from tallshelf.core.entitlement import Refused, State, entitled, why_not_waive
from tallshelf.service import clock
from tallshelf.service.ledger import memory
from tallshelf.service.people.actor import Actor


def as_act(state: State, actor: Actor, event: str = "", body: Mapping[str, Any] | None = None) -> Act:
    """Return what an actor would do now as the entry that it would become."""
    return Act(state.number + 1, clock.now().isoformat(), event, actor.username, actor.via, body or {})


def refusal_to(actor: Actor, event: str, body: Mapping[str, Any]) -> str | None:
    """Return why the ledger would not entitle an actor to an act, or None when it would."""
    with memory.told() as state:
        verdict = entitled(state, as_act(state, actor, event, body))
    return verdict.reason if isinstance(verdict, Refused) else None


def refusal_to_waive(actor: Actor, number: int) -> str | None:
    """Return why an actor may not grant or refuse a waiver, or None when they may."""
    with memory.told() as state:
        waiver = state.waivers.get(number)
        if waiver is None:
            return "the ledger does not tell of this waiver"
        return why_not_waive(state, as_act(state, actor), waiver)
