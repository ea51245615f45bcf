"""Servers, snapshots, releases, suspensions, and what people decided about them."""

from __future__ import annotations

from typing import ClassVar

from django.db import models
from django.db.models.functions import Coalesce

from tallshelf.core.routing import RELEASE_STATES
from tallshelf.core.snapshot import SCHEMES
from tallshelf.service.people.models import Person, Team

USES = ("open", "ask")


class StoredItem(models.Model):
    """One item as declared, stored once however many releases hold it.

    Once it is purged its bytes are gone: ``body`` is a placeholder of the same name, the digest stays.
    """

    digest = models.CharField(primary_key=True, max_length=71)
    kind = models.CharField(max_length=10)
    name = models.TextField()
    body = models.TextField()
    purged_at = models.DateTimeField(null=True)


class StoredSnapshot(models.Model):
    """A snapshot: the server's own part, and the digests of its items by list."""

    digest = models.CharField(primary_key=True, max_length=71)
    server = models.TextField()
    lists = models.JSONField()


class Server(models.Model):
    """One tool server in the catalog.

    ``use`` says whether others use it freely (``open``) or ask its owner team; empty, until its first release that
    writes or takes credentials lets it ask. ``current`` is kept by the actions on releases; ``scheme`` numbers them.
    ``changed_at`` is when the ledger last told of it (as its entries say it), kept by a trigger.
    """

    slug = models.CharField(unique=True, max_length=64)
    title = models.CharField(max_length=120)
    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="servers")
    contact = models.CharField(max_length=200)
    source_link = models.CharField(max_length=500, blank=True)
    data_class = models.CharField(max_length=20)
    use = models.CharField(
        max_length=4, blank=True, default="open", choices=[(one, one) for one in ("", *USES)]
    )
    scheme = models.CharField(max_length=12, default="semver", choices=[(one, one) for one in SCHEMES])
    tags = models.JSONField(default=list)
    current = models.ForeignKey("Release", null=True, on_delete=models.PROTECT, related_name="+")
    enrolled_at = models.DateTimeField()
    changed_at = models.CharField(max_length=40, default="", db_index=True)

    def __str__(self) -> str:
        return self.slug


class Release(models.Model):
    """A server, a version, a snapshot and launch records; published ones never change.

    ``captured`` says how the snapshot came to be; ``desks`` are those asked about it, who may
    therefore see it; ``tokens`` is an estimate. A deprecated one may name the moment after which
    it must not be used (``sunset_at``) and what to use instead (``replacement``, a reference). ``breaking``: one of a
    calendar scheme was declared to break.
    """

    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="releases")
    version = models.CharField(max_length=100)
    breaking = models.BooleanField(default=False)
    snapshot = models.ForeignKey(StoredSnapshot, on_delete=models.PROTECT, related_name="releases")
    captured = models.JSONField()
    launch = models.JSONField()
    digest = models.CharField(max_length=71, db_index=True)
    state = models.CharField(
        max_length=16, choices=[(release_state, release_state) for release_state in RELEASE_STATES]
    )
    origin = models.CharField(max_length=40)
    desks = models.JSONField(default=list)
    item_count = models.PositiveIntegerField()
    tool_count = models.PositiveIntegerField()
    tokens = models.PositiveIntegerField()
    submitted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    submitted_at = models.DateTimeField()
    published_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    end_reason = models.TextField(blank=True)
    sunset_at = models.DateTimeField(null=True)
    replacement = models.CharField(max_length=170, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["server", "version"], name="one_release_a_version")
        ]

    def __str__(self) -> str:
        return f"{self.server.slug}@{self.version}"


class Suspension(models.Model):
    """A dated stop of a server, or of one item of it; ``item`` is empty for the whole server."""

    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="suspensions")
    item = models.TextField(blank=True)
    reason = models.TextField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    lifted_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["server", "item"], condition=models.Q(lifted_at=None), name="one_standing_suspension"
            )
        ]


class ItemDeprecation(models.Model):
    """That an item of a server is deprecated, in whatever release: until when, and what to use instead."""

    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="ending_items")
    item = models.TextField()
    reason = models.TextField()
    sunset_at = models.DateTimeField(null=True)
    replacement = models.CharField(max_length=300, blank=True)
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["server", "item"], name="one_deprecation_an_item")
        ]

    @property
    def words(self) -> str:
        """Until when, why, and what instead; to stand behind *deprecated*."""
        until = f", not to be used after {self.sunset_at:%Y-%m-%d}" if self.sunset_at else ""
        instead = f"; use {self.replacement} instead" if self.replacement else ""
        return f"{until}: {self.reason.rstrip('.')}{instead}"


