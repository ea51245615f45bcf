"""What a kit came to: exact releases and items, by digest; and what moves from one lock to the next."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from tallshelf.core.snapshot import digest

if TYPE_CHECKING:
    from tallshelf.core.kits.risk import Effect

LOCK_FORMAT = "tallshelf.lock/1"


class Locked(Struct, frozen=True):
    """One item that a kit holds: of which release, by digest; ``tokens`` is an estimate."""

    server: str
    version: str
    release_digest: str
    item: str
    item_digest: str
    tokens: int = 0
    effect: Effect = "reads"
    outside: bool = False
    data_class: str = "internal"

    @property
    def key(self) -> tuple[str, str]:
        return (self.server, self.item)

    def document(self) -> dict[str, Any]:
        return {
            "server": self.server,
            "version": self.version,
            "release_digest": self.release_digest,
            "item": self.item,
            "item_digest": self.item_digest,
            "tokens": self.tokens,
            "effect": self.effect,
            "outside": self.outside,
            "data_class": self.data_class,
        }


class Lock(Struct, frozen=True, dict=True):
    """All that a kit holds, by server and item."""

    items: tuple[Locked, ...] = ()

    @cached_property
    def by_key(self) -> dict[tuple[str, str], Locked]:
        return {locked.key: locked for locked in self.items}

    @cached_property
    def versions(self) -> dict[str, str]:
        """The version that is held of each server."""
        return {locked.server: locked.version for locked in self.items}

    @property
    def tokens(self) -> int:
        return sum(locked.tokens for locked in self.items)

    def of(self, server: str) -> tuple[Locked, ...]:
        """Return what is held of one server, by item."""
        return tuple(locked for locked in self.items if locked.server == server)

    def document(self) -> dict[str, Any]:
        """Return the lock as a ``tallshelf.lock/1`` document."""
        return {"format": LOCK_FORMAT, "items": [locked.document() for locked in self.items]}

    @cached_property
    def digest(self) -> str:
        """The digest of which items of which releases are held; what is estimated of them is left out."""
        return digest(
            [
                [*locked.key, locked.version, locked.release_digest, locked.item_digest]
                for locked in self.items
            ]
        )


def lock_from(document: Mapping[str, Any]) -> Lock:
    """Return the lock that `Lock.document` wrote; KeyError or TypeError for anything else."""
    return Lock(tuple(Locked(**item) for item in document["items"]))


class Move(Struct, frozen=True):
    """What moves in one server: versions ("" where it is not held), and items by identity."""

    server: str
    before: str
    after: str
    gained: tuple[str, ...]
    lost: tuple[str, ...]
    changed: tuple[str, ...]

    def document(self) -> dict[str, Any]:
        return {
            "server": self.server,
            "before": self.before,
            "after": self.after,
            "gained": list(self.gained),
            "lost": list(self.lost),
            "changed": list(self.changed),
        }


def moves_between(old: Lock, new: Lock) -> tuple[Move, ...]:
    """Return what moves from one lock to the next, by server; nothing where both hold the same."""
    moves = []
    for server in sorted(old.versions.keys() | new.versions.keys()):
        before, after = ({locked.item: locked for locked in lock.of(server)} for lock in (old, new))
        if before == after:
            continue
        both = before.keys() & after.keys()
        changed = (one for one in both if before[one].item_digest != after[one].item_digest)
        moves.append(
            Move(
                server,
                old.versions.get(server, ""),
                new.versions.get(server, ""),
                tuple(sorted(after.keys() - before.keys())),
                tuple(sorted(before.keys() - after.keys())),
                tuple(sorted(changed)),
            )
        )
    return tuple(moves)
