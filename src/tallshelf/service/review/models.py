"""Requests, assessments, sign-offs and routing rule sets."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.core.routing import REQUEST_STATES
from tallshelf.service.catalog.models import Release
from tallshelf.service.people.models import Person

LIVE_STATES = ("open", "sent-back", "agreed")


class StoredRuleSet(models.Model):
    """Routing rules under a version: proposed, put in force, or declined.

    ``replaces`` is the version they were written against (0: the default rules); ``loosened`` says in
    words where they ask less, for which a second curator (``agreed_by``) is needed.
    """

    STATES = ("proposed", "in force", "declined")

    version = models.PositiveIntegerField(primary_key=True)
    text = models.TextField(blank=True)
    rules = models.JSONField()
    digest = models.CharField(max_length=71)
    note = models.TextField(blank=True)
    state = models.CharField(max_length=16, default="in force", choices=[(one, one) for one in STATES])
    replaces = models.PositiveIntegerField(default=0)
    loosened = models.JSONField(default=list)
    at = models.DateTimeField()
    by = models.CharField(max_length=64)
    agreed_by = models.CharField(max_length=64, blank=True)
    in_force_at = models.DateTimeField(null=True)


class StoredAssessment(models.Model):
    """One assessment, by its digest."""

    digest = models.CharField(primary_key=True, max_length=71)
    document = models.JSONField()
    at = models.DateTimeField()


class Request(models.Model):
    """Asks to publish a release. ``submitters`` are all who handed in a snapshot of it."""

    release = models.ForeignKey(Release, on_delete=models.PROTECT, related_name="requests")
    state = models.CharField(max_length=16, choices=[(one, one) for one in REQUEST_STATES])
    release_digest = models.CharField(max_length=71)
    assessment = models.ForeignKey(StoredAssessment, on_delete=models.PROTECT, related_name="+")
    rule_set = models.ForeignKey(StoredRuleSet, on_delete=models.PROTECT, related_name="+")
    route = models.JSONField()
    note = models.TextField(blank=True)
    submitters = models.JSONField()
    opened_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["release"],
                condition=models.Q(state__in=LIVE_STATES),
                name="one_live_request_a_release",
            )
        ]


class SignOff(models.Model):
    """One reviewer's answer at one desk, on exactly these digests."""

    request = models.ForeignKey(Request, on_delete=models.PROTECT, related_name="sign_offs")
    desk = models.CharField(max_length=64)
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    answer = models.CharField(max_length=16)
    note = models.TextField(blank=True)
    release_digest = models.CharField(max_length=71)
    assessment_digest = models.CharField(max_length=71)
    rule_set = models.PositiveIntegerField()
    at = models.DateTimeField()
    voided_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["request", "person"],
                condition=models.Q(voided_at=None),
                name="one_person_counts_once",
            )
        ]
