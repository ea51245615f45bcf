"""What people were told, how they are reached, where events are sent, and what is still to be sent."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.service.people.models import Person, Team

WAYS = ("inbox", "mail", "digest", "nothing")
"""How somebody is told of a thing: in the inbox alone, by mail as well (each, or one a day), or not at all."""


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


class MailAddress(models.Model):
    """Where one person gets mail, once they have shown that it is theirs; ``how`` is for what their teams own."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="mail")
    address = models.EmailField(max_length=254, blank=True)
    how = models.CharField(max_length=8, choices=[(way, way) for way in WAYS[:3]], default="inbox")
    asked_at = models.DateTimeField(null=True)
    confirmed_at = models.DateTimeField(null=True)


class Following(models.Model):
    """How somebody chose to be told about a thing: ``server:SLUG``, ``kit:NAME``, ``team:SLUG`` or ``catalog``."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="followings")
    about = models.CharField(max_length=80, db_index=True)
    how = models.CharField(max_length=8, choices=[(way, way) for way in WAYS])

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["person", "about"], name="one_following_each")
        ]


class Webhook(models.Model):
    """An address that events are sent to, for a team: what is told to it, or (``catalog``) all that is published.

    ``round`` counts its secrets, which are drawn from the service's key and stored nowhere; for a day after
    ``rotated_at`` the one before signs as well. While an address fails it rests, longer each time.
    """

    ABOUT = ("team", "catalog")

    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="webhooks")
    address = models.CharField(max_length=500)
    about = models.CharField(max_length=8, choices=[(one, one) for one in ABOUT])
    types = models.JSONField(default=list)
    round = models.PositiveIntegerField(default=1)
    rotated_at = models.DateTimeField(null=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    failures = models.PositiveIntegerField(default=0)
    resting_until = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    end_reason = models.CharField(max_length=300, blank=True)


class Delivery(models.Model):
    """One message that is to leave: a notice by mail, an event to a webhook, or the code that confirms an address.

    ``key`` names it to whoever gets it, and stays the same over retries. A sender holds it by a lease. ``batch`` is the
    digest that it goes out with. An ``entry`` of 0 is a trial of a webhook.
    """

    STATES = ("waiting", "sent", "undeliverable")

    key = models.CharField(max_length=40, unique=True)
    person = models.ForeignKey(Person, null=True, on_delete=models.CASCADE, related_name="deliveries")
    notice = models.OneToOneField(Notice, null=True, on_delete=models.CASCADE, related_name="delivery")
    webhook = models.ForeignKey(Webhook, null=True, on_delete=models.CASCADE, related_name="deliveries")
    entry = models.PositiveBigIntegerField(default=0)
    because = models.CharField(max_length=300, blank=True)
    digest = models.BooleanField(default=False)
    batch = models.CharField(max_length=40, blank=True)
    state = models.CharField(max_length=16, choices=[(one, one) for one in STATES], default="waiting")
    due_at = models.DateTimeField()
    lease_until = models.DateTimeField(null=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    answer = models.CharField(max_length=40, blank=True)
    error = models.CharField(max_length=500, blank=True)
    made_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes: ClassVar = [
            models.Index(fields=["state", "due_at"], name="deliveries_due"),
            models.Index(fields=["webhook", "-id"], name="deliveries_of_webhook"),
        ]


class Reminder(models.Model):
    """That somebody was reminded of something that is due, at one of its stages: once."""

    what = models.CharField(max_length=20)
    key = models.CharField(max_length=200)
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["what", "key"], name="one_reminder_each")]
