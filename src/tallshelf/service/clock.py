"""The time at which an act happens, for every action and query of the service.

It is the machine's clock, but for the demo's history and for tests, which play acts at moments
of their own; nothing that comes over HTTP can set it.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime

from django.utils import timezone

_set: ContextVar[datetime | None] = ContextVar("tallshelf_clock", default=None)


def now() -> datetime:
    """Return the present moment, in UTC."""
    return _set.get() or timezone.now()


@contextmanager
def at(moment: datetime) -> Iterator[None]:
    """Let acts inside the block happen at a moment; raise ValueError for one without a time zone."""
    if moment.tzinfo is None:
        raise ValueError("a moment needs its time zone")
    token = _set.set(moment)
    try:
        yield
    finally:
        _set.reset(token)
