"""The ledger: append-only, each entry chained to the one before. Triggers refuse edits."""

from __future__ import annotations

from django.db import models


class Entry(models.Model):
    """One act. ``body`` is canonical JSON text; ``hash`` covers everything else in the row."""

    number = models.PositiveBigIntegerField(primary_key=True)
    at = models.CharField(max_length=40)
    event = models.CharField(max_length=40)
    actor = models.CharField(max_length=64)
    via = models.CharField(max_length=100)
    subject = models.CharField(max_length=140, db_index=True)
    body = models.TextField()
    previous = models.CharField(max_length=71)
    hash = models.CharField(max_length=71, unique=True)
