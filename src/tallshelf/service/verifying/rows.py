"""Holding the rows of a table against what the ledger tells, key by key and column by column."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

Key = Any


@dataclass(frozen=True)
class Difference:
    """A row that is not as the ledger says; ``kind`` is the table, or the column of it, at fault."""

    kind: str
    words: str


def compare(
    what: str, there: Mapping[Key, Mapping[str, Any]], told: Mapping[Key, Mapping[str, Any]]
) -> Iterator[Difference]:
    """Yield where rows are missing, are too many, or hold other values than told.

    Both sides are rows by key; a row is its deciding columns by name. Columns that the ledger does not tell are
    left out of the told row.
    """
    for key in sorted(there.keys() | told.keys(), key=str):
        name = f"{what} {_named(key)}"
        if key not in told:
            yield Difference(f"{what}: not told", f"{name} is there, and the ledger does not say so")
        elif key not in there:
            yield Difference(f"{what}: gone", f"{name} is gone, and the ledger does not say why")
        else:
            yield from _columns(what, name, there[key], told[key])


def _columns(what: str, name: str, there: Mapping[str, Any], told: Mapping[str, Any]) -> Iterator[Difference]:
    for column, value in told.items():
        if there[column] != value:
            words = f"{name}: {column} is {_short(there[column])}, and the ledger says {_short(value)}"
            yield Difference(f"{what}: {column}", words)


def _named(key: Key) -> str:
    return " ".join(str(part) for part in key if part != "") if isinstance(key, tuple) else str(key)


def _short(value: Any) -> str:
    if isinstance(value, (set, frozenset)):
        value = sorted(value)
    said = "nothing" if value in ("", None, [], ()) else str(value)
    return said if len(said) <= 80 else f"{said[:77]}…"
