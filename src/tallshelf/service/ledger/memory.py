"""What the ledger says, in the memory of this process: built when it is first asked for, and brought up by new
entries. It is never stored beside the ledger.

Threads share it. Each brings it to what its own connection sees: forward by entries that are new to it, back over
entries of a transaction that another thread has not ended, or that came to nothing.
"""

from __future__ import annotations

import gc
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

from tallshelf.core.entitlement import State, advance, uncollected
from tallshelf.core.errors import UNREADABLE, LedgerBroken
from tallshelf.core.ledger import GENESIS, Link
from tallshelf.service.ledger import keys
from tallshelf.service.ledger.models import COLUMNS, Entry, as_row

_TAKEN_BACK = 1000
_MANY = 5000
_keying: ContextVar[bool] = ContextVar("tallshelf_keying", default=False)
_lock = threading.RLock()
_states: list[State] = [State(head=GENESIS)]


@contextmanager
def keying() -> Iterator[None]:
    """Let entries that carry no MAC be taken in, for who keys them on the service's own machine."""
    token = _keying.set(True)
    try:
        yield
    finally:
        _keying.reset(token)


@contextmanager
def told() -> Iterator[State]:
    """Give what the ledger says now, for reading; raise `LedgerBroken` where its chain does not hold."""
    with _lock:
        yield _synced()


def take_in(row: dict[str, Any]) -> None:
    """Bring what is told up by an entry that was just written; the caller holds it by `told`."""
    advance(_states[0], row)


def _synced() -> State:
    rows = Entry.objects.order_by("-number").values_list("number", "hash")
    last = rows.first() or (0, GENESIS)
    state = _states[0]
    while not _is_at(state, last):
        if not state.rewind():
            state = _states[0] = State(head=GENESIS)
            break
    if state.number < last[0]:
        with uncollected():
            taken_in = _bring_up(state)
        if taken_in > _MANY:
            gc.freeze()  # what stays for good is not looked at for garbage, request after request
    return state


def _is_at(state: State, last: tuple[int, str]) -> bool:
    """Whether the entry that a state ends with stands in the ledger that this connection sees."""
    if state.number >= last[0]:
        return (state.number, state.head) == last
    if state.number == 0:
        return True
    return bool(Entry.objects.filter(number=state.number, hash=state.head).exists())


def _bring_up(state: State) -> int:
    """Take in the entries that a state lacks; return how many they were."""
    begun, keyed = state.number, Entry.objects.exclude(mac=None).exists()
    if not keyed and keys.has_mac_key() and not _keying.get():
        raise LedgerBroken(
            "the ledger's entries carry no MAC, though this service keys them",
            remedy="If this is an old backup that was restored here: tallshelf admin key-ledger.",
        )
    link = Link(state.number, state.head, key=keys.mac_key() if keyed else None, keyed=state.keyed)
    last = Entry.objects.count()
    for row in Entry.objects.filter(number__gt=state.number).order_by("number").values(*COLUMNS).iterator():
        row = as_row(row)
        fault = link.fault(row)
        if fault:
            raise LedgerBroken(
                f"the ledger does not hold: {fault}",
                remedy="Nothing is decided until it does: tallshelf admin verify-ledger says more.",
            )
        # Steps that nobody will take back are not kept: building it anew is a long way.
        state.keeps = row["number"] > last - _TAKEN_BACK
        try:
            advance(state, row)
        except UNREADABLE:
            continue  # of before it was keyed; what it would have told is not told
    return link.entries - begun
