"""The work-list of overlaps: pairs of servers, with what they have in common and what was ruled on it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import QuerySet

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.overlap import Entry, MixUp, ServerPair, mix_ups, server_pairs
from tallshelf.core.reports import overlap_document, overlaps_from
from tallshelf.core.snapshot import parse_reference
from tallshelf.service.catalog.models import OverlapGroup, Server
from tallshelf.service.catalog.overlap.found import catch_up, pair_of
from tallshelf.service.catalog.overlap.grouped import groups
from tallshelf.service.catalog.overlap.process import catalog_index
from tallshelf.service.catalog.overlap.rulings import ruling_row
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_MOST_OFFERED = 400


def work_list(
    actor: Actor, *, state: str = "", cls: str = "", team: str = "", within: bool = False
) -> QuerySet[OverlapGroup]:
    """Return the pairs of servers whose current releases overlap, to be sorted by ``key``; see `groups`."""
    require(actor, "see")
    catch_up()
    return groups(state=state, cls=cls, team=team, within=within)


def rows_of(actor: Actor, groups: Sequence[OverlapGroup]) -> list[dict[str, Any]]:
    """Return some of them as they are shown."""
    kept = OverlapGroup.objects.filter(pk__in=[overlap_group.pk for overlap_group in groups]).select_related(
        "low", "high"
    )
    kept = kept.select_related(
        "ruling__by", "ruling__answered_by", "ruling__release__server__team", "ruling__base"
    )
    by_number = {overlap_group.pk: overlap_group for overlap_group in kept.prefetch_related("overlaps")}
    slugs = {server.slug for group in by_number.values() for server in (group.low, group.high)}
    servers = {
        slug: (team, items or 0)
        for slug, team, items in Server.objects.filter(slug__in=slugs).values_list(
            "slug", "team__slug", "current__item_count"
        )
    }
    shown = []
    for number in (overlap_group.pk for overlap_group in groups):
        group = by_number[number]
        documents = [
            overlap.document
            for overlap in sorted(group.overlaps.all(), key=lambda overlap: (-overlap.score, overlap.pk))
        ]
        overlaps, _ = overlaps_from({"overlaps": documents, "mix_ups": []})
        ruling = ruling_row(actor, group.ruling) if group.ruling is not None else None
        shown += [_row(pair, ruling, servers) for pair in server_pairs(overlaps)]
    return shown


def _row(
    pair: ServerPair, ruling: dict[str, Any] | None, servers: dict[str, tuple[str, int]]
) -> dict[str, Any]:
    team_of = {slug: servers.get(slug, ("", 0))[0] for slug in pair.servers}
    return {
        "class": pair.cls,
        "score": pair.score,
        "teams": sorted(set(team_of.values())),
        "servers": [
            {
                "server": slug,
                "team": team_of[slug],
                "alike": len(pair.items_of(slug)),
                "items": servers.get(slug, ("", 0))[1],
            }
            for slug in dict.fromkeys(pair.servers)
        ],
        "members": [
            {"server": side.source, "item": side.item, "digest": side.digest, "team": team_of[side.source]}
            for side in pair.members
        ],
        "overlaps": [{**overlap_document(overlap), "pair": pair_of(overlap)} for overlap in pair.overlaps],
        "ruling": ruling,
    }


def mix_ups_of(actor: Actor, references: list[str]) -> tuple[MixUp, ...]:
    """Return which items of current releases, named ``server`` or ``server#item``, may be mixed up.

    Raises `NotFound` for what is not there, `BadArgument` for more than 400 items.
    """
    require(actor, "see")
    index = catalog_index()
    offered: dict[tuple[str, str], Entry] = {}
    for reference in references:
        place = parse_reference(reference)
        entries = [
            entry for entry in index.entries_of(place.server or "") if place.item in ("", entry.identity)
        ]
        if not entries:
            raise NotFound(f"no current release has {reference}")
        offered |= {(entry.source, entry.identity): entry for entry in entries}
    if len(offered) > _MOST_OFFERED:
        raise BadArgument(
            f"{len(offered)} items are too many at once", remedy=f"Name at most {_MOST_OFFERED}."
        )
    return mix_ups(list(offered.values()))
