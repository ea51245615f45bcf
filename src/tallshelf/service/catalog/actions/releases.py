"""Acts on releases: deprecate, withdraw, and which one is current."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import next_release_state
from tallshelf.core.snapshot import parse_reference
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.actions.servers import settle_use
from tallshelf.service.catalog.findings import keep_findings
from tallshelf.service.catalog.models import Release, Server, StoredProfiles
from tallshelf.service.catalog.overlap import compare_server, keep_profiles
from tallshelf.service.catalog.search import index_server
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor

_ENDINGS = {
    "deprecate": Event.RELEASE_DEPRECATED,
    "withdraw": Event.RELEASE_WITHDRAWN,
}


def end_release(
    actor: Actor,
    release: Release,
    act: str,
    reason: str,
    *,
    request: int,
    sunset_at: datetime | None = None,
    replacement: str = "",
) -> None:
    """Deprecate or withdraw a release, as a request that was agreed to asks; inside its transaction.

    A deprecation may name the moment after which the release must not be used any more, and a
    replacement as ``server`` or ``server@version``, which must be there.
    """
    check_ending(actor, act, sunset_at, replacement)
    state = next_release_state(release.state, act)  # type: ignore[arg-type]
    moved = Release.objects.filter(pk=release.pk, state=release.state).update(
        state=state,
        ended_at=clock.now(),
        end_reason=reason,
        sunset_at=sunset_at or release.sunset_at,
        replacement=replacement or release.replacement,
    )
    if not moved:
        raise Conflict(f"{release} has just been changed by someone else", remedy="Look again.")
    about: dict[str, Any] = {
        "server": release.server.slug,
        "version": release.version,
        "release_digest": release.digest,
        "request": request,
        "reason": reason,
    }
    if act == "deprecate":
        about |= {"sunset_at": sunset_at.isoformat() if sunset_at else None, "replacement": replacement}
    record(actor, _ENDINGS[act], about)
    set_current(release.server)
    invalidate("base", server=release.server.slug)


def check_ending(actor: Actor, act: str, sunset_at: datetime | None, replacement: str) -> None:
    """Raise `BadArgument` or `NotFound` where a release cannot end like that."""
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
    if server.current is not None:
        settle_use(server, server.current)
    index_server(server)
    keep_profiles(server)
    keep_findings(server)
    transaction.on_commit(lambda: _compare(server))


def _compare(server: Server) -> None:
    """Find what a server overlaps with, once for all acts of a transaction."""
    if StoredProfiles.objects.filter(server=server, compared=False).exists():
        compare_server(server)
