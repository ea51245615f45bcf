"""Jobs: asked for in the transaction of an act, done by one worker, taken up by another when it was killed."""

from __future__ import annotations

import logging
import os
import socket
import threading
from collections.abc import Callable
from datetime import datetime, timedelta

from django.db import IntegrityError, transaction
from django.db.models import Q

from tallshelf.service import clock
from tallshelf.service.jobs.models import Job

LEASE = timedelta(seconds=60)
MOST_ATTEMPTS = 5
_KEPT_FOR = timedelta(days=1)
_log = logging.getLogger("tallshelf.jobs")

Work = Callable[["Running"], None]
_works: dict[str, Work] = {}


class Running:
    """A job in the hands of a worker."""

    def __init__(self, job: Job, worker: str) -> None:
        self.key, self._job, self._worker = job.key, job, worker

    def progress(self, done: int, total: int) -> None:
        """Say how far it is, and hold on to it; raise `Lost` when another worker has taken it up."""
        held = Job.objects.filter(pk=self._job.pk, state="running", worker=self._worker)
        if not held.update(done=done, total=total, lease_until=clock.now() + LEASE):
            raise Lost(str(self._job))


class Lost(Exception):
    """A job's lease ran out, and another worker does it."""


def register(kind: str, work: Work) -> None:
    """Say how jobs of a kind are done. It may be begun again after a kill, and so must be safe to repeat."""
    _works[kind] = work


def ask_for(kind: str, key: str = "", *, due: datetime | None = None, once: bool = False) -> None:
    """Ask for a job, inside the transaction of the act that needs it; one that waits already is enough.

    ``once`` asks for it only if no job of this key was ever asked for.
    """
    now = clock.now()
    if once and Job.objects.filter(kind=kind, key=key).exists():
        return
    try:
        with transaction.atomic():
            Job.objects.create(kind=kind, key=key, state="waiting", due_at=due or now, made_at=now)
    except IntegrityError:
        return


def run_due(most: int = 100) -> int:
    """Do the jobs that are due, one after the other; return how many were done."""
    worker = f"{socket.gethostname()}:{os.getpid()}:{threading.get_ident()}"[:60]
    for number in range(most):
        job = _claim(worker)
        if job is None:
            return number
        _do(job, worker)
    return most


def _claim(worker: str) -> Job | None:
    now = clock.now()
    due = Q(state="waiting", due_at__lte=now) | Q(state="running", lease_until__lt=now)
    for job in Job.objects.filter(due).order_by("pk")[:20]:
        held = Job.objects.filter(pk=job.pk, state=job.state, lease_until=job.lease_until)
        attempts = job.attempts + 1
        try:
            taken = held.update(
                state="running", worker=worker, attempts=attempts, lease_until=now + LEASE, error=""
            )
        except IntegrityError:
            continue
        if taken:
            job.attempts, job.worker = attempts, worker
            return job
    return None


def _do(job: Job, worker: str) -> None:
    try:
        _works[job.kind](Running(job, worker))
    except Lost:
        return
    except Exception as fault:
        _log.exception("the job %s failed, attempt %d", job, job.attempts)
        _give_back(job, worker, f"{type(fault).__name__}: {fault}")
        return
    _end(job, worker, "done")


def _end(job: Job, worker: str, state: str, error: str = "") -> None:
    held = Job.objects.filter(pk=job.pk, state="running", worker=worker)
    held.update(state=state, ended_at=clock.now(), lease_until=None, error=error[:2000])


def _give_back(job: Job, worker: str, error: str) -> None:
    """Let a job that failed be tried again, later each time; after the last attempt it has failed."""
    if job.attempts >= MOST_ATTEMPTS:
        _end(job, worker, "failed", error)
        return
    later = clock.now() + timedelta(seconds=5 * 2**job.attempts)
    held = Job.objects.filter(pk=job.pk, state="running", worker=worker)
    try:
        held.update(state="waiting", due_at=later, lease_until=None, error=error[:2000])
    except IntegrityError:  # the same was asked for meanwhile, and will be done
        _end(job, worker, "done")


def forget_past() -> None:
    """Forget the jobs that were done a day ago; those that failed stay to be looked at."""
    Job.objects.filter(state="done", ended_at__lte=clock.now() - _KEPT_FOR).delete()