class UserNote(models.Model):
    """A short note of a user on a release, perhaps answered by its owners; a removed one has no text any more."""

    LONGEST = 500

    release = models.ForeignKey(Release, on_delete=models.PROTECT, related_name="notes")
    text = models.CharField(max_length=LONGEST, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    answer = models.CharField(max_length=LONGEST, blank=True)
    answered_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["release", "-id"], name="notes_of_a_release")]


class Look(models.Model):
    """How a running server was found last, in one environment, against a release; ``items`` are those that differ.

    ``told`` is the digest of the drifted snapshot that the ledger tells of; empty: of none.
    """

    STANDINGS = ("as approved", "drifted", "not reached")

    server = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="looks")
    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="+")
    environment = models.CharField(max_length=40)
    standing = models.CharField(max_length=12, choices=[(one, one) for one in STANDINGS])
    items = models.JSONField(default=list)
    detail = models.CharField(max_length=300, blank=True)
    snapshot = models.CharField(max_length=71, blank=True)
    told = models.CharField(max_length=71, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["server", "environment"], name="one_look_each")
        ]


class StoredStyle(models.Model):
    """A house style under a version: proposed, put in force, or declined.

    ``replaces`` is the version it was written against (0: the default style); ``loosened`` says in
    words what it lets pass, for which a second curator (``agreed_by``) is needed.
    """

    STATES = ("proposed", "in force", "declined")

    version = models.PositiveIntegerField(primary_key=True)
    text = models.TextField()
    digest = models.CharField(max_length=71)
    note = models.TextField()
    state = models.CharField(max_length=16, choices=[(one, one) for one in STATES])
    replaces = models.PositiveIntegerField()
    loosened = models.JSONField(default=list)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    agreed_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    in_force_at = models.DateTimeField(null=True)


class StoredWaiver(models.Model):
    """An exception to a rule for one item, or for one place in it (``pointer``; None: anywhere in it).

    It is bound to the findings it was asked for (``fingerprints``): where the text moves it no longer holds.
    """

    STATES = ("asked", "granted", "refused", "ended")
    LIVE = ("asked", "granted")

    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="waivers")
    rule = models.CharField(max_length=64)
    item = models.TextField()
    pointer = models.TextField(null=True)
    fingerprints = models.JSONField(default=list)
    reason = models.TextField()
    until = models.DateTimeField()
    state = models.CharField(max_length=16, choices=[(one, one) for one in STATES])
    asked_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField()
    answered_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True)
    answer_note = models.TextField(blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                "server",
                "rule",
                "item",
                Coalesce("pointer", models.Value("*")),
                condition=models.Q(state__in=("asked", "granted")),
                name="one_live_waiver_a_place",
            )
        ]


class KnownFinding(models.Model):
    """A finding that was accepted as known for a server: when it was adopted, or by two curators since."""

    server = models.ForeignKey(Server, on_delete=models.CASCADE, related_name="known_findings")
    fingerprint = models.CharField(max_length=71)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["server", "fingerprint"], name="one_known_finding_each")
        ]


class StoredKnown(models.Model):
    """That one curator proposes to accept findings of a server as known; another one answers."""

    STATES = ("proposed", "in force", "declined")

    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="known_proposals")
    release_digest = models.CharField(max_length=71)
    fingerprints = models.JSONField()
    reason = models.TextField()
    state = models.CharField(max_length=12, choices=[(one, one) for one in STATES])
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    answered_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True)
    answer_note = models.TextField(blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["server"], condition=models.Q(state="proposed"), name="one_known_proposal_a_server"
            )
        ]


class StoredRuling(models.Model):
    """A word on one overlap or a group of them: proposed, in force once a second curator agreed, or closed.

    ``pairs`` names what was compared of each pair; ``members`` the items as references. ``preferred``
    is the member to use; ``owner`` and ``due`` say who merges until when. A word on silent changes names the
    ``release`` they came with and the ``base`` it was compared with; its pairs are their bases.
    """

    STATES = ("proposed", "in force", "declined", "ended")

    word = models.CharField(max_length=12)
    reason = models.TextField()
    pairs = models.JSONField()
    members = models.JSONField()
    preferred = models.TextField(blank=True)
    owner = models.CharField(max_length=200, blank=True)
    due = models.DateField(null=True)
    release = models.ForeignKey(Release, null=True, on_delete=models.PROTECT, related_name="rulings")
    base = models.ForeignKey(Release, null=True, on_delete=models.PROTECT, related_name="+")
    state = models.CharField(max_length=12, choices=[(one, one) for one in STATES])
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    answered_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True)
    answer_note = models.TextField(blank=True)
