"""Acts on what the catalog says about a server."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, Outdated
from tallshelf.core.kits import risk_of
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DATA_CLASSES
from tallshelf.core.snapshot import SCHEMES, is_slug
from tallshelf.service import clock
from tallshelf.service.catalog import queries, storage
from tallshelf.service.catalog.models import USES, Release, Server
from tallshelf.service.catalog.search import index_server
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.people.queries import team as team_by_slug


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
    scheme: str = "semver",
    use: str = "",
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
    if scheme not in SCHEMES:
        raise BadArgument(
            f"there is no version scheme {scheme!r}", remedy=f"Schemes are {', '.join(SCHEMES)}."
        )
    _check_use(use or "open")
    owner = team_by_slug(team)
    server = Server.objects.filter(slug=slug).select_related("team").first()
    if server is not None:
        if server.team_id != owner.pk or server.title != title:
            raise Conflict(f"{slug} is taken by the team {server.team.slug}", remedy="Choose another slug.")
        return server, False
    made = Server.objects.create(
        slug=slug,
        title=title,
        team=owner,
        contact=contact,
        source_link=source_link,
        data_class=data_class,
        tags=sorted(set(tags)),
        scheme=scheme,
        use=use,
        enrolled_at=clock.now(),
    )
    about = {"server": slug, "team": team, "data_class": data_class, "scheme": scheme, "use": use}
    record(actor, Event.SERVER_ENROLLED, about)
    index_server(made)
    return made, True


EDITABLE = ("title", "contact", "source_link", "tags", "data_class", "use")


@transaction.atomic
def edit_server(actor: Actor, slug: str, changes: dict[str, Any], *, seen: str = "") -> Server:
    """Change what the catalog says about a server: title, contact, source link, tags, data class, use.

    The owner team may, but for the data class, which takes a curator. ``seen`` is the record
    digest of what the editor looked at: `Outdated` when it has been changed since. Lowering the
    data class is a loosening and is `Denied`: it takes a request.
    """
    server = queries.server(slug)
    wanted: dict[str, Any] = {
        name: sorted(set(value)) if name == "tags" else value for name, value in changes.items()
    }
    moved = {name: value for name, value in wanted.items() if getattr(server, name) != value}
    require(actor, "edit", server.team.slug)
    if "data_class" in moved:
        require(actor, "curate")
        _keep_class(slug, server.data_class, moved["data_class"])
    if seen and seen != queries.record_digest(server):
        raise Outdated(
            f"{slug} has been changed by someone else since you opened it",
            remedy="Look at it again; nothing of yours was stored.",
        )
    _check_record(moved.get("data_class", server.data_class), moved.get("source_link", ""))
    if "use" in moved:
        _check_use(moved["use"])
    if not moved:
        return server
    before = {name: getattr(server, name) for name in moved}
    for name, value in moved.items():
        setattr(server, name, value)
    server.save(update_fields=list(moved))
    record(actor, Event.SERVER_EDITED, {"server": slug, "before": before, "after": moved})
    if "data_class" in moved:
        invalidate("server", server=slug)
    index_server(server)
    return server


def _check_record(data_class: str, source_link: str) -> None:
    if data_class not in DATA_CLASSES:
        raise BadArgument(
            f"there is no data class {data_class!r}", remedy=f"Classes are {', '.join(DATA_CLASSES)}."
        )
    if source_link and not source_link.startswith(("https://", "http://")):
        raise BadArgument("the source link must be an http or https address")


def _check_use(use: str) -> None:
    if use not in USES:
        raise BadArgument(
            f"the use of a server is not {use[:20]!r}", remedy=f"It is one of {', '.join(USES)}."
        )


def settle_use(server: Server, release: Release) -> None:
    """Let a server ask its owner team before others use it, where nobody said otherwise and it is one that should.

    That is one which writes, or is given credentials by header. Inside the transaction that publishes.
    """
    writes = any(risk_of(item).effect != "reads" for item in storage.load(release.snapshot).items)
    credentials = any(one.get("headers") for one in release.launch)
    if server.use or not (writes or credentials):
        return
    server.use = "ask"
    Server.objects.filter(pk=server.pk).update(use="ask")
    why = "it writes" if writes else "it is given credentials"
    record(CLOCK, Event.USE_CHANGED, {"server": server.slug, "use": "ask", "reason": why})


def _keep_class(slug: str, old: str, new: str) -> None:
    if new in DATA_CLASSES and DATA_CLASSES.index(new) < DATA_CLASSES.index(old):
        raise Denied(
            f"lowering the data class from {old} to {new} takes more than one person",
            remedy=f"Ask for it: tallshelf ask data-class {slug} {new} --reason WHY.",
        )


def change_data_class(actor: Actor, server: Server, data_class: str, *, request: int) -> None:
    """Give a server another data class, as a request that was agreed to asks; inside its transaction."""
    before = {"data_class": server.data_class}
    if server.data_class == data_class:
        raise Conflict(f"{server.slug} is {data_class} already", remedy="Take the request back.")
    server.data_class = data_class
    server.save(update_fields=["data_class"])
    after = {"data_class": data_class}
    about = {"server": server.slug, "before": before, "after": after, "request": request}
    record(actor, Event.DATA_CLASS_CHANGED, about)
    invalidate("server", server=server.slug)
    index_server(server)


def change_scheme(actor: Actor, server: Server, scheme: str, *, request: int) -> None:
    """Let a server number its releases in another way, as a request that was agreed to asks."""
    before = {"scheme": server.scheme}
    if server.scheme == scheme:
        raise Conflict(f"{server.slug} is numbered so already", remedy="Take the request back.")
    server.scheme = scheme
    server.save(update_fields=["scheme"])
    about = {"server": server.slug, "before": before, "after": {"scheme": scheme}, "request": request}
    record(actor, Event.VERSION_SCHEME_CHANGED, about)
    invalidate("server", server=server.slug)
