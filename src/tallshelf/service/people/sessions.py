"""Acts on passwords and on sign-ins to the console."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction

from tallshelf.core.errors import BadArgument, Denied, NotFound
from tallshelf.service import clock
from tallshelf.service.people.actions import write_entry
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import ConsoleSession, Person
from tallshelf.service.people.permissions import require

_USED_EVERY = timedelta(minutes=5)


def keep_session(person: Person, key: str, browser: str) -> None:
    """Remember a sign-in, so that its owner can see and end it."""
    now = clock.now()
    ConsoleSession.objects.update_or_create(
        key=key,
        defaults={"person": person, "browser": browser[:200], "started_at": now, "last_used_at": now},
    )


def note_use(key: str) -> None:
    """Note that a session was used, at most every few minutes."""
    now = clock.now()
    ConsoleSession.objects.filter(key=key, last_used_at__lt=now - _USED_EVERY).update(last_used_at=now)


@transaction.atomic
def end_session(actor: Actor, number: int) -> None:
    """Sign one of one's own sessions out at once."""
    require(actor, "own-tokens")
    found = ConsoleSession.objects.filter(pk=number, person_id=actor.id).first()
    if found is None:
        raise NotFound("there is no such session of yours")
    _end([found.key])
    write_entry(actor, "session-ended", {"username": actor.username})


@transaction.atomic
def change_password(actor: Actor, old: str, new: str, *, keep: str = "") -> None:
    """Change one's own password, and sign out all sessions but the one to ``keep``."""
    require(actor, "own-tokens")
    person = Person.objects.get(pk=actor.id)
    if not person.check_password(old):
        raise Denied("the present password is wrong", remedy="Check it; capitals count.")
    try:
        validate_password(new, person)
    except ValidationError as fault:
        raise BadArgument(" ".join(fault.messages), remedy="Choose a longer, less usual one.") from None
    person.set_password(new)
    person.save(update_fields=["password"])
    _end(ConsoleSession.objects.filter(person=person).exclude(key=keep).values_list("key", flat=True))
    write_entry(actor, "password-changed", {"username": actor.username})


def end_all(person: Person) -> None:
    """Sign somebody out of every session, inside the transaction of the act that does so."""
    _end(ConsoleSession.objects.filter(person=person).values_list("key", flat=True))


def forget_session(key: str) -> None:
    """Forget a session that signed itself out."""
    ConsoleSession.objects.filter(key=key).delete()


def _end(keys: object) -> None:
    wanted = list(keys)  # type: ignore[call-overload]
    Session.objects.filter(session_key__in=wanted).delete()
    ConsoleSession.objects.filter(key__in=wanted).delete()
