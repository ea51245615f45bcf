"""Requests and what belongs to them (assessments, sign-offs, follow-ups, comments), and routing rule sets."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from tallshelf.core.routing import KINDS, LIVE_STATES, RELEASE_KINDS, REQUEST_KINDS, REQUEST_STATES
from tallshelf.service.catalog.models import Release, Server, Suspension
from tallshelf.service.people.models import Person


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
    """Asks for an act on a release or server.

    ``release`` is what is to be published, deprecated or withdrawn, and for other kinds the one that was
    current when it was asked; ``item`` is what is to be deprecated, where that is one item. ``terms`` say what else
    is asked for (``reason``, ``sunset_at``, ``replacement``, ``data_class``). ``release_digest`` is the digest of
    what is agreed to: of the release, or of the whole act for other kinds than ``publish``; ``desks`` are those that
    the route asks. ``asked_at`` is when its route began last: when it was opened, handed in anew, or asked anew.
    ``moved`` names what its assessment rests on and moved since; a job assesses it anew. ``changed_at`` is when the
    ledger last told of it (as its entries say it), kept by a trigger.
    """

    kind = models.CharField(
        max_length=16,
        default="publish",
        choices=[(request_kind, request_kind) for request_kind in REQUEST_KINDS],
    )
    server = models.ForeignKey(Server, on_delete=models.PROTECT, related_name="requests")
    release = models.ForeignKey(Release, null=True, on_delete=models.PROTECT, related_name="requests")
    suspension = models.ForeignKey(Suspension, null=True, on_delete=models.PROTECT, related_name="requests")
    item = models.TextField(blank=True, default="")
    terms = models.JSONField(default=dict)
    desks = models.JSONField(default=list)
    state = models.CharField(
        max_length=16, choices=[(request_state, request_state) for request_state in REQUEST_STATES]
    )
    release_digest = models.CharField(max_length=71)
    assessment = models.ForeignKey(StoredAssessment, on_delete=models.PROTECT, related_name="+")
    rule_set = models.ForeignKey(StoredRuleSet, on_delete=models.PROTECT, related_name="+")
    route = models.JSONField()
    note = models.TextField(blank=True)
    moved = models.JSONField(default=list)
    opened_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    asked_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)
    taken_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(null=True)
    changed_at = models.CharField(max_length=40, default="", db_index=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["release"],
                condition=models.Q(state__in=LIVE_STATES, kind__in=RELEASE_KINDS),
                name="one_live_request_a_release",
            ),
            models.UniqueConstraint(
                fields=["suspension"],
                condition=models.Q(state__in=LIVE_STATES, kind="lift"),
                name="one_live_request_a_suspension",
            ),
            models.UniqueConstraint(
                fields=["server"],
                condition=models.Q(state__in=LIVE_STATES, kind="data-class"),
                name="one_live_request_a_data_class",
            ),
            models.UniqueConstraint(
                fields=["server"],
                condition=models.Q(state__in=LIVE_STATES, kind="version-scheme"),
                name="one_live_request_a_scheme",
            ),
        ]

    @property
    def version(self) -> str:
        """The version of the release that the act is on; empty where it is on the server."""
        return self.release.version if self.release and self.kind in RELEASE_KINDS else ""

    @property
    def route_hours(self) -> int:
        """How many hours those who are told may object."""
        return max((int(one["hours"]) for one in self.route.get("tells", ())), default=0)

    @property
    def title(self) -> str:
        """In words, what is asked for."""
        subject = f"{self.server.slug} {self.version}".strip()
        item = self.item or (self.suspension.item if self.suspension else "")
        if item:
            subject = f"{item} of {subject}"
        return KINDS[self.kind].titled(subject, self.terms)


class SignOff(models.Model):
    """One reviewer's answer at one desk, on exactly these digests; perhaps as the deputy of someone there.

    ``despite`` says of each gate that failed (``gate``), why they agreed all the same (``reason``).
    """

    request = models.ForeignKey(Request, on_delete=models.PROTECT, related_name="sign_offs")
    desk = models.CharField(max_length=64)
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    deputy_for = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    answer = models.CharField(max_length=16)
    note = models.TextField(blank=True)
    despite = models.JSONField(default=list)
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


class FollowUp(models.Model):
    """A condition that a reviewer agreed under: something that its owner does by a day.

    It falls away with the sign-off that named it.
    """

    sign_off = models.ForeignKey(SignOff, on_delete=models.PROTECT, related_name="follow_ups")
    text = models.TextField()
    owner = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    due = models.DateField()
    closed_at = models.DateTimeField(null=True)
    closed_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    closing_note = models.TextField(blank=True)


BLOCKING = ("question", "objection")
"""Comments that keep a request from being agreed to, until they are answered."""


class Comment(models.Model):
    """A remark or question on a request, perhaps on a place in an item, or the answer to one.

    ``quoted`` is what stood at the place then. A question blocks agreement until it is answered.
    """

    KINDS = ("remark", "question", "objection", "answer")

    request = models.ForeignKey(Request, on_delete=models.PROTECT, related_name="comments")
    kind = models.CharField(max_length=16, choices=[(one, one) for one in KINDS])
    item = models.TextField(blank=True)
    pointer = models.TextField(blank=True)
    quoted = models.TextField(blank=True)
    text = models.TextField()
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    answers = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="replies")
    settled_at = models.DateTimeField(null=True)


class Nudge(models.Model):
    """That a desk was reminded of a request, or that it rose to the desk's lead; each happens once.

    ``round`` is the moment that the desk's time ran from, so that a request that is asked anew nudges anew.
    """

    STAGES = ("reminded", "risen")

    request = models.ForeignKey(Request, on_delete=models.PROTECT, related_name="nudges")
    desk = models.CharField(max_length=64)
    stage = models.CharField(max_length=16, choices=[(one, one) for one in STAGES])
    round = models.DateTimeField()
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["request", "desk", "stage", "round"], name="one_nudge_each")
        ]
