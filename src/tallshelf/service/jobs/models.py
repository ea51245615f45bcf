"""What is to be done outside the act that asked for it."""

from __future__ import annotations

from typing import ClassVar

from django.db import models


class Job(models.Model):
    """One piece of work: what kind, on what (``key``), and how far it is.

    A worker holds it by a lease, which it renews as it goes; one that was killed lets it run out, and another
    worker takes the job up. ``done`` of ``total`` steps are done; ``error`` is what its last attempt came to.
    """

    STATES = ("waiting", "running", "done", "failed")

    kind = models.CharField(max_length=40)
    key = models.CharField(max_length=100)
    state = models.CharField(max_length=8, choices=[(one, one) for one in STATES])
    due_at = models.DateTimeField()
    lease_until = models.DateTimeField(null=True)
    worker = models.CharField(max_length=60, blank=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    error = models.TextField(blank=True)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["state", "due_at"], name="jobs_due")]
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["kind", "key"], condition=models.Q(state="waiting"), name="one_waiting_job_each"
            )
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}".strip()
