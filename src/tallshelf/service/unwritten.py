"""What becomes of a database that cannot be written: its disk is full, it is locked, read-only, or gone."""

from __future__ import annotations

import logging
import os
import shutil
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError, connection, transaction

from tallshelf.core.errors import Unavailable

_log = logging.getLogger("tallshelf.database")

LEAST_FREE_BYTES = 8_000_000
_BRIEFLY_MS, _ASKED_MS, _USUALLY_MS = 50, 1_000, 20_000
# What SQLite says, and what it means to whoever keeps the service running.
_MEANT = {
    "is full": "the disk of the data directory is full",
    "locked": "the database is locked by another process",
    "readonly": "the database cannot be written: it is read-only",
    "read-only": "the database cannot be written: it is read-only",
    "unable to open": "the database cannot be opened",
    "i/o error": "the database cannot be read or written: its disk fails or is full",
    "malformed": "the database is damaged",
    "not a database": "the database is damaged",
}
_REMEDY = "Try again in a while; whoever runs the service sees why at /health/ready."


def unavailable(fault: Exception) -> Unavailable:
    """Return what a fault of the database means, in words."""
    said = str(fault).lower()
    meant = next(
        (meaning for words, meaning in _MEANT.items() if words in said), "the database does not answer"
    )
    return Unavailable(meant, remedy=_REMEDY)


def refuse_if_gone() -> None:
    """Raise `Unavailable` where the file is no more, though it is still open: what was written would be lost."""
    if _is_gone():
        raise Unavailable("the database is gone from the data directory", remedy=_REMEDY)


def _is_gone() -> bool:
    name = connection.settings_dict["NAME"]
    return isinstance(name, Path) and not name.exists()


def write_if_it_can(write: Callable[[], object]) -> None:
    """Write what nobody misses: where the database is busy or cannot be written it is left, and the reader goes on."""
    connection.ensure_connection()
    connection.connection.execute(f"PRAGMA busy_timeout = {_BRIEFLY_MS}")
    try:
        with transaction.atomic():
            write()
    except DatabaseError as fault:
        _log.warning("a note of use was left: %s", unavailable(fault).reason)
    finally:
        connection.connection.execute(f"PRAGMA busy_timeout = {_USUALLY_MS}")


def why_not_writable() -> str:
    """Return why the database cannot be written now, or nothing; it tries by a small file of its own beside it."""
    free = shutil.disk_usage(settings.CONFIG.data).free
    if free < LEAST_FREE_BYTES:
        return f"the disk of the data directory is full: {free:,} bytes are free"
    if _is_gone():
        return "the database is gone from the data directory"
    probe = Path(settings.CONFIG.data) / f"probe-{os.getpid()}"
    try:
        probe.write_bytes(bytes(4096))
    except OSError as fault:
        return f"the data directory cannot be written: {fault.strerror}"
    finally:
        with suppress(OSError):
            probe.unlink(missing_ok=True)
    connection.ensure_connection()
    connection.connection.execute(f"PRAGMA busy_timeout = {_ASKED_MS}")
    try:
        with transaction.atomic():  # begins IMMEDIATE, as every act does
            return ""
    except DatabaseError as fault:
        return unavailable(fault).reason
    finally:
        connection.connection.execute(f"PRAGMA busy_timeout = {_USUALLY_MS}")
