"""What people follow, and how they are reached: chosen by each for themselves."""

from __future__ import annotations

import hashlib
import hmac
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, NotFound
from tallshelf.service import clock
from tallshelf.service.catalog.models import Server
from tallshelf.service.kits.models import StoredKit
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Team
from tallshelf.service.people.permissions import require
from tallshelf.service.telling import outbox
from tallshelf.service.telling.models import WAYS, Following, MailAddress

_CODE_LASTS = timedelta(days=1)
_ASKED_EVERY = timedelta(minutes=1)
_MOST = 500
_KINDS: dict[str, Any] = {
    "server": Server.objects.all(),
    "kit": StoredKit.objects.filter(dropped_at=None),
    "team": Team.objects.all(),
}


def followings(actor: Actor) -> list[dict[str, str]]:
    """Return what an actor chose, by thing: ``about`` and ``how``."""
    require(actor, "see")
    rows = Following.objects.filter(person_id=actor.id).order_by("about")
    return [{"about": following.about, "how": following.how} for following in rows]


@transaction.atomic
def follow(actor: Actor, about: str, how: str) -> None:
    """Choose how an actor is told of a thing; ``default`` takes the choice back.

    Raises `BadArgument` for a way that there is none of, `NotFound` for a thing that is not there.
    """
    require(actor, "choose-told")
    if how == "default":
        Following.objects.filter(person_id=actor.id, about=about).delete()
        return
    if how not in WAYS:
        raise BadArgument(f"nobody is told by {how!r}", remedy=f"It is one of {', '.join(WAYS)}, or default.")
    _need_thing(about)
    if Following.objects.filter(person_id=actor.id).exclude(about=about).count() >= _MOST:
        raise Conflict(f"you follow {_MOST} things already", remedy="Follow a team, or the catalog.")
    Following.objects.update_or_create(person_id=actor.id, about=about, defaults={"how": how})


def _need_thing(about: str) -> None:
    kind, _, name = about.partition(":")
    if about == "catalog":
        return
    if kind not in _KINDS or not name:
        raise BadArgument(
            f"{about[:80]!r} is nothing to follow",
            remedy="It is catalog, or server:SLUG, kit:NAME or team:SLUG.",
        )
    key = "name" if kind == "kit" else "slug"
    if not _KINDS[kind].filter(**{key: name}).exists():
        raise NotFound(f"there is no {kind} {name[:64]!r} to follow")


def mail_of(actor: Actor) -> dict[str, Any]:
    """Return how an actor is reached: address, whether they confirmed it, how they are told, whether mail is sent."""
    require(actor, "see")
    address = MailAddress.objects.filter(person_id=actor.id).first() or MailAddress()
    return {
        "address": address.address,
        "confirmed": address.confirmed_at is not None,
        "how": address.how,
        "sends": bool(settings.CONFIG.mail_host),
    }


@transaction.atomic
def set_mail(actor: Actor, address: str) -> None:
    """Name where an actor gets mail, or with an empty address nowhere; a code goes there, by which they confirm it.

    Raises `BadArgument` for what is no address, `Conflict` where this service sends no mail or was asked just now.
    """
    require(actor, "own-tokens")
    mail_address, _ = MailAddress.objects.get_or_create(person_id=actor.id)
    if not address:
        mail_address.address, mail_address.asked_at, mail_address.confirmed_at, mail_address.how = (
            "",
            None,
            None,
            "inbox",
        )
        mail_address.save()
        return
    try:
        validate_email(address)
    except ValidationError:
        raise BadArgument(f"{address[:80]!r} is no mail address") from None
    if not settings.CONFIG.mail_host:
        raise Conflict("this service sends no mail", remedy="A steward sets [mail] in its settings.")
    if mail_address.address == address and mail_address.confirmed_at is not None:
        return
    now = clock.now()
    if mail_address.asked_at is not None and now - mail_address.asked_at < _ASKED_EVERY:
        raise Conflict("a code was sent just now", remedy="Look for it, or ask again in a minute.")
    mail_address.address, mail_address.asked_at, mail_address.confirmed_at = address, now, None
    mail_address.save()
    outbox.add_code(actor.id)


@transaction.atomic
def change_mail(actor: Actor, *, address: str | None = None, how: str | None = None) -> None:
    """Change where an actor gets mail, how they are told, or both; see `set_mail` and `choose_how`."""
    require(actor, "choose-told" if address is None else "own-tokens")
    if address is not None:
        set_mail(actor, address)
    if how is not None:
        choose_how(actor, how)


@transaction.atomic
def confirm_mail(actor: Actor, code: str) -> None:
    """Confirm an address by the code that was sent there; raise `BadArgument` for any other, or one of yesterday."""
    require(actor, "own-tokens")
    address = MailAddress.objects.filter(person_id=actor.id).exclude(asked_at=None).first()
    if address is None or address.asked_at is None:
        raise NotFound("no address waits to be confirmed", remedy="Name one first.")
    if address.confirmed_at is not None:
        return
    late = clock.now() - address.asked_at > _CODE_LASTS
    if late or not hmac.compare_digest(code.strip().encode(), code_of(address).encode()):
        raise BadArgument(
            "this code is not the one, or is older than a day", remedy="Name the address again."
        )
    outbox.drop_code(actor.id)
    address.confirmed_at = clock.now()
    address.how = "mail" if address.how == "inbox" else address.how
    address.save()


def code_of(address: MailAddress) -> str:
    """Return the code that confirms an address: drawn from the service's key, stored nowhere."""
    said = f"mail:{address.person_id}:{address.address}:{address.asked_at and address.asked_at.isoformat()}"
    return hmac.new(settings.SECRET_KEY.encode(), said.encode(), hashlib.sha256).hexdigest()[:16]


@transaction.atomic
def choose_how(actor: Actor, how: str) -> None:
    """Choose how an actor is told of what their teams own and of what their desks are asked."""
    require(actor, "choose-told")
    if how not in WAYS[:3]:
        raise BadArgument(f"nobody is told by {how!r}", remedy=f"It is one of {', '.join(WAYS[:3])}.")
    address, _ = MailAddress.objects.get_or_create(person_id=actor.id)
    if how != "inbox" and address.confirmed_at is None:
        raise Conflict("you have no confirmed address", remedy="Name one, and confirm it by its code.")
    address.how = how
    address.save(update_fields=["how"])
