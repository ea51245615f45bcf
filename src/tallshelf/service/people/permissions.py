"""Who may do what: one table, walked by a test. What is not in it is denied."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from tallshelf.core.errors import Denied
from tallshelf.service.people.actor import Actor

Reach = Literal["any", "own team"]
_ROLES = ("reader", "submitter", "curator", "steward", "ci")


@dataclass(frozen=True)
class Act:
    """One act: the token scope it needs, and for each role how far it reaches (absent: never)."""

    scope: str
    roles: dict[str, Reach]
    what: str


def _everyone(reach: Reach = "any") -> dict[str, Reach]:
    return dict.fromkeys(_ROLES, reach)


_KEEPERS: dict[str, Reach] = {"curator": "any", "steward": "any"}
_OWNERS: dict[str, Reach] = {"submitter": "own team", **_KEEPERS}

ACTS: dict[str, Act] = {
    "see": Act("read", _everyone(), "see published and deprecated releases"),
    "see-unpublished": Act(
        "read", {**_OWNERS, "ci": "own team"}, "see drafts and requests (reviewers: those of their desk)"
    ),
    "check": Act("check", _everyone(), "check a snapshot, storing nothing"),
    "enrol": Act("submit", _OWNERS, "enrol a server"),
    "edit": Act("submit", _OWNERS, "edit what the catalog says about a server"),
    "submit": Act("submit", {**_OWNERS, "ci": "own team"}, "submit a release"),
    "ask": Act("submit", _OWNERS, "ask for an act on a server or release"),
    "comment": Act(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "comment on a request that they see, take it, or close a follow-up",
    ),
    "name-deputy": Act(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "name who signs in their place",
    ),
    "take-back": Act("submit", _OWNERS, "take a request back"),
    "sign-off": Act(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "sign off at a desk they sit at",
    ),
    "publish": Act("submit", {**_OWNERS, "ci": "own team"}, "publish an agreed request"),
    "ask-waiver": Act("submit", _OWNERS, "ask for a waiver"),
    "curate": Act("curate", _KEEPERS, "change desks, rules, house style and data class"),
    "suspend": Act("submit", _OWNERS, "suspend a server or item"),
    "own-tokens": Act(
        "read", dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"), "make own tokens"
    ),
    "see-ledger": Act("read", _KEEPERS, "read the whole ledger"),
    "administer": Act("administer", {"steward": "any"}, "people, settings, tokens of CI accounts"),
}

_ASK = "Ask a curator, or someone of the owner team."


def refusal(actor: Actor, act: str, team: str | None = None) -> str | None:
    """Return why an actor may not do an act on something of a team, or None when they may."""
    rule = ACTS[act]
    reach = rule.roles.get(actor.role)
    if reach is None:
        return f"a {actor.role} may not {rule.what}"
    if rule.scope not in actor.scopes:
        return f"this token lacks the scope {rule.scope!r}, which is needed to {rule.what}"
    if reach == "own team" and team not in actor.teams:
        return f"a {actor.role} may {rule.what} only for an own team, and {team or 'this'} is not one"
    return None


def reads_at(actor: Actor, desks: Iterable[str]) -> bool:
    """Whether an actor reads what some desks are asked about, since they sit at one of them."""
    return refusal(actor, "see") is None and not actor.desks.isdisjoint(desks)


def require(actor: Actor, act: str, team: str | None = None) -> None:
    """Raise `Denied` with the reason when an actor may not do an act."""
    reason = refusal(actor, act, team)
    if reason is not None:
        rule = ACTS[act]
        scoped = actor.role in rule.roles and rule.scope not in actor.scopes
        remedy = f"Make a token with the scope {rule.scope} on your own page." if scoped else _ASK
        raise Denied(reason, remedy=remedy)
