"""Replaying the ledger: from its entries alone to what stands, and whether each act was somebody's to do."""

from __future__ import annotations

import gc
import sys
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any

import orjson
from msgspec import Struct, field

from tallshelf.core.entitlement.judge import Refused, entitled
from tallshelf.core.entitlement.records import Entry
from tallshelf.core.entitlement.state import State
from tallshelf.core.entitlement.tell import tell
from tallshelf.core.errors import UNREADABLE


class Audit(Struct):
    """What a replay found: the state it came to, and the acts that nobody was entitled to."""

    state: State = field(default_factory=lambda: State(keeps=False))
    refused: list[tuple[int, str]] = field(default_factory=list)
    unreadable: list[tuple[int, str]] = field(default_factory=list)


def read_entry(row: Mapping[str, Any]) -> Entry:
    """Return a row of the ledger as an entry; ``body`` may be JSON text, an object, or None."""
    body = row["body"]
    return Entry(
        row["number"],
        row["at"],
        row["event"],
        _shared(row["actor"]),
        row["via"],
        _shared(orjson.loads(body) if isinstance(body, str) else body),
    )


def _shared(value: Any) -> Any:
    """Return a value of which equal texts are one object: entries say the same ones over and over."""
    if type(value) is str:
        return sys.intern(value)
    if type(value) is dict:
        return {name: _shared(one) for name, one in value.items()}
    if type(value) is list:
        return [_shared(one) for one in value]
    return value


def advance(state: State, row: Mapping[str, Any]) -> None:
    """Take the next row in; what cannot be read of it changes nothing (raises ValueError and the like)."""
    state.begin(row["number"], row["hash"])
    if row.get("subjects") is not None and not state.keyed:
        state.keyed = row["number"]
    tell(state, read_entry(row))


def replay(rows: Iterable[Mapping[str, Any]]) -> State:
    """Return what the entries say, in their order; what cannot be read is left out."""
    return audit(rows, judge=False).state


def audit(
    rows: Iterable[Mapping[str, Any]],
    *,
    judge: bool = True,
    told: Callable[[int], None] = lambda number: None,
) -> Audit:
    """Replay entries, and judge each keyed one before it is taken in; go on past what cannot be read.

    ``told`` is called with the number of each entry, for who watches. Entries of before the chain was keyed tell
    too little to be judged; ``Audit.state.not_told`` counts what they lack.
    """
    found = Audit()
    with uncollected():
        for row in rows:
            number = row["number"]
            if judge and (reason := _refusal(found.state, row)):
                found.refused.append((number, f"{row['event']} by {row['actor']}: {reason}"))
            try:
                advance(found.state, row)
            except UNREADABLE as fault:
                found.unreadable.append((number, f"{row['event']} cannot be read ({fault!r})"))
            told(number)
    return found


def _refusal(state: State, row: Mapping[str, Any]) -> str:
    """Return why nobody was entitled to an entry, empty where somebody was or where it tells too little to say."""
    if row.get("subjects") is None or row["body"] is None:
        return ""
    try:
        verdict = entitled(state, read_entry(row))
    except UNREADABLE:
        return ""  # taking it in says so
    return verdict.reason if isinstance(verdict, Refused) else ""


@contextmanager
def uncollected() -> Iterator[None]:
    """Let no garbage be looked for meanwhile: all that a replay makes stays, and looking at it all over and over
    would cost more than making it.
    """
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()
