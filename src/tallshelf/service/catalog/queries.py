"""Reading the catalog. Who may see what is decided here, for every entrance alike."""

from __future__ import annotations

from typing import Any

from django.db.models import Q, QuerySet

from tallshelf.core.changes import LifeStep, SnapshotComparison, item_life, with_rulings
from tallshelf.core.errors import Conflict, NotFound
from tallshelf.core.overlap import MixUp, Overlap, entries_of, find_overlaps, mix_ups
from tallshelf.core.snapshot import Snapshot, digest, sort_key
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.comparing import compared, compared_releases, compared_snapshots
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import ItemDeprecation, Look, Release, Server, Suspension, UserNote
from tallshelf.service.catalog.overlap import catalog_index, rulings_for, same_meanings, since_of
from tallshelf.service.catalog.steps import steps_of
from tallshelf.service.catalog.visible import PUBLIC_STATES, may_see
from tallshelf.service.ledger import memory
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.permissions import require


def record_digest(server: Server) -> str:
    """Return the digest of what can be edited about a server, for ``If-Match``."""
    return digest(
        [server.title, server.contact, server.source_link, server.tags, server.data_class, server.use]
    )


def server(slug: str) -> Server:
    """Return a server; raise `NotFound`."""
    found = Server.objects.filter(slug=slug).select_related("team", "current").first()
    if found is None:
        raise NotFound(f"there is no server {slug!r}", remedy="List them, or enrol it first.")
    return found


def releases(actor: Actor, server: Server) -> list[Release]:
    """Return the releases of a server that an actor may see, newest version first."""
    require(actor, "see")
    rows = server.releases.select_related("server__team", "submitted_by")
    return sorted(
        (release for release in rows if may_see(actor, release)),
        key=lambda release: sort_key(release.version),
        reverse=True,
    )


def release(actor: Actor, slug: str, version: str) -> Release:
    """Return a release by version, or the ``current`` one; raise `NotFound` when it may not be seen."""
    require(actor, "see")
    owner = server(slug)
    if version == "current":
        if owner.current is None:
            raise NotFound(f"{slug} has no published release", remedy="Name a version.")
        version = owner.current.version
    found = (
        Release.objects.filter(server=owner, version=version)
        .select_related("server__team", "snapshot", "submitted_by")
        .first()
    )
    if found is None or not may_see(actor, found):
        raise NotFound(f"there is no release {version} of {slug}")
    return found


def looks(actor: Actor, slug: str) -> list[Look]:
    """Return how a server was found last where it runs, by environment."""
    require(actor, "see")
    return list(server(slug).looks.select_related("release", "by").order_by("environment"))


def by_digest(actor: Actor, digest: str) -> list[Release]:
    """Return the releases whose own digest or snapshot digest is the one given, as far as visible."""
    require(actor, "see")
    rows = Release.objects.filter(Q(digest=digest) | Q(snapshot_id=digest)).select_related("server__team")
    return [release for release in rows if may_see(actor, release)]


def whole_snapshot_of(release: Release) -> Snapshot:
    """Return a release's snapshot byte for byte; raise `Conflict` when an item of it was purged."""
    snapshot = snapshot_of(release)
    if snapshot.digest != release.snapshot_id:
        raise Conflict(
            f"an item of {release} was purged; its bytes are gone", remedy="The ledger says when, and why."
        )
    return snapshot


def snapshot_of(release: Release) -> Snapshot:
    """Return a release's snapshot, as captured; in place of what was purged stands a placeholder."""
    return storage.load(release.snapshot, release.captured)


def published_versions(server: Server) -> list[str]:
    """Return the versions that can be a base: published or deprecated."""
    return list(
        server.releases.filter(state__in=("published", "deprecated")).values_list("version", flat=True)
    )


def current_release(server: Server) -> Release | None:
    """Return the published release of highest precedence that is not deprecated."""
    rows = list(server.releases.filter(state="published"))
    return max(rows, key=lambda release: sort_key(release.version), default=None)


def standing_suspensions(server: Server | None = None) -> QuerySet[Suspension]:
    """Return suspensions that stand, of one server or of all."""
    rows = Suspension.objects.filter(lifted_at=None).select_related("server", "by").order_by("at")
    return rows if server is None else rows.filter(server=server)


def notes(release: Release) -> list[UserNote]:
    """Return the notes of users on a release, newest first."""
    return list(release.notes.filter(removed_at=None).select_related("by", "answered_by").order_by("-pk"))


def ending_items(server: Server) -> dict[str, ItemDeprecation]:
    """Return the items of a server that are deprecated, by item."""
    return {deprecation.item: deprecation for deprecation in server.ending_items.all()}


def overlaps_of(release: Release) -> tuple[tuple[Overlap, ...], tuple[MixUp, ...]]:
    """Return what a release's items overlap with, strongest first, and which of them may be mixed up."""
    return overlaps_with_catalog(snapshot_of(release), release.server.slug)


def overlaps_with_catalog(snapshot: Snapshot, slug: str) -> tuple[tuple[Overlap, ...], tuple[MixUp, ...]]:
    """Return what a snapshot overlaps with as a release of a server, rulings applied, and its mix-ups."""
    server = Server.objects.filter(slug=slug).first()
    own = entries_of(slug, snapshot.items, slug, since_of(server) if server else None, terms_in_force())
    return find_overlaps(own, catalog_index(), rulings_for(slug)), mix_ups(own)


