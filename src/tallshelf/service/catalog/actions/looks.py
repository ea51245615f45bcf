"""Looks: how a running server was found, as whoever watched it reports."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from tallshelf.core.errors import BadArgument
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import Snapshot
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.comparing import compared
from tallshelf.service.catalog.models import Look, Release
from tallshelf.service.catalog.storage import load
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

MOST_ITEMS = 50


def report_look(
    actor: Actor,
    slug: str,
    environment: str,
    standing: str,
    snapshot: Snapshot | None = None,
    detail: str = "",
) -> Look:
    """Keep how a running server was found against its current release, in the place of the look before.

    A server that was ``reached`` comes with what it declares: whether it has drifted is compared here. That it has, or
    runs as approved again, is an entry of the ledger the first time it is seen. Raises `BadArgument` for a look that
    says neither what was found nor that nothing was.
    """
    server = queries.server(slug)
    require(actor, "report-looks", server.team.slug)
    release = queries.release(actor, slug, "current")
    if all(one["environment"] != environment for one in release.launch):
        known = ", ".join(sorted(one["environment"] for one in release.launch)) or "none"
        raise BadArgument(
            f"{release} has no launch record for {environment[:40]!r}", remedy=f"It has {known}."
        )
    if (snapshot is None) == (standing == "reached"):
        raise BadArgument("a server that was reached comes with its snapshot, and one that was not with none")
    found, items = _compared(release, snapshot)
    with transaction.atomic():
        look, _ = Look.objects.update_or_create(
            server=server,
            environment=environment,
            defaults={
                "release": release,
                "standing": found,
                "items": items,
                "detail": detail[:300],
                "snapshot": snapshot.digest if snapshot else "",
                "by_id": actor.id,
                "at": clock.now(),
            },
        )
        _tell(actor, look)
    return look


def _compared(release: Release, snapshot: Snapshot | None) -> tuple[str, list[str]]:
    if snapshot is None:
        return "not reached", []
    if snapshot.digest == release.snapshot_id:
        return "as approved", []
    changes = compared(load(release.snapshot), snapshot).changes
    return "drifted", _named(change.item for change in changes)


def _named(items: Iterable[str]) -> list[str]:
    return sorted(set(items))[:MOST_ITEMS]


def _tell(actor: Actor, look: Look) -> None:
    """Tell that a server has drifted, or runs as approved again: where that is new."""
    about = {"server": look.server.slug, "version": look.release.version, "environment": look.environment}
    if look.standing == "drifted" and look.told != look.snapshot:
        record(actor, Event.DRIFT_SEEN, {**about, "snapshot_digest": look.snapshot, "items": look.items})
        look.told = look.snapshot
    elif look.standing == "as approved" and look.told:
        record(actor, Event.DRIFT_OVER, about)
        look.told = ""
    look.save(update_fields=["told"])
