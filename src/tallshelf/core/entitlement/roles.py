"""Who may do what: one table of roles, scopes and reach. What is not in it is denied."""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

from msgspec import Struct

SCOPES = ("read", "check", "submit", "sign", "curate", "administer", "tokens")
ALL_SCOPES = frozenset(SCOPES)
CI_SCOPES = frozenset({"read", "check", "submit"})
ROLES = ("reader", "submitter", "curator", "steward", "ci")
Reach = Literal["any", "own team"]


class Permission(Struct, frozen=True):
    """One act: the token scope it needs, and for each role how far it reaches (absent: never)."""

    scope: str
    roles: dict[str, Reach]
    what: str


def _everyone(reach: Reach = "any") -> dict[str, Reach]:
    return dict.fromkeys(ROLES, reach)


_KEEPERS: dict[str, Reach] = {"curator": "any", "steward": "any"}
_OWNERS: dict[str, Reach] = {"submitter": "own team", **_KEEPERS}
_ACCOUNT = {"ci": "CI account"}

ACTS: dict[str, Permission] = {
    "see": Permission("read", _everyone(), "see published and deprecated releases"),
    "see-unpublished": Permission(
        "read", {**_OWNERS, "ci": "own team"}, "see drafts and requests (reviewers: those of their desk)"
    ),
    "check": Permission("check", _everyone(), "check a snapshot, storing nothing"),
    "enrol": Permission("submit", _OWNERS, "enrol a server"),
    "edit": Permission("submit", _OWNERS, "edit what the catalog says about a server"),
    "submit": Permission("submit", {**_OWNERS, "ci": "own team"}, "submit a release"),
    "ask": Permission("submit", _OWNERS, "ask for an act on a server or release"),
    "comment": Permission(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "comment on a request that they see, take it, or close a follow-up",
    ),
    "choose-told": Permission(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "choose what they are told of, and how",
    ),
    "leave-note": Permission(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "leave a note on a release",
    ),
    "name-deputy": Permission(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "name who signs in their place",
    ),
    "take-back": Permission("submit", _OWNERS, "take a request back"),
    "sign-off": Permission(
        "sign",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "sign off at a desk they sit at",
    ),
    "publish": Permission("submit", {**_OWNERS, "ci": "own team"}, "publish an agreed request"),
    "ask-waiver": Permission("submit", _OWNERS, "ask for a waiver"),
    "curate": Permission("curate", _KEEPERS, "change desks, rules, house style and data class"),
    "suspend": Permission("submit", _OWNERS, "suspend a server or item"),
    "own-tokens": Permission(
        "tokens",
        dict.fromkeys(("reader", "submitter", "curator", "steward"), "any"),
        "make and end own tokens and sign-ins",
    ),
    "keep-kit": Permission(
        "submit",
        {"reader": "own team", **_OWNERS},
        "put, move and drop a kit",
    ),
    "keep-webhook": Permission("submit", _OWNERS, "make, rotate and end a webhook"),
    "report-looks": Permission(
        "check", {**_OWNERS, "ci": "own team"}, "report how a running server was found"
    ),
    "see-ledger": Permission("read", _KEEPERS, "read the whole ledger"),
    "administer": Permission(
        "administer", {"steward": "any"}, "administer people, settings and tokens of CI accounts"
    ),
}


def refusal_of(
    role: str, scopes: Collection[str], teams: Collection[str], act: str, team: str | None = None
) -> str | None:
    """Return why somebody may not do an act on something of a team, or None when they may."""
    rule = ACTS[act]
    reach = rule.roles.get(role)
    if reach is None:
        return f"a {_ACCOUNT.get(role, role)} may not {rule.what}"
    if rule.scope not in scopes:
        return f"this token lacks the scope {rule.scope!r}, which is needed to {rule.what}"
    if reach == "own team" and team not in teams:
        return f"a {_ACCOUNT.get(role, role)} may {rule.what} only for an own team, and {team or 'this'} is not one"
    return None
