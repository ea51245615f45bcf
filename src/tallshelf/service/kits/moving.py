"""What moves by itself: locks after a publication, and kits once owners agreed, each in a transaction of its own."""

from __future__ import annotations

import logging

from tallshelf.core.errors import ShelfError
from tallshelf.service.jobs.actions import Running, ask_for
from tallshelf.service.kits import actions
from tallshelf.service.kits.models import HeldItem, StoredRaise
from tallshelf.service.people.actor import CLOCK

JOB = "move-kits"
_log = logging.getLogger("tallshelf.kits")


def ask_to_move(server: str) -> None:
    """Ask, inside the transaction that publishes, that the kits which hold something of a server follow."""
    ask_for(JOB, server)


def move_all(job: Running) -> None:
    """Move the kits that hold something of a server, where that fits them; the job's key is its slug."""
    rows = HeldItem.objects.filter(server__slug=job.key).order_by("kit__name")
    names = list(rows.values_list("kit__name", flat=True).distinct())
    for number, name in enumerate(names, 1):
        try:
            actions.follow(CLOCK, name, job.key)
        except ShelfError as fault:  # it was dropped, moved or suspended meanwhile
            _log.info("the kit %s stays: %s", name, fault)
        job.progress(number, len(names))


def put_asked(job: Running) -> None:
    """Put a kit that waited for the owners of what it uses; the job's key is its name."""
    try:
        actions.put_asked(job.key)
    except ShelfError as fault:
        StoredRaise.objects.filter(name=job.key, state="proposed").update(
            answer_note=f"it could not be put: {fault.reason}"
        )
        _log.info("the kit %s waits: %s", job.key, fault)
