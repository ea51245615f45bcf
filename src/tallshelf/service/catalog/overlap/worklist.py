"""The work-list of overlaps: pairs of servers, with what they have in common and what was ruled on it."""

from __future__ import annotations

from typing import Any

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.overlap import Entry, MixUp, Overlap, ServerPair, mix_ups, server_pairs
from tallshelf.core.reports import overlap_document
from tallshelf.core.snapshot import parse_reference
from tallshelf.service.catalog.models import Server, StoredRuling
from tallshelf.service.catalog.overlap.found import found_overlaps, pair_of
from tallshelf.service.catalog.overlap.process import catalog_index
from tallshelf.service.catalog.overlap.rulings import ruling_row
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_MOST_OFFERED = 400


def work_list(
    actor: Actor, *, state: str = "", cls: str = "", team: str = "", within: bool = False
) -> list[dict[str, Any]]:
    """Return the pairs of servers whose current releases overlap, those that do the same work first.

    ``state`` is ``open`` for what waits for a ruling in force, which is the same job alone, and ``ruled`` for what has
    one. ``within`` asks for what one server has twice instead.
    """
    require(actor, "see")
    standing = {
        pair: row
        for row in StoredRuling.objects.filter(state__in=("proposed", "in force"))
        .select_related("by", "answered_by")
        .order_by("pk")
        for pair in row.pairs
    }
    by_ruling: dict[int | None, list[Overlap]] = {}
    for one in found_overlaps():
        row = standing.get(pair_of(one))
        by_ruling.setdefault(row.pk if row else None, []).append(one)
    rows = {row.pk: row for row in standing.values()}
    servers = {
        slug: (team, items or 0)
        for slug, team, items in Server.objects.values_list("slug", "team__slug", "current__item_count")
    }
    shown = []
    for number, overlaps in by_ruling.items():
        ruling = ruling_row(actor, rows[number]) if number is not None else None
        shown += [_row(pair, ruling, servers) for pair in server_pairs(overlaps) if pair.is_within is within]
    return [
        one
        for one in sorted(shown, key=_strength)
        if (not cls or one["class"] == cls)
        and (not team or team in one["teams"])
        and (not state or state == _state(one))
    ]


def _strength(row: dict[str, Any]) -> tuple[Any, ...]:
    return row["class"] != "same-job", -len(row["overlaps"]), -row["score"], str(row["servers"])


def _state(row: dict[str, Any]) -> str:
    if row["ruling"] and row["ruling"]["state"] == "in force":
        return "ruled"
    return "open" if row["class"] == "same-job" or row["ruling"] else ""


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
            {"server": one.source, "item": one.item, "digest": one.digest, "team": team_of[one.source]}
            for one in pair.members
        ],
        "overlaps": [{**overlap_document(one), "pair": pair_of(one)} for one in pair.overlaps],
        "ruling": ruling,
    }


def mix_ups_of(actor: Actor, references: list[str]) -> tuple[MixUp, ...]:
    """Return which items of current releases, named ``server`` or ``server#item``, may be mixed up.

    Raises `NotFound` for what is not there, `BadArgument` for more than 400 items.
    """
    require(actor, "see")
    by_server: dict[str, list[Entry]] = {}
    for one in catalog_index().entries:
        by_server.setdefault(one.source, []).append(one)
    offered: dict[tuple[str, str], Entry] = {}
    for reference in references:
        place = parse_reference(reference)
        found = [one for one in by_server.get(place.server or "", ()) if place.item in ("", one.identity)]
        if not found:
            raise NotFound(f"no current release has {reference}")
        offered |= {(one.source, one.identity): one for one in found}
    if len(offered) > _MOST_OFFERED:
        raise BadArgument(
            f"{len(offered)} items are too many at once", remedy=f"Name at most {_MOST_OFFERED}."
        )
    return mix_ups(list(offered.values()))
