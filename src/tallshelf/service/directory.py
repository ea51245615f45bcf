"""Locks on the data directory: what runs on it shares it, what replaces the database has it alone."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path

from tallshelf.core.errors import Conflict

IN_USE, SERVED = "in-use.lock", "served.lock"
_held: dict[Path, int] = {}


def share(data: Path) -> None:
    """Use a data directory until this process ends, beside others; raise `Conflict` while one has it alone."""
    _hold(
        data / IN_USE,
        fcntl.LOCK_SH,
        f"{data} is being restored",
        remedy="Wait until it is done, then look at what is there.",
    )


def serve(data: Path) -> None:
    """Be the one service that runs on a data directory; raise `Conflict` where another is."""
    share(data)
    _hold(
        data / SERVED,
        fcntl.LOCK_EX,
        f"a service runs on {data} already",
        remedy="Stop it first, or name another data directory by --data.",
    )


def have_alone(data: Path) -> None:
    """Have a data directory alone; raise `Conflict` where a service or a command is at work on it."""
    _hold(
        data / IN_USE,
        fcntl.LOCK_EX,
        f"{data} is in use: a service or another command runs on it",
        remedy="Stop the service (systemctl stop tallshelf), then run this again.",
    )


def _hold(path: Path, kind: int, reason: str, remedy: str) -> None:
    """Lock a file for as long as this process lives; one that it holds already is held."""
    if path in _held:
        return
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    except OSError:  # where nothing can be written nothing is replaced either
        return
    try:
        fcntl.flock(handle, kind | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        raise Conflict(reason, remedy=remedy) from None
    _held[path] = handle
