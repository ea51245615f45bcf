"""What becomes of a database that cannot be written: its disk is full, it is locked, read-only, or gone."""

from __future__ import annotations

import logging
import shutil
import sqlite3
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError, connection, transaction

from tallshelf.core.errors import Unavailable

_log = logging.getLogger("tallshelf.database")

LEAST_FREE_BYTES = 8_000_000
_BRIEFLY_MS, _USUALLY_MS = 50, 20_000
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
    """Raise `Unavailable` where the file is another than the one that is open: what was written would be lost."""
    if (
        not Path(settings.CONFIG.database).exists()
        and connection.settings_dict["NAME"] == settings.CONFIG.database
    ):
        raise Unavailable("the database is gone from the data directory", remedy=_REMEDY)


def write_if_it_can(write: Callable[[], object]) -> None:
    """Write what nobody misses: where the database is busy or cannot be written it is left, and the reader goes on."""
    _wait(_BRIEFLY_MS)
    try:
        with transaction.atomic():
            write()
    except DatabaseError as fault:
        _log.warning("a note of use was left: %s", unavailable(fault).reason)
    finally:
        _wait(_USUALLY_MS)


def _wait(milliseconds: int) -> None:
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA busy_timeout = {milliseconds:d}")


def why_not_writable() -> str:
    """Return why the database cannot be written now, or nothing; it writes nothing itself."""
    database = Path(settings.CONFIG.database)
    free = shutil.disk_usage(settings.CONFIG.data).free
    if free < LEAST_FREE_BYTES:
        return f"the disk of the data directory is full: {free:,} bytes are free"
    try:
        found = sqlite3.connect(f"{database.as_uri()}?mode=rw", uri=True, timeout=1.0, isolation_level=None)
        try:
            found.execute("begin immediate")
            found.execute("rollback")
        finally:
            found.close()
    except sqlite3.Error as fault:
        return unavailable(fault).reason
    return ""
