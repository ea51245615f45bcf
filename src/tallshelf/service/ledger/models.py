"""The ledger: append-only, each entry chained to the one before. Triggers refuse edits."""

from __future__ import annotations

import json
from typing import Any

from django.db import models


class Entry(models.Model):
    """One act. ``body`` is canonical JSON text.

    ``subjects`` is a JSON list of what the entry is about, None in entries of the older form; ``mac`` says that
    this service wrote it. ``hash`` covers the rest of the row (`core.ledger.entry_hash`).
    """

    number = models.PositiveBigIntegerField(primary_key=True)
    at = models.CharField(max_length=40)
    event = models.CharField(max_length=40)
    actor = models.CharField(max_length=64)
    via = models.CharField(max_length=100)
    subject = models.CharField(max_length=140, db_index=True)
    body = models.TextField()
    previous = models.CharField(max_length=71)
    hash = models.CharField(max_length=71, unique=True)
    subjects = models.TextField(null=True)
    mac = models.CharField(max_length=64, null=True)


COLUMNS = tuple(field.name for field in Entry._meta.local_fields)


def as_row(values: dict[str, Any]) -> dict[str, Any]:
    """Return the columns of an entry as `core.ledger` reads them: its subjects as a list."""
    return {**values, "subjects": None if values["subjects"] is None else json.loads(values["subjects"])}
