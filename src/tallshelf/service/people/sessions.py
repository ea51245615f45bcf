"""Acts on passwords and on sign-ins to the console."""

from __future__ import annotations

from datetime import timedelta

from django.contrib.auth import login
from django.contrib.sessions.models import Session
from django.db import transaction
from django.http import HttpRequest
from django.utils.crypto import constant_time_compare, salted_hmac

from tallshelf.core.errors import Denied, NotFound
from tallshelf.service import clock
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.entries import tell_password, write_entry
from tallshelf.service.people.models import ConsoleSession, Person
from tallshelf.service.people.passwords import choose, need_passwords
from tallshelf.service.people.permissions import require
from tallshelf.service.people.queries import idle_since, standing_sessions
from tallshelf.service.unwritten import write_if_it_can

_USED_EVERY = timedelta(minutes=1)


def sign_in(request: HttpRequest, person: Person) -> None:
    """Sign somebody in by the browser that asks, in place of whoever was; its owner can see and end the sign-in."""
    login(request, person)
    if not request.session.session_key:  # that of somebody else was ended, and this one has none yet
        request.session.create()
    keep_session(person, request.session.session_key or "", request.headers.get("User-Agent", ""))


def keep_session(person: Person, key: str, browser: str) -> None:
    """Remember a sign-in under the key of its session."""
    now = clock.now()
    ConsoleSession.objects.update_or_create(
        key=key,
        defaults={
            "person": person,
            "seal": _seal(key, person.username),
            "browser": browser[:200],
            "started_at": now,
            "last_used_at": now,
        },
    )


def _seal(key: str, username: str) -> str:
    """Return what shows that this service signed somebody in under a key."""
    return salted_hmac("tallshelf.session", f"{key}\0{username}", algorithm="sha256").hexdigest()


def use(key: str, username: str, *, by_hand: bool = True) -> bool:
    """Note that a session is used, to the minute; end it and return False where it lay idle for too long.

    It is also ended where this service did not sign in this user name by it.

    A question that a page asks by itself (not ``by_hand``) keeps no session alive.
    """
    now = clock.now()
    row = ConsoleSession.objects.filter(key=key).values_list("last_used_at", "seal").first()
    last, seal = row or (None, "")
    if last is None or last <= idle_since() or not constant_time_compare(seal, _seal(key, username)):
        _end([key])
        return False
    if by_hand and last < now - _USED_EVERY:
        write_if_it_can(lambda: ConsoleSession.objects.filter(key=key).update(last_used_at=now))
    return True


@transaction.atomic
def forget_past() -> None:
    """Forget the sign-ins that stand no more, and attempts at one that came to nothing."""
    ConsoleSession.objects.exclude(pk__in=standing_sessions().values("pk")).delete()
    Session.objects.filter(expire_date__lte=clock.now()).delete()


@transaction.atomic
def end_session(actor: Actor, number: int) -> None:
    """Sign one of one's own sessions out at once."""
    require(actor, "own-tokens")
    session = ConsoleSession.objects.filter(pk=number, person_id=actor.id).first()
    if session is None:
        raise NotFound("there is no such session of yours")
    _end([session.key])
    write_entry(actor, "session-ended", {"username": actor.username})


@transaction.atomic
def change_password(actor: Actor, old: str, new: str, *, keep: str = "") -> None:
    """Change one's own password, and sign out all sessions but the one to ``keep``."""
    require(actor, "own-tokens")
    need_passwords()
    person = Person.objects.get(pk=actor.id)
    if not person.check_password(old):
        raise Denied("the present password is wrong", remedy="Check it; capitals count.")
    choose(person, new)
    person.save(update_fields=["password"])
    _end(ConsoleSession.objects.filter(person=person).exclude(key=keep).values_list("key", flat=True))
    tell_password(actor, person)


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
