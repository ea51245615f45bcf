"""What a state of the ledger consists of: people, desks, tokens, servers, releases, requests, and what was decided.

Every value is frozen.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from msgspec import Struct, field

from tallshelf.core.routing import Route


class Entry(Struct, frozen=True):
    """One entry of the ledger, or an act that would become one.

    ``body`` is None where a proof carries the digest of the entry only. ``at`` is a moment (UTC, ISO 8601),
    ``number`` the entry's place in the chain, from 1.
    """

    number: int
    at: str
    event: str
    actor: str
    via: str
    body: Mapping[str, Any] | None

    @property
    def token(self) -> int | None:
        """The number of the token by which it was done, or None."""
        kind, _, rest = self.via.partition(":")
        number = rest.split(" ", 1)[0]
        return int(number) if kind == "token" and number.isdigit() else None

    @property
    def by_machine(self) -> bool:
        """Whether it was done by a command on the service's own machine."""
        return self.actor == MACHINE and self.via == LOCAL

    @property
    def by_clock(self) -> bool:
        """Whether the service did it by itself."""
        return self.actor == CLOCK and self.via == CLOCK


MACHINE, CLOCK, LOCAL = "setup", "clock", "local"
RESERVED = frozenset({MACHINE, CLOCK, LOCAL, "default"})
"""User names that no account has: the ledger names by them what no person did."""


class Membership(Struct, frozen=True):
    """That somebody belonged to a team, from one entry on until another (None: still)."""

    team: str
    since: int
    until: int | None = None


class Person(Struct, frozen=True):
    username: str
    role: str
    active: bool
    memberships: tuple[Membership, ...] = ()

    @property
    def teams(self) -> frozenset[str]:
        return frozenset(membership.team for membership in self.memberships if membership.until is None)

    def was_in(self, team: str, since: int) -> bool:
        """Whether they belonged to a team at any moment from an entry on."""
        return any(
            membership.team == team and (membership.until is None or membership.until > since)
            for membership in self.memberships
        )


class Seat(Struct, frozen=True):
    """A seat at a desk; ``entry`` is the one by which it was taken, ``exact`` whether that tells the moment."""

    username: str
    since: datetime
    entry: int
    exact: bool = True


class Desk(Struct, frozen=True):
    slug: str
    owner_team_excluded: bool
    seats: tuple[Seat, ...] = ()
    lead: str = ""

    def seat(self, username: str) -> Seat | None:
        return next((one for one in self.seats if one.username == username), None)


class Deputy(Struct, frozen=True):
    """Who signs in whose place, from a moment until another."""

    number: int
    person: str
    deputy: str
    since: datetime
    until: datetime
    ended: bool = False


class Token(Struct, frozen=True):
    """A token: whose, made by whom, perhaps by which other token, for what, and until when."""

    number: int
    owner: str
    maker: str
    scopes: frozenset[str]
    parent: int | None
    expires_at: datetime
    hash: str
    ended: bool = False


class HandedIn(Struct, frozen=True):
    """That somebody handed in a snapshot, or terms, with everybody who is behind it."""

    entry: int
    who: tuple[str, ...]
    request: int
    kind: str
    version: str
    snapshot: str
    subject: str = ""


class Server(Struct, frozen=True):
    slug: str
    team: str
    data_class: str
    handed_in: tuple[HandedIn, ...] = ()
    versions: tuple[str, ...] = ()
    past_teams: frozenset[str] = frozenset()
    scheme: str = "semver"
    use: str = "open"


class Release(Struct, frozen=True):
    server: str
    version: str
    state: str
    digest: str
    snapshot: str
    published: int = 0
    request: int = 0


class Assessed(Struct, frozen=True):
    """What an entry says of the assessment that a request rests on, as digests, names and values.

    ``gates`` are the gates that fail, each with the items at fault; ``substance`` is the digest of what was
    found, whatever it was found by.
    """

    digest: str
    base: str | None = None
    inputs: Mapping[str, str] = field(default_factory=dict)
    substance: str = ""
    gates: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    facts: Mapping[str, Any] = field(default_factory=dict)
    rule_set: int = 0

    @property
    def told(self) -> bool:
        """Whether the entry says enough to route by; those of before the chain was keyed do not."""
        return bool(self.facts)


class SignOff(Struct, frozen=True):
    """One answer; ``holder`` is in whose place it was given, empty for one's own.

    ``despite`` has the gates that failed, each with the reason why they agreed all the same.
    """

    entry: int
    at: datetime
    who: str
    holder: str
    desk: str
    answer: str
    release: str
    assessment: str
    rule_set: int
    despite: tuple[tuple[str, str], ...] = ()
    voided: bool = False


class Request(Struct, frozen=True):
    """A request as the ledger tells it; ``route`` is what the rules of its time make of its facts.

    ``asked_at`` is when that route began; ``questions`` are the questions and objections that are open.
    """

    number: int
    kind: str
    server: str
    version: str
    item: str
    terms: Mapping[str, Any]
    state: str
    release: str
    snapshot: str
    assessed: Assessed
    route: Route | None
    opened: int
    opened_at: datetime
    asked_at: datetime | None = None
    sign_offs: tuple[SignOff, ...] = ()
    questions: frozenset[int] = frozenset()
    done: int = 0

    @property
    def counting(self) -> tuple[SignOff, ...]:
        """The answers that were not voided."""
        return tuple(sign_off for sign_off in self.sign_offs if not sign_off.voided)


class Proposal(Struct, frozen=True):
    """What one person proposed and another may put in force: rules, a style, a ruling, known findings."""

    number: int
    by: str
    state: str
    body: Mapping[str, Any]


class Waiver(Struct, frozen=True):
    number: int
    server: str
    rule: str
    item: str
    pointer: str | None
    until: datetime
    by: str
    state: str
    fingerprints: tuple[str, ...] = ()


class Kit(Struct, frozen=True):
    """A kit: whose, what it may see, what it picks, and the digests of what it says and of what it holds.

    ``releases`` are those it holds items of: server, version, release digest.
    """

    name: str
    team: str
    data_class: str
    digest: str
    lock: str
    picks: tuple[Mapping[str, Any], ...]
    releases: frozenset[tuple[str, str, str]] = frozenset()
    dropped: bool = False


class Use(Struct, frozen=True):
    """That a kit of a team may use a server: at versions, some items or (``reading``) all that only read."""

    kit: str
    team: str
    server: str
    version: str
    items: tuple[str, ...]


class Webhook(Struct, frozen=True):
    """Where events are sent: for which team, what about (``team`` or ``catalog``); ``round`` counts its secrets."""

    number: int
    team: str
    address: str
    about: str
    types: tuple[str, ...]
    round: int = 1
    ended: bool = False


class UserNote(Struct, frozen=True):
    """A note that a user left on a release of a server."""

    server: str
    by: str
