"""The judge: whether an act is one that the ledger alone entitles somebody to.

Each event has one rule. It is asked before an entry is written, and again when a ledger is verified; nothing
else decides what is in force.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Literal

from msgspec import Struct

from tallshelf.core.entitlement import _decisions, _kits, _people, _requests, _telling
from tallshelf.core.entitlement._common import Refusal
from tallshelf.core.entitlement.part import behind
from tallshelf.core.entitlement.records import Entry
from tallshelf.core.entitlement.state import State
from tallshelf.core.errors import UNREADABLE
from tallshelf.core.ledger.events import Event


class Entitled(Struct, frozen=True):
    """That an act may be done; ``who`` is everybody behind it."""

    who: tuple[str, ...]


class Refused(Struct, frozen=True):
    """That an act may not be done, and why.

    ``kind`` is ``denied`` (this person may not), ``conflict`` (it does not fit what stands) or ``moved`` (what
    was decided rests on what is not in force any more).
    """

    reason: str
    kind: Literal["denied", "conflict", "moved"] = "denied"


Rule = Callable[[State, Entry, Mapping[str, Any]], Refusal | None]

RULES: dict[Event, Rule] = {
    **_people.RULES,
    **_decisions.RULES,
    **_requests.RULES,
    **_kits.RULES,
    **_telling.RULES,
}


def entitled(state: State, act: Entry) -> Entitled | Refused:
    """Return whether the ledger up to an act entitles its actor to it.

    ``act.body`` is the payload of the entry that it would become. Events without a rule are refused.
    """
    rule = RULES.get(act.event)  # type: ignore[call-overload]
    if rule is None or act.body is None:
        return Refused(f"nobody is entitled to {act.event}")
    try:
        refusal = rule(state, act, act.body)
    except UNREADABLE as fault:
        return Refused(f"the ledger does not tell what {act.event} rests on ({fault})", "conflict")
    if refusal is None:
        return Entitled(behind(state, act))
    return Refused(refusal.reason, refusal.kind)
