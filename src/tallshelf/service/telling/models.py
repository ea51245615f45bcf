"""What people were told."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.service.people.models import Person


class Notice(models.Model):
    """That somebody was told of an entry of the ledger: in the transaction of its act, once."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="notices")
    entry = models.PositiveBigIntegerField()
    type = models.CharField(max_length=40)
    words = models.CharField(max_length=600)
    because = models.CharField(max_length=300)
    page = models.CharField(max_length=300)
    at = models.CharField(max_length=40)
    read_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["person", "entry"], name="one_notice_of_an_entry")
        ]
        indexes: ClassVar = [models.Index(fields=["person", "read_at", "-entry"], name="unread_notices")]
