"""Acts on people: accounts, teams, deputies and tokens. Each is one transaction with its ledger entry."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable
from datetime import datetime, timedelta

from django.db import transaction

from tallshelf.core.entitlement import CI_SCOPES, LOCAL, MACHINE, RESERVED
from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.snapshot import is_slug
from tallshelf.service import clock
from tallshelf.service.people import queries
from tallshelf.service.people.actor import SCOPES, Actor
from tallshelf.service.people.entries import tell_password, token_is_told, write_entry
from tallshelf.service.people.every_call import standing_token
from tallshelf.service.people.models import Deputy, Person, Role, Team, Token
from tallshelf.service.people.passwords import choose
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.unwritten import write_if_it_can

TOKEN_PREFIX = "tls_"
_LONGEST_DAYS = 366
_USED_EVERY = timedelta(minutes=5)

SETUP = Actor(
    id=0, username=MACHINE, name="Set-up on the machine", role="steward", teams=frozenset(), via=LOCAL
)


@transaction.atomic
def add_team(actor: Actor, slug: str, title: str) -> Team:
    """Add a team, or return the one of that slug."""
    require(actor, "administer")
    if not is_slug(slug):
        raise BadArgument(
            f"{slug!r} cannot name a team", remedy="Use lower-case letters, digits and single hyphens."
        )
    team, made = Team.objects.get_or_create(slug=slug, defaults={"title": title})
    if made:
        write_entry(actor, "team-added", {"team": slug, "title": title})
    return team


@transaction.atomic
def add_person(
    actor: Actor, username: str, name: str, role: str, password: str | None = None, teams: Iterable[str] = ()
) -> Person:
    """Add an account. Without a password (CI) it can only be used by token."""
    require(actor, "administer")
    if not is_slug(username):
        raise BadArgument(
            f"{username!r} cannot name an account",
            remedy="Use lower-case letters, digits and single hyphens.",
        )
    if role not in Role.values:
        raise BadArgument(f"there is no role {role!r}", remedy=f"Roles are {', '.join(Role.values)}.")
    if username in RESERVED:
        raise BadArgument(
            f"{username!r} is how the ledger names what no person did", remedy="Choose another."
        )
    if Person.objects.filter(username=username).exists():
        raise Conflict(f"the account {username!r} exists already")
    person = Person(username=username, name=name, role=role)
    if password is None:
        person.set_unusable_password()
    else:
        choose(person, password)
    person.save()
    person.teams.set([queries.team(slug) for slug in teams])
    write_entry(actor, "person-added", {"username": username, "role": role, "teams": sorted(teams)})
    if password is not None:
        tell_password(actor, person)
    return person


LONGEST_ABSENCE = timedelta(days=92)


@transaction.atomic
def name_deputy(actor: Actor, deputy: str, until: datetime, since: datetime | None = None) -> Deputy:
    """Name who signs in one's place from a moment (now) until another, at most a quarter of a year.

    A deputy signs only what was opened after they began, and only where they may sign themselves. The
    same again answers with what there is; another one ends the one before.
    """
    require(actor, "name-deputy")
    now = clock.now()
    begins = max(since or now, now)
    who = queries.person(deputy)
    if who.pk == actor.id:
        raise BadArgument("nobody is their own deputy")
    if who.role == Role.CI or not who.is_active:
        raise Denied("this account never signs off", remedy="Name someone else.")
    if not begins < until <= begins + LONGEST_ABSENCE:
        raise BadArgument("a deputy stands in until a later moment, at most 92 days on")
    standing = Deputy.objects.filter(person_id=actor.id, ended_at=None, until__gt=now)
    same = standing.filter(deputy=who, until=until).first()
    if same is not None:
        return same
    for other in standing.filter(since__lt=until, until__gt=begins):
        end_deputy(actor, other.pk)
    made = Deputy.objects.create(person_id=actor.id, deputy=who, since=begins, until=until)
    times = {"since": begins.isoformat(), "until": until.isoformat()}
    about = {"number": made.pk, "username": actor.username, "deputy": who.username}
    write_entry(actor, "deputy-named", {**about, **times})
    return made


@transaction.atomic
def end_deputy(actor: Actor, number: int) -> None:
    """End that somebody stands in for one, at once."""
    require(actor, "name-deputy")
    deputy = Deputy.objects.select_related("person", "deputy").filter(pk=number).first()
    if deputy is None or (deputy.person_id != actor.id and refusal(actor, "administer") is not None):
        raise NotFound(f"you have no deputy {number}")
    if deputy.ended_at is None:
        deputy.ended_at = clock.now()
        deputy.save(update_fields=["ended_at"])
        about = {"number": number, "username": deputy.person.username, "deputy": deputy.deputy.username}
        write_entry(actor, "deputy-ended", about)


@transaction.atomic
def make_token(
    actor: Actor, name: str, scopes: Iterable[str], days: int, *, username: str | None = None
) -> tuple[Token, str]:
    """Make a token and return it with its secret, which is shown this once.

    For a CI account it takes a steward; a person's tokens are that person's to make, except on the
    service's own machine. Nobody can give a scope they lack, and a token that is made by a token ends with it.
    """
    wanted = sorted(set(scopes))
    unknown = [scope for scope in wanted if scope not in SCOPES]
    if unknown or not wanted:
        raise BadArgument(
            f"there is no scope {', '.join(unknown) or '(none given)'}",
            remedy=f"Scopes: {', '.join(SCOPES)}.",
        )
    if not 1 <= days <= _LONGEST_DAYS:
        raise BadArgument(f"a token lasts from 1 to {_LONGEST_DAYS} days, not {days}")
    own = username in (None, actor.username)
    require(actor, "own-tokens" if own else "administer")
    if actor.via != LOCAL and not set(wanted) <= actor.scopes:
        raise Denied("a token cannot have a scope that its maker lacks")
    who = queries.person(username or actor.username)
    if not own and who.role != Role.CI and actor.via != LOCAL:
        raise Denied("a person's token is made by that person", remedy="They make it on their own page.")
    if who.role == Role.CI and not set(wanted) <= CI_SCOPES:
        raise Denied("a CI account may read, check and submit, and nothing else")
    if not name.strip():
        raise BadArgument("a token needs a name", remedy="Say what it is for, such as the CI job.")
    secret, now = TOKEN_PREFIX + secrets.token_urlsafe(32), clock.now()
    parent = Token.objects.filter(pk=actor.token).first() if actor.token else None
    ends = now + timedelta(days=days)
    token = Token.objects.create(
        person=who,
        name=name.strip()[:100],
        hash=hash_of(secret),
        scopes=wanted,
        parent=parent,
        created_at=now,
        expires_at=min(ends, parent.expires_at) if parent else ends,
    )
    write_entry(
        actor,
        "token-made",
        {
            "token": token.pk,
            "username": who.username,
            "name": token.name,
            "scopes": wanted,
            "parent": actor.token,
            "expires_at": token.expires_at.isoformat(),
            "hash": token.hash,
        },
    )
    return token, secret


@transaction.atomic
def end_token(actor: Actor, number: int) -> None:
    """End a token at once, and with it those that were made by it; ending it again changes nothing."""
    require(actor, "own-tokens")
    token = Token.objects.filter(pk=number).select_related("person").first()
    if token is None or (token.person_id != actor.id and refusal(actor, "administer") is not None):
        raise NotFound("there is no such token of yours")
    if token.ended_at is None:
        for child in token.children.filter(ended_at=None):
            end_token(actor, child.pk)  # before the one that may be doing this
        token.ended_at = clock.now()
        token.save(update_fields=["ended_at"])
        about = {"token": token.pk, "username": token.person.username, "name": token.name}
        write_entry(actor, "token-ended", about)


def actor_by_token(secret: str, *, acting: bool = True) -> Actor | None:
    """Return the actor of a token that is known, not expired and not ended, nor is the one it was made by.

    For who is ``acting``, it must be the token that the ledger tells of as well.
    """
    now = clock.now()
    token = standing_token(hash_of(secret), now)
    if token is None or (acting and not token_is_told(token)):
        return None
    if token.last_used_at is None or now - token.last_used_at > _USED_EVERY:
        write_if_it_can(lambda: Token.objects.filter(pk=token.pk).update(last_used_at=now))
    return queries.actor_for(token.person, via=f"token:{token.pk}", scopes=frozenset(token.scopes))


def hash_of(secret: str) -> str:
    """Return by what a secret of ours is kept: it has 256 bits, so a plain hash is enough, and is looked up."""
    return hashlib.sha256(secret.encode("utf-8")).hexdigest()
