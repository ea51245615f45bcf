"""Acts on the catalog. Each is one transaction with its ledger entry."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, Outdated
from tallshelf.core.routing import next_release_state
from tallshelf.core.snapshot import is_slug, parse_reference
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.models import DATA_CLASSES, Release, Server, Suspension
from tallshelf.service.catalog.search import index_server
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.people.queries import team as team_by_slug

_RETIRED = {
    "deprecate": Event.RELEASE_DEPRECATED,
    "withdraw": Event.RELEASE_WITHDRAWN,
}

_RETIRED_STATES = {"deprecate": "deprecated", "withdraw": "withdrawn"}


@transaction.atomic
def enrol_server(
    actor: Actor,
    slug: str,
    *,
    title: str,
    team: str,
    contact: str,
    source_link: str = "",
    data_class: str = "internal",
    tags: Iterable[str] = (),
) -> tuple[Server, bool]:
    """Put a server on the shelf; the same again answers with the one there is.

    Returns the server and whether it was made. Raises `Conflict` when the slug is taken by
    a server of another team or title.
    """
    require(actor, "enrol", team)
    if not is_slug(slug):
        raise BadArgument(
            f"{slug!r} cannot name a server",
            remedy="Use lower-case letters, digits and single hyphens, 2 to 64 characters.",
        )
    _check_record(data_class, source_link)
    owner = team_by_slug(team)
    found = Server.objects.filter(slug=slug).select_related("team").first()
    if found is not None:
        if found.team_id != owner.pk or found.title != title:
            raise Conflict(f"{slug} is taken by the team {found.team.slug}", remedy="Choose another slug.")
        return found, False
    made = Server.objects.create(
        slug=slug,
        title=title,
        team=owner,
        contact=contact,
        source_link=source_link,
        data_class=data_class,
        tags=sorted(set(tags)),
        enrolled_at=clock.now(),
    )
    record(actor, Event.SERVER_ENROLLED, {"server": slug, "team": team, "data_class": data_class})
    index_server(made)
    return made, True


EDITABLE = ("title", "contact", "source_link", "tags", "data_class")


@transaction.atomic
def edit_server(actor: Actor, slug: str, changes: dict[str, Any], *, seen: str = "") -> Server:
    """Change what the catalog says about a server: title, contact, source link, tags, data class.

    The owner team may, but for the data class, which takes a curator. ``seen`` is the record
    digest of what the editor looked at: `Outdated` when it has been changed since. Lowering the
    data class is a loosening and is `Denied` to one person over HTTP.
    """
    owner = queries.server(slug)
    wanted: dict[str, Any] = {
        name: sorted(set(value)) if name == "tags" else value for name, value in changes.items()
    }
    moved = {name: value for name, value in wanted.items() if getattr(owner, name) != value}
    require(actor, "edit", owner.team.slug)
    if "data_class" in moved:
        require(actor, "curate")
        _keep_class(actor, owner.data_class, moved["data_class"])
    if seen and seen != queries.record_digest(owner):
        raise Outdated(
            f"{slug} has been changed by someone else since you opened it",
            remedy="Look at it again; nothing of yours was stored.",
        )
    _check_record(moved.get("data_class", owner.data_class), moved.get("source_link", ""))
    if not moved:
        return owner
    before = {name: getattr(owner, name) for name in moved}
    for name, value in moved.items():
        setattr(owner, name, value)
    owner.save(update_fields=list(moved))
    record(actor, Event.SERVER_EDITED, {"server": slug, "before": before, "after": moved})
    index_server(owner)
    return owner


def _check_record(data_class: str, source_link: str) -> None:
    if data_class not in DATA_CLASSES:
        raise BadArgument(
            f"there is no data class {data_class!r}", remedy=f"Classes are {', '.join(DATA_CLASSES)}."
        )
    if source_link and not source_link.startswith(("https://", "http://")):
        raise BadArgument("the source link must be an http or https address")


def _keep_class(actor: Actor, old: str, new: str) -> None:
    lower = new in DATA_CLASSES and DATA_CLASSES.index(new) < DATA_CLASSES.index(old)
    if lower and actor.via != "local":
        raise Denied(
            f"lowering the data class from {old} to {new} takes more than one person",
            remedy="A steward does it on the service's machine: tallshelf admin data-class.",
        )


@transaction.atomic
def retire_release(
    actor: Actor,
    slug: str,
    version: str,
    act: str,
    reason: str,
    *,
    sunset_at: datetime | None = None,
    replacement: str = "",
) -> Release:
    """Deprecate or withdraw a release, with a reason; the same again answers with the release.

    A deprecation may name the moment after which the release must not be used any more, and a
    replacement as ``server`` or ``server@version``, which must be there.
    """
    require(actor, "curate")
    found = queries.release(actor, slug, version)
    _need_reason(reason)
    if act not in _RETIRED:
        raise BadArgument(f"{act!r} is neither deprecate nor withdraw")
    if found.state == _RETIRED_STATES[act] and found.end_reason == reason:
        return found
    _check_retirement(actor, act, sunset_at, replacement)
    state = next_release_state(found.state, act)  # type: ignore[arg-type]
    moved = Release.objects.filter(pk=found.pk, state=found.state).update(
        state=state,
        ended_at=clock.now(),
        end_reason=reason,
        sunset_at=sunset_at or found.sunset_at,
        replacement=replacement or found.replacement,
    )
    if not moved:
        raise Conflict(f"{found} has just been changed by someone else", remedy="Look again.")
    set_current(found.server)
    about: dict[str, Any] = {
        "server": slug,
        "version": found.version,
        "release_digest": found.digest,
        "reason": reason,
    }
    if act == "deprecate":
        about |= {"sunset_at": sunset_at.isoformat() if sunset_at else None, "replacement": replacement}
    record(actor, _RETIRED[act], about)
    found.refresh_from_db()
    return found


def _check_retirement(actor: Actor, act: str, sunset_at: datetime | None, replacement: str) -> None:
    if act == "withdraw" and (sunset_at or replacement):
        raise BadArgument("a sunset and a replacement go with deprecating", remedy="Withdrawing is at once.")
    if sunset_at is not None and sunset_at <= clock.now():
        raise BadArgument("the sunset must lie ahead", remedy="To end the use of a release now, withdraw it.")
    if replacement:
        place = parse_reference(replacement)
        if not place.server or place.item:
            raise BadArgument("the replacement must be a server or server@version")
        if place.version:
            queries.release(actor, place.server, place.version)
        else:
            queries.server(place.server)


def set_current(server: Server) -> None:
    """Point a server at its current release, inside the transaction that changed a state."""
    server.current = queries.current_release(server)
    server.save(update_fields=["current"])
    index_server(server)


@transaction.atomic
def suspend(actor: Actor, slug: str, reason: str, item: str = "") -> tuple[Suspension, bool]:
    """Suspend a server or one item of it at once; suspended already answers with what stands."""
    owner = queries.server(slug)
    require(actor, "suspend", owner.team.slug)
    _need_reason(reason)
    standing = owner.suspensions.filter(item=item, lifted_at=None).first()
    if standing is not None:
        return standing, False
    try:
        made = Suspension.objects.create(
            server=owner, item=item, reason=reason.strip(), by_id=actor.id, at=clock.now()
        )
    except IntegrityError:
        raise Conflict(f"{slug} has just been suspended by someone else") from None
    record(actor, Event.SUSPENDED, {"server": slug, "item": item, "reason": reason.strip()})
    return made, True


def _need_reason(reason: str) -> None:
    if not reason.strip():
        raise BadArgument("a reason is needed", remedy="Say in a sentence why; it is kept in the ledger.")
