"""How often somebody may call, counted for all worker processes together in one small file.

Each has a bucket of a minute's calls that refills steadily: as many may come at once, and as many a minute
for ever after (the generic cell rate algorithm, ITU-T I.371: one moment is kept for each, and one statement
looks at it and moves it). The file is no record: it may be deleted while the service stands still.
"""

from __future__ import annotations

import sqlite3
import threading
import time
from abc import ABC, abstractmethod
from typing import Any, ClassVar

from django.conf import settings
from django.http import HttpRequest
from rest_framework.request import Request
from rest_framework.throttling import BaseThrottle

from tallshelf.service.unwritten import unavailable
from tallshelf.service.web.logs import address_of

SIGN_INS_PER_MINUTE = 20
_SPAN_SECONDS = 60.0
_ROUNDING = 1e-6

# A moment that lies more than two spans ahead was left by a clock that has been set back since.
_TAKE = """
insert into pace (who, free_at) values (:who, :now + :step)
on conflict (who) do update set free_at =
    case when free_at between :now and :now + 2 * :span then free_at else :now end + :step
where free_at not between :now + :span - :step + :rounding and :now + 2 * :span
returning free_at
"""

_local = threading.local()


def take(who: str, per_minute: int) -> float:
    """Count a call; return 0.0 if it may be made, else the seconds until one may be."""
    now, step = time.time(), _SPAN_SECONDS / per_minute
    file = _file()
    values = {"who": who, "now": now, "step": step, "span": _SPAN_SECONDS, "rounding": _ROUNDING}
    if file.execute(_TAKE, values).fetchone():
        return 0.0
    (free_at,) = file.execute("select free_at from pace where who = ?", (who,)).fetchone() or (now,)
    return max(free_at + step - _SPAN_SECONDS - now, 0.001)


def forget_past() -> None:
    """Forget who may make all their calls again."""
    _file().execute("delete from pace where free_at < ?", (time.time(),))


def forget_all() -> None:
    """Let everybody begin anew."""
    _file().execute("delete from pace")


def _file() -> sqlite3.Connection:
    """Return this thread's connection."""
    if not hasattr(_local, "file"):
        path = settings.CONFIG.data / "rate_limit.sqlite3"
        connection = sqlite3.connect(path, timeout=5.0, isolation_level=None)
        connection.execute("pragma journal_mode = wal")
        connection.execute("pragma synchronous = off")
        connection.execute(
            "create table if not exists pace (who text primary key, free_at real) without rowid"
        )
        _local.file = connection
    return _local.file  # type: ignore[no-any-return]


class _Pace(BaseThrottle, ABC):
    """A limit of calls a minute, by address if not told otherwise; ``kind`` keeps the counts of several apart."""

    kind: ClassVar[str]
    _wait = 0.0

    def allow_request(self, request: Request | HttpRequest, view: Any) -> bool:
        try:
            self._wait = take(f"{self.kind} {self.whose(request)}", self.per_minute())
        except sqlite3.Error as fault:
            self.uncounted(fault)
        return not self._wait

    def uncounted(self, fault: sqlite3.Error) -> None:
        """Decide about a call that cannot be counted: it may be made."""
        self._wait = 0.0

    def wait(self) -> float:
        return self._wait

    def whose(self, request: Request | HttpRequest) -> str:
        return address_of(request)

    @abstractmethod
    def per_minute(self) -> int:
        """Return how many calls a minute may be made."""


class CallsOfAccount(_Pace):
    """All calls of an account; those of nobody are counted by their address."""

    kind = "calls"

    def whose(self, request: Request | HttpRequest) -> str:
        return f"account {request.user.pk}" if request.user else super().whose(request)

    def per_minute(self) -> int:
        return int(settings.CONFIG.calls_per_minute)


class SignIns(_Pace):
    """Attempts at a secret of somebody's, by the address that they come from."""

    kind = "sign-in"

    def uncounted(self, fault: sqlite3.Error) -> None:
        """Refuse an attempt that cannot be counted: else secrets could be tried without end."""
        raise unavailable(fault)

    def per_minute(self) -> int:
        return SIGN_INS_PER_MINUTE
