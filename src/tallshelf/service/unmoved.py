"""What a thread may keep between two requests: answers that hold until anybody commits anything to the database.

SQLite tells a connection by a number whether another one has committed since (``PRAGMA data_version``), and how many
rows it changed itself. Nothing is kept inside a transaction, whose rows may be taken back.
"""

from __future__ import annotations

import sqlite3
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, NamedTuple, TypeVar

from django.db import connection

Answer = TypeVar("Answer")
_MOST_KEPT = 16
_local = threading.local()


class Mark(NamedTuple):
    """What the database holds, as one connection names it; ``held`` keeps that connection's place in memory its own."""

    held: sqlite3.Connection
    committed: int
    changed: int


def mark() -> Mark | None:
    """Return what names the content of the database for this thread; None inside a transaction."""
    if connection.in_atomic_block:
        return None
    connection.ensure_connection()
    raw = connection.connection
    assert raw is not None
    with connection.wrap_database_errors:  # a database that is gone is told as everywhere
        (committed,) = raw.execute("PRAGMA data_version").fetchone()
    return Mark(raw, committed, raw.total_changes)


def while_unmoved(about: Hashable, work_out: Callable[[], Answer]) -> Answer:
    """Return what is worked out ``about`` something, or was when the database held what it holds now.

    Nobody may alter an answer. The last `_MOST_KEPT` of a thread are kept.
    """
    now = mark()
    if now is None:
        return work_out()
    kept: OrderedDict[Hashable, tuple[Mark, Any]] = _local.__dict__.setdefault("kept", OrderedDict())
    found = kept.get(about)
    if found is not None and found[0] == now:
        answer: Answer = found[1]
        return answer
    answer = work_out()
    kept[about] = now, answer
    kept.move_to_end(about)
    while len(kept) > _MOST_KEPT:
        kept.popitem(last=False)
    return answer
