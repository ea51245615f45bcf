"""Kits, their locks, and what they hold."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.core.kits import MOVES
from tallshelf.core.routing import DATA_CLASSES
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.people.models import Person, Team


class StoredKit(models.Model):
    """A kit as it was put last; ``text`` is as its owners wrote it, ``document`` what was read from it.

    A kit that was dropped stays, with its locks, and may be put again. ``changed_at`` is when the ledger last told of
    it (as its entries say it), kept by a trigger.
    """

    name = models.CharField(unique=True, max_length=64)
    title = models.CharField(max_length=120)
    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="kits")
    text = models.TextField()
    document = models.JSONField()
    digest = models.CharField(max_length=71)
    environment = models.CharField(max_length=40)
    budget = models.PositiveIntegerField(null=True)
    data_class = models.CharField(max_length=20, choices=[(one, one) for one in DATA_CLASSES])
    moves = models.CharField(max_length=12, choices=[(move, move) for move in MOVES])
    lock = models.ForeignKey("StoredLock", null=True, on_delete=models.PROTECT, related_name="+")
    put_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    put_at = models.DateTimeField()
    dropped_at = models.DateTimeField(null=True)
    changed_at = models.CharField(max_length=40, default="", db_index=True)

    def __str__(self) -> str:
        return self.name


class StoredLock(models.Model):
    """What a kit held from a moment on; ``moves`` is what moved since the lock before, ``by`` None for the clock."""

    kit = models.ForeignKey(StoredKit, on_delete=models.PROTECT, related_name="locks")
    number = models.PositiveIntegerField()
    digest = models.CharField(max_length=71)
    document = models.JSONField()
    moves = models.JSONField()
    because = models.CharField(max_length=200)
    items = models.PositiveIntegerField()
    tokens = models.PositiveIntegerField()
    by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["kit", "number"], name="one_lock_a_number")]


class HeldItem(models.Model):
    """One item that a kit holds by its present lock; a kit that was dropped holds none."""

    kit = models.ForeignKey(StoredKit, on_delete=models.CASCADE, related_name="held")
    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="+")
    release = models.ForeignKey(Release, on_delete=models.PROTECT, related_name="+")
    item = models.TextField()
    item_digest = models.CharField(max_length=71)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["kit", "server", "item"], name="one_hold_an_item")
        ]
        indexes: ClassVar = [models.Index(fields=["server", "item"], name="holders_of_an_item")]


class StoredRaise(models.Model):
    """A kit that waits to be put, with its whole text: for a second curator, since it would see higher data, or for the
    owners of servers whose use it asks (``uses``: server, team, and the number of the request).
    """

    STATES = ("proposed", "in force", "declined")

    name = models.CharField(max_length=64)
    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="+")
    text = models.TextField()
    digest = models.CharField(max_length=71)
    data_class = models.CharField(max_length=20)
    state = models.CharField(max_length=12, choices=[(one, one) for one in STATES])
    uses = models.JSONField(default=list)
    reason = models.TextField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    answered_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True)
    answer_note = models.TextField(blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["name"], condition=models.Q(state="proposed"), name="one_raise_a_kit"
            )
        ]
