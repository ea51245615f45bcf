"""What a verification finds, and in which order it looks."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from tallshelf.core.entitlement import Audit, State, audit
from tallshelf.core.ledger import Checkpoint, Verification, verify_chain
from tallshelf.service.ledger import keys
from tallshelf.service.ledger.models import Entry
from tallshelf.service.ledger.queries import all_entries
from tallshelf.service.verifying import catalog, decisions, kits, people, requests
from tallshelf.service.verifying.rows import Difference

_UNKEYED = (
    "its entries carry no MAC, though this service keys them; for an old backup that was restored here: "
    "tallshelf admin key-ledger"
)
Watch = Callable[[int, int], None]
Differences = Callable[[State], Iterator[Difference]]
_looks: list[Differences] = [one.differences for one in (people, catalog, kits, decisions, requests)]


def register_rows(look: Differences) -> None:
    """Let an app have its rows held against what the ledger tells."""
    if look not in _looks:
        _looks.append(look)


@dataclass(frozen=True)
class Report:
    """What was found: the chain; acts that nobody was entitled to; rows that the ledger does not tell.

    ``differences`` has the first row of each kind, ``not_told`` what older entries do not say, and how often.
    """

    chain: Verification
    refused: tuple[str, ...] = ()
    unreadable: tuple[str, ...] = ()
    differences: tuple[str, ...] = ()
    not_told: dict[str, int] = field(default_factory=dict)

    @property
    def holds(self) -> bool:
        return not (self.chain.fault or self.refused or self.differences)


def verify(checkpoint: Checkpoint | None = None, watch: Watch = lambda done, of: None) -> Report:
    """Verify the whole ledger, perhaps against a checkpoint that was kept elsewhere.

    The chain is verified first; where it holds, entries are replayed and each act is judged, and the tables are held
    against what that comes to. ``watch`` is called with how many entries are done, and of how many.
    """
    of = 2 * Entry.objects.count()
    keyed = Entry.objects.exclude(mac=None).exists()
    chain = verify_chain(_watched(watch, 0, of), checkpoint, key=keys.mac_key() if keyed else None)
    if not keyed and chain.entries and keys.has_mac_key():
        chain = Verification(chain.entries, chain.head, _UNKEYED)
    if chain.fault:
        return Report(chain)
    replayed = audit(all_entries(), told=lambda number: watch(of // 2 + number, of))
    return Report(
        chain,
        refused=tuple(f"entry {number}, {why}" for number, why in replayed.refused),
        unreadable=_unreadable(replayed),
        differences=tuple(_first_of_each(replayed.state)),
        not_told=dict(replayed.state.not_told),
    )


def _watched(watch: Watch, done: int, of: int) -> Iterator[dict[str, Any]]:
    for row in all_entries():
        yield row
        watch(done + row["number"], of)


def _unreadable(audit: Audit) -> tuple[str, ...]:
    return tuple(f"entry {number}, {why}" for number, why in audit.unreadable)


def _first_of_each(state: State) -> Iterator[str]:
    """Yield in words the first difference of each kind, and how many more there are of it."""
    kinds: dict[str, list[Difference]] = {}
    for look in _looks:
        for difference in look(state):
            kinds.setdefault(difference.kind, []).append(difference)
    for differences in kinds.values():
        more = len(differences) - 1
        yield differences[0].words + (f" (and {more} more of this kind)" if more else "")
