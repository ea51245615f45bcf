"""The catalog as kits resolve against it: what is published or deprecated, read once."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import Prefetch

from tallshelf.core.kits import OfferedRelease, OfferedServer
from tallshelf.core.snapshot import Item, sort_key
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import Look, Release, Server, Suspension

_HELD = ("published", "deprecated")


class CatalogOffers:
    """What the catalog offers of some servers (or, with none named, of whichever is asked for)."""

    def __init__(self, slugs: Iterable[str] = ()) -> None:
        self._servers: dict[str, Server | None] = dict.fromkeys(slugs)
        rows = Server.objects.filter(slug__in=list(self._servers)).select_related("current")
        held = Release.objects.filter(state__in=_HELD)
        standing = Suspension.objects.filter(lifted_at=None)
        drifted = Look.objects.exclude(told="").select_related("release").order_by("environment")
        fetched = rows.prefetch_related(
            Prefetch("releases", held, to_attr="held"),
            Prefetch("suspensions", standing, to_attr="standing"),
            Prefetch("looks", drifted, to_attr="drifts"),
            "ending_items",
        )
        self._servers |= {server.slug: server for server in fetched}

    def server(self, slug: str) -> OfferedServer | None:
        found = self._servers.get(slug)
        if found is None:
            return None
        releases = sorted(found.held, key=lambda one: sort_key(one.version), reverse=True)  # type: ignore[attr-defined]
        return OfferedServer(
            slug,
            found.data_class,
            found.current.version if found.current else None,
            tuple(
                OfferedRelease(
                    release.version,
                    release.digest,
                    release.state == "deprecated",
                    release.sunset_at,
                    release.replacement,
                )
                for release in releases
            ),
            {one.item: one.reason for one in found.standing},  # type: ignore[attr-defined]
            {drift.environment: drift.release.version for drift in found.drifts},  # type: ignore[attr-defined]
            {deprecation.item: deprecation.words for deprecation in found.ending_items.all()},
        )

    def items(self, slug: str, version: str) -> Iterable[Item]:
        release = self.release(slug, version)
        snapshot = storage.load(release.snapshot)
        return [item for item in snapshot.items if item.identity not in snapshot.twice]

    def release(self, slug: str, version: str) -> Release:
        """Return one of the releases offered."""
        server = self._servers[slug]
        assert server is not None
        held: list[Release] = server.held  # type: ignore[attr-defined]
        return next(one for one in held if one.version == version)

    def slugs(self) -> Iterable[str]:
        return Server.objects.order_by("slug").values_list("slug", flat=True)
