"""What the ledger alone says, as tables of records.

The tables of a `State` are changed through `State.put` and `State.drop` only, which
keep what stood there, so that entries of a transaction that came to nothing can be taken back again
(`State.rewind`).
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any

from msgspec import Struct, field

from tallshelf.core.entitlement.records import (
    Assessed,
    Deputy,
    Desk,
    Kit,
    Person,
    Proposal,
    Release,
    Request,
    Server,
    Token,
    Use,
    UserNote,
    Waiver,
    Webhook,
)
from tallshelf.core.routing import RuleSet

_KEPT_STEPS = 2000
_GONE: Any = object()


class State(Struct):
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
    notes: dict[int, UserNote] = field(default_factory=dict)
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
        return (person for person in self.people.values() if person.role == "steward" and person.active)

    def standing_in(self, username: str, at: datetime) -> list[Deputy]:
        """Return who stands in for somebody at a moment."""
        found = (self.deputies[number] for number in self.deputies_of.get(username, ()))
        return [deputy for deputy in found if not deputy.ended and deputy.since <= at < deputy.until]


def moment(text: str) -> datetime:
    """Read a moment as entries write it (ISO 8601, with its zone)."""
    return datetime.fromisoformat(text)
