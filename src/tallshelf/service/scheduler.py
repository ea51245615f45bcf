"""What a worker does beside answering: the jobs that are due, and every minute what is due by the clock.

Each worker process runs its own. What they do is done once however many they are: whoever is first asks for the
minute's jobs, and one takes each of them up.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from typing import TYPE_CHECKING

from django.db import OperationalError, close_old_connections

from tallshelf.service import clock
from tallshelf.service.unwritten import unavailable

if TYPE_CHECKING:
    from tallshelf.service.jobs.actions import Running

_EVERY_SECONDS = 1.0
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
    from tallshelf.service.catalog.overlap import catch_up
    from tallshelf.service.jobs.actions import run_due
    from tallshelf.service.purging import notice_purges

    close_old_connections()
    for work in (notice_purges, _say_how, _ask_for_the_minute, run_due, catch_up):
        try:
            work()
        except OperationalError as fault:  # a full disk or the like: a line a second will do
            _log.warning("what is due by the clock waits: %s", unavailable(fault).reason)
        except Exception:
            _log.exception("what is due by the clock failed; it is tried again in a second")
    close_old_connections()


def _ask_for_the_minute() -> None:
    """Ask for what is done every minute, unless another worker has."""
    from tallshelf.service.jobs.actions import ask_for
    from tallshelf.service.jobs.models import Job

    minute = f"{clock.now():%Y-%m-%dT%H:%M}"
    if not Job.objects.filter(kind=EVERY_MINUTE[-1], key=minute).exists():
        for kind in EVERY_MINUTE:
            ask_for(kind, minute, once=True)


def _say_how() -> None:
    """Say how the jobs of every minute are done."""
    from tallshelf.service.catalog import findings
    from tallshelf.service.jobs.actions import forget_past, register
    from tallshelf.service.people import sessions
    from tallshelf.service.review.actions import carry_out_agreed, remind_and_escalate
    from tallshelf.service.telling import due, outbox
    from tallshelf.service.web import idempotency, rate_limit

    works = (
        remind_and_escalate,
        carry_out_agreed,
        due.remind_of_what_is_due,
        findings.look_after_waivers,
        sessions.forget_past,
        idempotency.forget_past,
        rate_limit.forget_past,
        outbox.forget_past,
        forget_past,
    )
    for kind, work in zip(EVERY_MINUTE, works, strict=True):
        register(kind, _without_progress(work))


def _without_progress(work: Callable[[], object]) -> Callable[[Running], None]:
    def run(job: Running) -> None:
        work()

    return run


EVERY_MINUTE = (
    "remind-desks",
    "carry-out-agreed",
    "tell-what-is-due",
    "look-after-waivers",
    "forget-sign-ins",
    "forget-answers",
    "forget-counts",
    "forget-sent",
    "forget-jobs",
)
