"""What a worker does by the clock: every minute it nudges the desks that are overdue, and tidies up.

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


def tick() -> None:
    """Do what is due now. A fault is logged, and ends neither the clock nor the other jobs."""
    from tallshelf.service.people import sessions
    from tallshelf.service.purging import notice_purges
    from tallshelf.service.review.actions import nudge
    from tallshelf.service.web import once, pace

    close_old_connections()
    for job in (nudge, notice_purges, sessions.forget_past, once.forget_past, pace.forget_past):
        try:
            job()
        except Exception:
            _log.exception("a job of the clock failed; it is tried again in a minute")
    close_old_connections()
