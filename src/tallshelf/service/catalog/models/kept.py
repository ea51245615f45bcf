"""What is kept of the records so that pages are quick: worked out of them at any time, and nothing is decided by it."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.service.catalog.models.records import Release, Server
from tallshelf.service.people.models import Team


class ShownFindings(models.Model):
    """Under which style and engine findings are shown (one row), and under which they are being made anew."""

    under = models.CharField(max_length=16, blank=True)
    version = models.PositiveIntegerField(default=0)
    next_under = models.CharField(max_length=16, blank=True)
    next_version = models.PositiveIntegerField(default=0)


class StoredFinding(models.Model):
    """One finding on the current release of a server, for pages alone; ``key`` orders them, by server and badness."""

    under = models.CharField(max_length=16)
    server = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=80)
    rule = models.CharField(max_length=64)
    family = models.CharField(max_length=20)
    level = models.CharField(max_length=8)
    rank = models.PositiveSmallIntegerField()
    mark = models.CharField(max_length=8, blank=True)
    document = models.JSONField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["under", "key"], name="one_finding_a_key")]
        indexes: ClassVar = [
            models.Index(fields=["under", "rule", "key"], name="findings_of_a_rule"),
            models.Index(fields=["under", "rank", "key"], name="findings_of_a_level"),
        ]


class FindingCount(models.Model):
    """How often a rule speaks at a level in the servers of a team, by what became of it (``mark``)."""

    under = models.CharField(max_length=16)
    team = models.ForeignKey(Team, on_delete=models.CASCADE, related_name="+")
    rule = models.CharField(max_length=64)
    family = models.CharField(max_length=20)
    level = models.CharField(max_length=8)
    mark = models.CharField(max_length=8, blank=True)
    count = models.IntegerField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["under", "team", "rule", "level", "mark"], name="one_count_of_findings_each"
            )
        ]


class JudgedServer(models.Model):
    """That the findings of a server are kept, and when the first waiver among them runs out."""

    under = models.CharField(max_length=16)
    server = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    until = models.DateTimeField(null=True, db_index=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["under", "server"], name="one_judgement_a_server")
        ]


class JudgedStep(models.Model):
    """What a public release changed since the one before it; ``under`` names what it was worked out from."""

    release = models.OneToOneField(Release, on_delete=models.CASCADE, related_name="step")
    under = models.CharField(max_length=16)
    engine = models.CharField(max_length=16, db_index=True)
    impact = models.CharField(max_length=10, null=True)
    silent = models.PositiveIntegerField()
    changes = models.PositiveIntegerField()


class StoredProfiles(models.Model):
    """What the items of a server's current release are compared by; ``snapshot`` says of which bytes.

    ``terms`` names the terms of the house that they were read by. ``compared`` is false until `FoundOverlap` holds
    what they overlap with.
    """

    server = models.OneToOneField(Server, on_delete=models.CASCADE, related_name="kept_profiles")
    snapshot = models.CharField(max_length=71)
    method = models.PositiveIntegerField()
    terms = models.CharField(max_length=16, default="", blank=True, db_index=True)
    profiles = models.JSONField()
    compared = models.BooleanField(default=False)

    class Meta:
        indexes: ClassVar = [
            models.Index(fields=["server"], condition=models.Q(compared=False), name="profiles_not_compared")
        ]


class OverlapGroup(models.Model):
    """One row of the work-list: the overlaps of two servers (or of one with itself) under one ruling or none.

    ``key`` is what rows are sorted by; ``low`` and ``high`` are the two by slug.
    """

    low = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    high = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    cls = models.CharField(max_length=10)
    ruling = models.ForeignKey("StoredRuling", null=True, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=160, unique=True)


class FoundOverlap(models.Model):
    """Two items of current releases that seem to do the same job; ``pair`` names what was compared of them."""

    a = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    b = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    cls = models.CharField(max_length=10)
    score = models.FloatField()
    pair = models.CharField(max_length=150, db_index=True)
    document = models.JSONField()
    group = models.ForeignKey(OverlapGroup, null=True, on_delete=models.SET_NULL, related_name="overlaps")


class SearchEntry(models.Model):
    """What can be found: one row for a server (``identity`` empty) and for each item of its current release.

    Its text columns feed the full-text table ``catalog_search`` by triggers.
    """

    server = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="+")
    kind = models.CharField(max_length=10)
    identity = models.TextField(blank=True)
    name = models.TextField()
    words = models.TextField()
    text = models.TextField()
    parameters = models.TextField()


class SearchWord(models.Model):
    """One distinct word of the texts that can be found, for finding it again when it is misspelled.

    ``padded`` feeds the trigram table ``catalog_search_word``.
    """

    word = models.CharField(unique=True, max_length=40)
    padded = models.CharField(max_length=44)
