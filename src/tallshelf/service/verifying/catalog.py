"""Servers, releases, their bytes and suspensions, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State, current
from tallshelf.core.errors import UNREADABLE
from tallshelf.core.snapshot import LISTS, parse_launches, release_digest
from tallshelf.service.catalog.models import (
    ItemDeprecation,
    Release,
    Server,
    StoredItem,
    StoredSnapshot,
    Suspension,
    UserNote,
)
from tallshelf.service.catalog.storage import item_is_whole, load, skeleton
from tallshelf.service.verifying.rows import Difference, compare


def differences(state: State) -> Iterator[Difference]:
    """Yield where the catalog is not as told, and bytes that are not those of their digest."""
    yield from compare("server", _servers(), _told_servers(state))
    yield from compare("release", _releases(), _told_releases(state))
    yield from _launches()
    yield from _bytes(state)
    yield from compare("suspension", _suspensions(), {key: {} for key in state.suspended})
    yield from compare(
        "note",
        _notes(),
        {number: {"by": note.by, "server": note.server} for number, note in state.notes.items()},
    )
    yield from compare("deprecated item", _ending(), {key: dict(one) for key, one in state.ending.items()})


def _ending() -> dict[tuple[str, str], dict[str, object]]:
    return {
        (deprecation.server.slug, deprecation.item): {
            "reason": deprecation.reason,
            "sunset_at": deprecation.sunset_at.isoformat() if deprecation.sunset_at else None,
            "replacement": deprecation.replacement,
        }
        for deprecation in ItemDeprecation.objects.select_related("server")
    }


def _notes() -> dict[int, dict[str, object]]:
    rows = UserNote.objects.filter(removed_at=None).select_related("by", "release__server")
    return {note.pk: {"by": note.by.username, "server": note.release.server.slug} for note in rows}


def _servers() -> dict[str, dict[str, object]]:
    return {
        server.slug: {
            "team": server.team.slug,
            "data_class": server.data_class,
            "scheme": server.scheme,
            "use": server.use,
            "current": server.current.version if server.current else "",
        }
        for server in Server.objects.select_related("team", "current")
    }


def _told_servers(state: State) -> dict[str, dict[str, object]]:
    told: dict[str, dict[str, object]] = {}
    for server in state.servers.values():
        release = current(state, server.slug)
        told[server.slug] = {
            "team": server.team,
            "data_class": server.data_class,
            "scheme": server.scheme,
            "use": server.use,
            "current": release.version if release else "",
        }
    return told


def _releases() -> dict[tuple[str, str], dict[str, object]]:
    return {
        (release.server.slug, release.version): {
            "state": release.state,
            "digest": release.digest,
            "snapshot": release.snapshot_id,
        }
        for release in Release.objects.select_related("server")
    }


def _told_releases(state: State) -> dict[tuple[str, str], dict[str, object]]:
    return {
        key: {"state": release.state, "digest": release.digest, "snapshot": release.snapshot}
        for key, release in state.releases.items()
    }


def _launches() -> Iterator[Difference]:
    """Yield the releases whose launch records are not those that their digest covers, or cannot be read."""
    for release in Release.objects.select_related("server").order_by("pk"):
        try:
            records = parse_launches(release.launch)
            whole = release_digest(
                release.server.slug, release.version, release.snapshot_id, records, breaking=release.breaking
            )
        except UNREADABLE as fault:
            yield Difference("launch: unreadable", f"the launch records of {release} cannot be read: {fault}")
            continue
        if whole != release.digest:
            words = f"the launch records of {release} are not those that its digest covers"
            yield Difference("launch: other", words)


def _bytes(state: State) -> Iterator[Difference]:
    """Yield what is wrong with stored bytes: each item and snapshot is what its digest says, or was purged."""
    stored: dict[str, str] = {}
    for item in StoredItem.objects.order_by("pk").iterator():
        stored[item.digest] = item.kind
        name = f"item {item.digest[7:19]} ({item.name})"
        if item.digest in state.purged:
            if item.purged_at is None:
                yield Difference("item: not purged", f"{name} was purged, and its bytes are there again")
        elif item.purged_at is not None:
            yield Difference(
                "item: purged", f"the bytes of {name} were purged, and the ledger does not say so"
            )
        elif not item_is_whole(item):
            yield Difference("item: bytes", f"the bytes of {name} were changed")
    there = StoredSnapshot.objects.values("pk")
    for release in Release.objects.exclude(snapshot__in=there).values_list("server__slug", "version"):
        yield Difference("snapshot: gone", f"the snapshot of {'@'.join(release)} is gone")
    for snapshot in StoredSnapshot.objects.order_by("pk").iterator():
        held = {digest: LISTS[name] for name, digests in snapshot.lists.items() for digest in digests}
        missing = sorted(held.keys() - stored.keys())
        other = sorted(digest for digest, kind in held.items() if stored.get(digest, kind) != kind)
        releases = ", ".join(map(str, Release.objects.filter(snapshot=snapshot).select_related("server")))
        name = f"snapshot {snapshot.pk[7:19]} ({releases or 'of no release'})"
        if missing:
            yield Difference("snapshot: items", f"the bytes of item {missing[0][7:19]} of {name} are gone")
        elif other:
            yield Difference("item: kind", f"item {other[0][7:19]} of {name} is of another kind")
        elif held.keys() & state.purged.keys():
            # What is left of it is known by the digests of its items, and these by what the purge told.
            if state.skeletons.get(snapshot.pk, skeleton(snapshot)) != skeleton(snapshot):
                yield Difference("snapshot: lists", f"what {name} lists was changed")
        elif not _is_whole(snapshot):
            yield Difference("snapshot: bytes", f"the bytes of {name} were changed")


def _is_whole(snapshot: StoredSnapshot) -> bool:
    try:
        return load(snapshot).digest == snapshot.pk
    except UNREADABLE:
        return False


def _suspensions() -> dict[tuple[str, str], dict[str, object]]:
    rows = Suspension.objects.filter(lifted_at=None).values_list("server__slug", "item")
    return {(server, item): {} for server, item in rows}