def comparison(old: Release, new: Release) -> SnapshotComparison:
    """Return the comparison of two releases, with what people ruled on changes of their servers."""
    return _ruled(compared_releases(old, new), new.server.slug)


def comparison_with(old: Release, new: Snapshot) -> SnapshotComparison:
    """Return the comparison of a release with what may become another, with what people ruled."""
    return _ruled(compared(snapshot_of(old), new), old.server.slug)


def comparison_of_bytes(slug: str, old: str, new: str) -> SnapshotComparison:
    """Return the comparison of two stored snapshots of a server, by their digests."""
    return _ruled(compared_snapshots(old, new), slug)


def _ruled(found: SnapshotComparison, slug: str) -> SnapshotComparison:
    """Return a comparison with what people ruled on changes of a server."""
    return with_rulings(found, same_meanings(slug))


def timeline(actor: Actor, slug: str) -> list[dict[str, Any]]:
    """Return the releases that were ever published, oldest version first, each with its step.

    A step is compared with the release before it: the worst impact, and how many changes there are.
    """
    found = [release for release in releases(actor, server(slug)) if release.state in PUBLIC_STATES][::-1]
    return [
        {
            "version": release.version,
            "state": release.state,
            "at": release.published_at,
            "since": before.version if before is not None else None,
            "impact": step.impact,
            "silent": step.silent,
            "changes": step.changes,
        }
        for before, release, step in steps_of(slug, found)
    ]


def life(actor: Actor, slug: str, item: str) -> tuple[LifeStep, ...]:
    """Return the life of an item through the releases that were ever published, oldest version first.

    Raises `NotFound` when no release ever had it.
    """
    owner = server(slug)
    found = [release for release in releases(actor, owner) if release.state in PUBLIC_STATES]
    snapshots = [(release.version, snapshot_of(release)) for release in reversed(found)]
    steps = item_life(item, snapshots, same_meanings(slug), terms_in_force())
    if all(step.event == "not there" for step in steps):
        raise NotFound(f"no release of {slug} ever had {item}", remedy="Items are named tool:NAME and so on.")
    return steps


def connection(actor: Actor, release: Release, environment: str) -> dict[str, Any]:
    """Return the connection block of a release, or say why it must not be used.

    Raises `Conflict` for a suspended server and for a release that is not published.
    """
    require(actor, "see")
    slug = release.server.slug
    standing = standing_suspensions(release.server).filter(item="").first()
    if standing is not None:
        raise Conflict(
            f"{slug} is suspended: {standing.reason}", remedy="Use another server until it is lifted."
        )
    if release.state not in ("published", "deprecated"):
        raise Conflict(
            f"{release} is {release.state}, and only published releases are connected to",
            remedy="Leave the version out to get the current one.",
        )
    records = {record["environment"]: record for record in release.launch}
    if not records:
        raise Conflict(f"{release} has no launch record", remedy="Ask its owner how it is run.")
    chosen = environment or ("production" if "production" in records else sorted(records)[0])
    if chosen not in records:
        raise NotFound(
            f"{release} has no launch record for {chosen!r}",
            remedy=f"There are: {', '.join(sorted(records))}.",
        )
    rows = standing_suspensions(release.server).values("item", "reason", "at")
    stopped: list[dict[str, Any]] = [dict(row) for row in rows]
    return {
        "release": str(release),
        "suspended": stopped,
        "release_digest": release.digest,
        "environment": chosen,
        "environments": sorted(records),
        "warning": " ".join(filter(None, [_warning(release), *map(_stopped, stopped)])),
        "deprecated": release.state == "deprecated",
        "sunset_at": release.sunset_at,
        "replacement": release.replacement,
        "block": {"mcpServers": {slug: _block(records[chosen])}},
    }


def agreed_despite(release: Release) -> list[dict[str, str]]:
    """Return which gates failed when a release was agreed to, and why who agreed did, by the ledger."""
    names = dict(Person.objects.values_list("username", "name"))
    with memory.told() as state:
        told = state.releases.get((release.server.slug, release.version))
        request = state.requests.get(told.request) if told is not None else None
        return [
            {"gate": gate, "reason": reason, "by": names.get(sign_off.who, sign_off.who)}
            for sign_off in (request.counting if request is not None else ())
            for gate, reason in sign_off.despite
        ]


def _stopped(one: dict[str, Any]) -> str:
    return f"{one['item']} is suspended: {one['reason'].rstrip('.')}."


def _warning(release: Release) -> str:
    if release.state != "deprecated":
        return ""
    until = f" It is not to be used after {release.sunset_at:%Y-%m-%d}." if release.sunset_at else ""
    instead = f" Use {release.replacement} instead." if release.replacement else ""
    return f"{release} is deprecated: {release.end_reason.rstrip('.')}.{until}{instead}"


def _block(record: dict[str, Any]) -> dict[str, Any]:
    if record["transport"] == "stdio":
        block = {"command": record["command"], "args": record.get("args", [])}
        return block | (
            {"env": {name: f"${{{name}}}" for name in record["env"]}} if record.get("env") else {}
        )
    kind = "http" if record["transport"] == "streamable-http" else "sse"
    block = {"type": kind, "url": record["url"]}
    headers = {name: f"${{{name.upper().replace('-', '_')}}}" for name in record.get("headers", [])}
    return block | ({"headers": headers} if headers else {})
