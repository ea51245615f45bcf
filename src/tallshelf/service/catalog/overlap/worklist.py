"""The work-list of overlaps: groups of items with what was ruled on them."""

from __future__ import annotations

from typing import Any

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.overlap import Entry, MixUp, Overlap, Side, groups, mix_ups
from tallshelf.core.reports import overlap_document
from tallshelf.core.snapshot import parse_reference
from tallshelf.service.catalog.models import Server, StoredRuling
from tallshelf.service.catalog.overlap.found import found_overlaps, pair_of
from tallshelf.service.catalog.overlap.process import catalog_index
from tallshelf.service.catalog.overlap.rulings import ruling_row
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_MOST_OFFERED = 400


def work_list(actor: Actor, *, state: str = "", cls: str = "", team: str = "") -> list[dict[str, Any]]:
    """Return the groups of overlapping items of current releases, strongest first.

    ``state`` is ``open`` for those without a ruling in force, ``ruled`` for the others.
    """
    require(actor, "see")
    standing = {
        pair: row
        for row in StoredRuling.objects.filter(state__in=("proposed", "in force"))
        .select_related("by", "answered_by")
        .order_by("pk")
        for pair in row.pairs
    }
    by_word: dict[int | None, list[Overlap]] = {}
    for one in found_overlaps():
        row = standing.get(pair_of(one))
        by_word.setdefault(row.pk if row else None, []).append(one)
    rows = {row.pk: row for row in standing.values()}
    teams = dict(Server.objects.values_list("slug", "team__slug"))
    shown = []
    for number, overlaps in by_word.items():
        ruling = ruling_row(actor, rows[number]) if number is not None else None
        shown += [_group(one.cls, one.members, one.overlaps, ruling, teams) for one in groups(overlaps)]
    return [
        one
        for one in sorted(shown, key=lambda one: (one["class"] != "same-job", -one["score"]))
        if (not cls or one["class"] == cls)
        and (not team or team in one["teams"])
        and (not state or state == ("ruled" if _is_ruled(one) else "open"))
    ]


def _is_ruled(group: dict[str, Any]) -> bool:
    return bool(group["ruling"]) and group["ruling"]["state"] == "in force"


def _group(
    cls: str,
    members: tuple[Side, ...],
    overlaps: tuple[Overlap, ...],
    ruling: dict[str, Any] | None,
    teams: dict[str, str],
) -> dict[str, Any]:
    return {
        "class": cls,
        "score": overlaps[0].score,
        "teams": sorted({teams.get(one.source, "") for one in members}),
        "members": [
            {"server": one.source, "item": one.item, "digest": one.digest, "team": teams.get(one.source, "")}
            for one in members
        ],
        "overlaps": [{**overlap_document(one), "pair": pair_of(one)} for one in overlaps],
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
