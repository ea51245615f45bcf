"""The ledger as this app sees it, which stands below: how entries are written, and what they say.

The ledger app registers itself; without it nothing is done that needs an entry.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import Any

from tallshelf.core.entitlement import State
from tallshelf.core.snapshot import digest
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person, Token

Record = Callable[[Actor, str, dict[str, Any]], object]
Told = Callable[[], AbstractContextManager[State]]
_ledgers: list[tuple[Record, Told]] = []


def register_ledger(record: Record, told: Told) -> None:
    """Let the ledger app take the entries of this one, and tell it what they come to."""
    _ledgers[:] = [(record, told)]


def write_entry(actor: Actor, event: str, payload: dict[str, Any]) -> None:
    """Write to the ledger, inside the transaction of the act."""
    _ledger()[0](actor, event, payload)


def told() -> AbstractContextManager[State]:
    """Give what the ledger says now, for reading."""
    return _ledger()[1]()


def _ledger() -> tuple[Record, Told]:
    if not _ledgers:
        raise RuntimeError("there is no ledger, so that the act must not happen")
    return _ledgers[0]


def tell_password(actor: Actor, person: Person) -> None:
    """Say in the ledger what is kept of a password, as a digest, so that no other one signs anybody in."""
    write_entry(actor, "password-changed", {"username": person.username, "password": digest(person.password)})


def password_is_told(person: Person) -> bool:
    """Whether what is kept of a password is what the ledger says was set; none was set where none can be used."""
    with told() as state:
        kept = state.passwords.get(person.username)
    return kept == digest(person.password) if kept else not person.has_usable_password()


def token_is_told(token: Token) -> bool:
    """Whether a token is the one of its number that the ledger tells of, by its hash and owner."""
    with told() as state:
        found = state.tokens.get(token.pk)
    return found is not None and (found.hash, found.owner) == (token.hash, token.person.username)
