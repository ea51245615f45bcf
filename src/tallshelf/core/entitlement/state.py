"""What the ledger alone says: people, desks, tokens, servers, releases, requests, and what was decided.

Every value is frozen. The tables of a `State` are changed through `State.put` and `State.drop` only, which
keep what stood there, so that entries of a transaction that came to nothing can be taken back again
(`State.rewind`).
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, TypeVar

from tallshelf.core.routing import Route, RuleSet

_KEPT_STEPS = 2000
_GONE: Any = object()


@dataclass(frozen=True)
class Entry:
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


@dataclass(frozen=True)
class Membership:
    """That somebody belonged to a team, from one entry on until another (None: still)."""

    team: str
    since: int
    until: int | None = None


@dataclass(frozen=True)
class Person:
    username: str
    role: str
    active: bool
    memberships: tuple[Membership, ...] = ()

    @property
    def teams(self) -> frozenset[str]:
        return frozenset(one.team for one in self.memberships if one.until is None)

    def was_in(self, team: str, since: int) -> bool:
        """Whether they belonged to a team at any moment from an entry on."""
        return any(one.team == team and (one.until is None or one.until > since) for one in self.memberships)


@dataclass(frozen=True)
class Seat:
    """A seat at a desk; ``entry`` is the one by which it was taken, ``exact`` whether that tells the moment."""

    username: str
    since: datetime
    entry: int
    exact: bool = True


@dataclass(frozen=True)
class Desk:
    slug: str
    owner_team_excluded: bool
    seats: tuple[Seat, ...] = ()
    lead: str = ""

    def seat(self, username: str) -> Seat | None:
        return next((one for one in self.seats if one.username == username), None)


@dataclass(frozen=True)
class Deputy:
    """Who signs in whose place, from a moment until another."""

    number: int
    person: str
    deputy: str
    since: datetime
    until: datetime
    ended: bool = False


@dataclass(frozen=True)
class Token:
    """A token: whose, made by whom, perhaps by which other token, for what, and until when."""

    number: int
    owner: str
    maker: str
    scopes: frozenset[str]
    parent: int | None
    expires_at: datetime
    hash: str
    ended: bool = False


@dataclass(frozen=True)
class HandedIn:
    """That somebody handed in a snapshot, or terms, with everybody who is behind it."""

    entry: int
    who: tuple[str, ...]
    request: int
    kind: str
    version: str
    snapshot: str
    subject: str = ""


@dataclass(frozen=True)
class Server:
    slug: str
    team: str
    data_class: str
    handed_in: tuple[HandedIn, ...] = ()
    versions: tuple[str, ...] = ()
    past_teams: frozenset[str] = frozenset()
    scheme: str = "semver"
    use: str = "open"


@dataclass(frozen=True)
class Release:
    server: str
    version: str
    state: str
    digest: str
    snapshot: str
    published: int = 0
    request: int = 0


@dataclass(frozen=True)
class Assessed:
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


@dataclass(frozen=True)
class SignOff:
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


@dataclass(frozen=True)
class Request:
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
        return tuple(one for one in self.sign_offs if not one.voided)


@dataclass(frozen=True)
class Proposal:
    """What one person proposed and another may put in force: rules, a style, a ruling, known findings."""

    number: int
    by: str
    state: str
    body: Mapping[str, Any]


@dataclass(frozen=True)
class Waiver:
    number: int
    server: str
    rule: str
    item: str
    pointer: str | None
    until: datetime
    by: str
    state: str
    fingerprints: tuple[str, ...] = ()


@dataclass(frozen=True)
class Kit:
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


@dataclass(frozen=True)
class Use:
    """That a kit of a team may use a server: at versions, some items or (``reading``) all that only read."""

    kit: str
    team: str
    server: str
    version: str
    items: tuple[str, ...]


@dataclass(frozen=True)
class Webhook:
    """Where events are sent: for which team, what about (``team`` or ``catalog``); ``round`` counts its secrets."""

    number: int
    team: str
    address: str
    about: str
    types: tuple[str, ...]
    round: int = 1
    ended: bool = False


@dataclass
class State:
    """All that the entries up to ``number`` say; ``head`` is the hash of the last of them.

    Without ``keeps`` nothing is kept by which steps could be taken back: for a long way to go at once.
    """

    number: int = 0
    head: str = ""
    keyed: int = 0
    people: dict[str, Person] = field(default_factory=dict)
    teams: dict[str, str] = field(default_factory=dict)
    passwords: dict[str, str] = field(default_factory=dict)
    """The digest of what is kept of somebody's password."""
    subjects: dict[str, str] = field(default_factory=dict)
    """As whom the issuer knows somebody."""
    invitations: dict[str, str] = field(default_factory=dict)
    """Whom an invitation is for, by what is kept of its code."""
    desks: dict[str, Desk] = field(default_factory=dict)
    deputies: dict[int, Deputy] = field(default_factory=dict)
    deputies_of: dict[str, tuple[int, ...]] = field(default_factory=dict)
    tokens: dict[int, Token] = field(default_factory=dict)
    servers: dict[str, Server] = field(default_factory=dict)
    releases: dict[tuple[str, str], Release] = field(default_factory=dict)
    requests: dict[int, Request] = field(default_factory=dict)
    assessments: dict[str, Assessed] = field(default_factory=dict)
    conditions: dict[int, tuple[Mapping[str, Any], ...]] = field(default_factory=dict)
    """The conditions of a sign-off, by the number of its entry."""
    rules: dict[int, Proposal] = field(default_factory=dict)
    styles: dict[int, Proposal] = field(default_factory=dict)
    rulings: dict[int, Proposal] = field(default_factory=dict)
    standing: dict[str, frozenset[int]] = field(default_factory=dict)
    """The rulings in force that concern a server."""
    proposed_known: dict[int, Proposal] = field(default_factory=dict)
    waivers: dict[int, Waiver] = field(default_factory=dict)
    waived: dict[str, frozenset[int]] = field(default_factory=dict)
    """The waivers that were granted for a server."""
    known: dict[str, frozenset[str]] = field(default_factory=dict)
    kits: dict[str, Kit] = field(default_factory=dict)
    kit_raises: dict[str, Proposal] = field(default_factory=dict)
    """What was proposed by which a kit would see higher data, by the kit's name."""
    uses: dict[tuple[str, str], Use] = field(default_factory=dict)
    """What was agreed that kits use, by kit and server."""
    notes: dict[int, str] = field(default_factory=dict)
    """Notes of users on releases that were not removed: who left each."""
    webhooks: dict[int, Webhook] = field(default_factory=dict)
    ending: dict[tuple[str, str], Mapping[str, Any]] = field(default_factory=dict)
    """Items that are deprecated, by server and item: why, until when, and what to use instead."""
    suspended: dict[tuple[str, str], str] = field(default_factory=dict)
    purged: dict[str, str] = field(default_factory=dict)
    skeletons: dict[str, str] = field(default_factory=dict)
    """What is left of snapshots of which an item was purged: the digest of their own part and lists."""
    comments: dict[int, Mapping[str, Any]] = field(default_factory=dict)
    closed: dict[int, str] = field(default_factory=dict)
    """Follow-ups that were closed, by number, with what was said."""
    in_force: dict[str, int] = field(default_factory=dict)
    """The version of the ``rules`` and of the ``style`` that is in force."""
    rule_sets: dict[int, RuleSet] = field(default_factory=dict)
    not_told: dict[str, int] = field(default_factory=dict)
    """What older entries do not tell, and how often."""
    keeps: bool = True
    _journal: deque[tuple[dict[Any, Any], Any, Any] | tuple[int, str]] = field(default_factory=deque)
    _steps: int = 0

    def put(self, table: dict[Any, Any], key: Any, value: Any) -> None:
        """Set a row of one of the tables."""
        if self.keeps:
            self._journal.append((table, key, table.get(key, _GONE)))
        table[key] = value

    def drop(self, table: dict[Any, Any], key: Any) -> None:
        """Take a row out of one of the tables, if it is there."""
        if key in table:
            old = table.pop(key)
            if self.keeps:
                self._journal.append((table, key, old))

    def begin(self, number: int, head: str) -> None:
        """Go on to the next entry; what it changes can be taken back by `rewind`."""
        before = (self.number, self.head)
        self.number, self.head = number, head
        if not self.keeps:
            return
        self._journal.append(before)
        self._steps += 1
        while self._steps > _KEPT_STEPS:
            self._forget_step()

    def _forget_step(self) -> None:
        self._journal.popleft()
        while self._journal and len(self._journal[0]) == 3:
            self._journal.popleft()
        self._steps -= 1

    def rewind(self) -> bool:
        """Take the last entry back; return False when it lies too far behind."""
        while self._journal:
            step = self._journal.pop()
            if len(step) == 2:
                self.number, self.head = step
                self.keyed = self.keyed if self.keyed <= self.number else 0
                self._steps -= 1
                return True
            table, key, old = step
            if old is _GONE:
                table.pop(key, None)
            else:
                table[key] = old
        return False

    def lacks(self, what: str) -> None:
        """Count that an older entry does not tell something."""
        self.put(self.not_told, what, self.not_told.get(what, 0) + 1)

    def stewards(self) -> Iterable[Person]:
        """Return the active stewards."""
        return (one for one in self.people.values() if one.role == "steward" and one.active)

    def standing_in(self, username: str, at: datetime) -> list[Deputy]:
        """Return who stands in for somebody at a moment."""
        found = (self.deputies[number] for number in self.deputies_of.get(username, ()))
        return [one for one in found if not one.ended and one.since <= at < one.until]


_Value = TypeVar("_Value")


def changed(value: _Value, **fields: Any) -> _Value:
    """Return a frozen value with some fields set otherwise; like `dataclasses.replace`, at a tenth of its cost."""
    made = object.__new__(type(value))
    made.__dict__.update(value.__dict__)
    made.__dict__.update(fields)
    return made


def moment(text: str) -> datetime:
    """Read a moment as entries write it (ISO 8601, with its zone)."""
    return datetime.fromisoformat(text)
