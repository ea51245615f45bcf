"""Acts on the catalog. Each is one transaction with its ledger entry."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import IntegrityError, transaction
from django.utils import timezone

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.routing import next_release_state
from tallshelf.core.snapshot import is_slug
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.models import DATA_CLASSES, Release, Server, Suspension
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
    if data_class not in DATA_CLASSES:
        raise BadArgument(
            f"there is no data class {data_class!r}", remedy=f"Classes are {', '.join(DATA_CLASSES)}."
        )
    if source_link and not source_link.startswith(("https://", "http://")):
        raise BadArgument("the source link must be an http or https address")
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
        enrolled_at=timezone.now(),
    )
    record(actor, Event.SERVER_ENROLLED, {"server": slug, "team": team, "data_class": data_class})
    return made, True


@transaction.atomic
def retire_release(actor: Actor, slug: str, version: str, act: str, reason: str) -> Release:
    """Deprecate or withdraw a release, with a reason; the same again answers with the release."""
    require(actor, "curate")
    found = queries.release(actor, slug, version)
    _need_reason(reason)
    if act not in _RETIRED:
        raise BadArgument(f"{act!r} is neither deprecate nor withdraw")
    if found.state == _RETIRED_STATES[act] and found.end_reason == reason:
        return found
    state = next_release_state(found.state, act)  # type: ignore[arg-type]
    moved = Release.objects.filter(pk=found.pk, state=found.state).update(
        state=state, ended_at=timezone.now(), end_reason=reason
    )
    if not moved:
        raise Conflict(f"{found} has just been changed by someone else", remedy="Look again.")
    set_current(found.server)
    record(
        actor,
        _RETIRED[act],
        {"server": slug, "version": found.version, "release_digest": found.digest, "reason": reason},
    )
    found.refresh_from_db()
    return found


def set_current(server: Server) -> None:
    """Point a server at its current release, inside the transaction that changed a state."""
    server.current = queries.current_release(server)
    server.save(update_fields=["current"])


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
            server=owner, item=item, reason=reason.strip(), by_id=actor.id, at=timezone.now()
        )
    except IntegrityError:
        raise Conflict(f"{slug} has just been suspended by someone else") from None
    record(actor, Event.SUSPENDED, {"server": slug, "item": item, "reason": reason.strip()})
    return made, True


def _need_reason(reason: str) -> None:
    if not reason.strip():
        raise BadArgument("a reason is needed", remedy="Say in a sentence why; it is kept in the ledger.")
