"""What a worker does by the clock: every minute it nudges the desks that are overdue.

Each worker process runs its own; what they do is stored once however many do it, so that they may be
stopped at any moment and need no leader.
"""

from __future__ import annotations

import logging
import threading

from django.db import close_old_connections

_EVERY_SECONDS = 60.0
_log = logging.getLogger("tallshelf.clock")


def start() -> threading.Thread:
    """Start the clock of this process; it ends with it."""
    thread = threading.Thread(target=_run, name="clock", daemon=True)
    thread.start()
    return thread


def _run() -> None:
    pause = threading.Event()
    while not pause.wait(_EVERY_SECONDS):
        tick()


def tick() -> int:
    """Do what is due now; return how many nudges were made. A fault is logged, and does not end the clock."""
    from tallshelf.service.review.actions import nudge

    close_old_connections()
    try:
        return nudge()
    except Exception:
        _log.exception("the clock's job failed; it is tried again in a minute")
        return 0
    finally:
        close_old_connections()
