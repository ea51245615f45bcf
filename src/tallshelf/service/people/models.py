"""People, teams, desks and tokens."""

from __future__ import annotations

from typing import ClassVar

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.contrib.auth.hashers import check_password
from django.db import models


class Role(models.TextChoices):
    """What a person may do at large; see `tallshelf.service.people.permissions`."""

    READER = "reader"
    SUBMITTER = "submitter"
    CURATOR = "curator"
    STEWARD = "steward"
    CI = "ci"


class Team(models.Model):
    """A team that owns servers."""

    slug = models.SlugField(unique=True, max_length=64)
    title = models.CharField(max_length=100)

    def __str__(self) -> str:
        return self.slug


class Person(AbstractBaseUser):
    """An account: a person, or a CI job (which can never sign off).

    ``subject`` is as whom the issuer knows them (its ``sub``), from their first sign-in there on.
    """

    username = models.CharField(unique=True, max_length=64)
    name = models.CharField(max_length=100)
    role = models.CharField(max_length=16, choices=Role)
    is_active = models.BooleanField(default=True)
    subject = models.CharField(max_length=255, blank=True, default="")
    teams: models.ManyToManyField[Team, Team] = models.ManyToManyField(Team, related_name="people")

    objects = BaseUserManager()

    def check_password(self, raw_password: str | None) -> bool:
        """Whether it is the password. What is kept of it is never renewed by the way: the ledger names it."""
        return check_password(raw_password or "", self.password)

    USERNAME_FIELD = "username"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["name", "role"]

    def __str__(self) -> str:
        return self.username


class Desk(models.Model):
    """A group of reviewers that answers for one concern.

    ``owner_team_excluded`` bars members of the owner team, on top of whoever submitted.
    """

    slug = models.SlugField(unique=True, max_length=64)
    title = models.CharField(max_length=100)
    lead = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    owner_team_excluded = models.BooleanField(default=True)

    def __str__(self) -> str:
        return self.slug


class DeskSeat(models.Model):
    """One person at one desk, since when: nobody signs a request that opened before they sat down."""

    desk = models.ForeignKey(Desk, on_delete=models.CASCADE, related_name="seats")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="seats")
    since = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["desk", "person"], name="one_seat_each")]


class Invite(models.Model):
    """An invitation to choose a password, once, until a moment; only its code's hash is kept."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="invites")
    hash = models.CharField(unique=True, max_length=64)
    made_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


class Deputy(models.Model):
    """Who signs in someone's place while they are away: from a moment until another, or until it is ended."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="deputies")
    deputy = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="deputy_for")
    since = models.DateTimeField()
    until = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)


class Token(models.Model):
    """A bearer token; only its hash is kept. ``parent`` is the token that it was made by, and ends with."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=100)
    hash = models.CharField(unique=True, max_length=64)
    scopes = models.JSONField()
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="children")
    created_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    last_used_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)


class ConsoleSession(models.Model):
    """One sign-in to the console that has not ended; ``key`` is that of Django's session.

    ``seal`` binds it to the user name by the service's key, so that no row makes one somebody else's.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="console_sessions")
    key = models.CharField(unique=True, max_length=40)
    seal = models.CharField(max_length=64, default="")
    browser = models.CharField(max_length=200, blank=True)
    started_at = models.DateTimeField()
    last_used_at = models.DateTimeField()


class IdempotencyRecord(models.Model):
    """What a POST with an ``Idempotency-Key`` was answered, for when the same one comes again.

    It belongs to the token or session (``source``) that asked.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    source = models.CharField(max_length=60, default="")
    key = models.CharField(max_length=200)
    fingerprint = models.CharField(max_length=71)
    status = models.PositiveSmallIntegerField()
    body = models.TextField()
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["person", "source", "key"], name="one_answer_a_key")
        ]
