"""The overlap map: what is in the catalog as points, each near what it resembles.

A large catalog is shown in three steps: teams, the servers of one, the items of one and what they overlap with; a part
of it that is small enough is shown as items at once. Points are pulled together along overlaps and, weakly, towards the
others of their group, and pushed apart by their nearest neighbours (a force-directed layout after Fruchterman and
Reingold, 1991, with the push limited to what is near). It is the same for the same catalog, and each process keeps the
last few.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from django.db.models import Count, F, Max, Q, QuerySet
from scipy.spatial import cKDTree

from tallshelf.core.errors import NotFound
from tallshelf.service.catalog.models import FoundOverlap, OverlapGroup, SearchEntry, Server
from tallshelf.service.catalog.overlap.found import catch_up
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_FEWEST_ROUNDS, _MOST_ROUNDS = 40, 160
_ROUNDS_TIMES_POINTS = 80_000
_MOST_POINTS = 600
_MOST_KEPT = 24
_kept: dict[tuple[Any, ...], dict[str, Any]] = {}


@dataclass(frozen=True)
class _Edge:
    a: int
    b: int
    score: float
    same_job: bool
    ruled: bool
    count: int = 1


def overlap_map(actor: Actor, *, team: str = "", server: str = "") -> dict[str, Any]:
    """Return ``level`` (teams, servers or items), ``points`` between 0 and 1, and ``edges`` between them by number.

    ``team`` or ``server`` narrows what is shown; raises `NotFound` for a server that is not there.
    """
    require(actor, "see")
    catch_up()
    found = FoundOverlap.objects.aggregate(last=Max("pk"))["last"]
    key = (team, server, found, Entry.objects.aggregate(last=Max("number"))["last"])
    drawn = _kept.get(key)
    if drawn is None:
        if len(_kept) >= _MOST_KEPT:
            _kept.clear()
        drawn = _kept[key] = _drawn(team, server)
    return drawn


def _drawn(team: str, server: str) -> dict[str, Any]:
    servers = Server.objects.exclude(current=None).order_by("slug")
    if server:
        if not servers.filter(slug=server).exists():
            raise NotFound(f"there is no server {server!r} with a current release")
        near = OverlapGroup.objects.filter(Q(low__slug=server) | Q(high__slug=server))
        servers = servers.filter(
            Q(slug=server) | Q(pk__in=near.values("low")) | Q(pk__in=near.values("high"))
        )
        return _items(servers, server)
    if team:
        servers = servers.filter(team__slug=team)
    items = SearchEntry.objects.filter(server__in=servers).exclude(identity="").count()
    if items <= _MOST_POINTS:
        return _items(servers)
    return _servers(servers) if team or servers.count() <= _MOST_POINTS else _teams(servers)


def _items(servers: QuerySet[Server], only: str = "") -> dict[str, Any]:
    """Return the items of some servers; of the others than ``only`` those that overlap with one of its items."""
    overlaps = FoundOverlap.objects.filter(a__in=servers, b__in=servers).order_by("pk")
    if only:
        overlaps = overlaps.filter(Q(a__slug=only) | Q(b__slug=only))
    rows = list(overlaps.values("document", "cls", "score", "group__ruling__state"))
    ends = [
        tuple((row["document"][side]["server"], row["document"][side]["item"]) for side in "ab")
        for row in rows
    ]
    entries = SearchEntry.objects.filter(server__in=servers).exclude(identity="")
    told = entries.order_by("server__slug", "pk").values_list(
        "server__slug", "identity", "server__team__slug"
    )
    linked = {one for pair in ends for one in pair}
    points = [one for one in told if not only or one[0] == only or one[:2] in linked]
    number = {one[:2]: place for place, one in enumerate(points)}
    edges = [
        _Edge(
            number[a],
            number[b],
            row["score"],
            row["cls"] == "same-job",
            row["group__ruling__state"] == "in force",
        )
        for row, (a, b) in zip(rows, ends, strict=True)
        if a in number and b in number
    ]
    shown = [{"server": slug, "item": item, "team": team, "size": 1} for slug, item, team in points]
    return _laid_out("items", shown, edges, [(slug, team) for slug, _, team in points])


def _servers(servers: QuerySet[Server]) -> dict[str, Any]:
    rows = list(servers.values_list("pk", "slug", "team__slug", "current__item_count"))
    number = {pk: place for place, (pk, *_) in enumerate(rows)}
    between = OverlapGroup.objects.filter(low__in=servers, high__in=servers).exclude(low=F("high"))
    counted = between.annotate(count=Count("overlaps")).values_list(
        "low", "high", "cls", "ruling__state", "count"
    )
    shown = [{"server": slug, "item": "", "team": team, "size": items or 0} for _, slug, team, items in rows]
    edges = _joined((number[low], number[high], *rest) for low, high, *rest in counted)
    return _laid_out("servers", shown, edges, [(slug, team) for _, slug, team, _ in rows])


def _teams(servers: QuerySet[Server]) -> dict[str, Any]:
    rows = list(servers.order_by("team__slug").values_list("team__slug").annotate(count=Count("pk")))
    number = {slug: place for place, (slug, _) in enumerate(rows)}
    between = OverlapGroup.objects.exclude(low__team=F("high__team"))
    counted = between.annotate(count=Count("overlaps")).values_list(
        "low__team__slug", "high__team__slug", "cls", "ruling__state", "count"
    )
    shown = [{"server": "", "item": "", "team": slug, "size": count} for slug, count in rows]
    edges = _joined(
        (*sorted((number[low], number[high])), *rest)
        for low, high, *rest in counted
        if low in number and high in number
    )
    return _laid_out("teams", shown, edges, [(slug, slug) for slug, _ in rows])


def _joined(counted: Iterable[tuple[Any, ...]]) -> list[_Edge]:
    """Return one edge for each two points: how many overlaps, whether any is a same job, whether all are ruled on."""
    overlaps: Counter[tuple[int, int]] = Counter()
    same: set[tuple[int, int]] = set()
    open_: set[tuple[int, int]] = set()
    for a, b, cls, ruling, count in counted:
        overlaps[a, b] += count
        same |= {(a, b)} if cls == "same-job" else set()
        open_ |= {(a, b)} if ruling != "in force" else set()
    most = max(overlaps.values(), default=1)
    return [
        _Edge(*pair, round(0.3 + 0.7 * count / most, 4), pair in same, pair not in open_, count)
        for pair, count in sorted(overlaps.items())
    ]


def _laid_out(
    level: str, points: list[dict[str, Any]], edges: list[_Edge], groups: list[tuple[str, str]]
) -> dict[str, Any]:
    links = [(edge.a, edge.b, edge.score, edge.same_job, edge.ruled) for edge in edges]
    places = _places([name for name, _ in groups], dict(groups), links)
    return {
        "level": level,
        "points": [{**one, "x": x, "y": y} for one, (x, y) in zip(points, places, strict=True)],
        "edges": [asdict(edge) for edge in edges],
    }


def _places(sources: list[str], teams: dict[str, str], edges: list[Any]) -> list[tuple[float, float]]:
    count = len(sources)
    if count == 0:
        return []
    names = sorted(set(sources), key=lambda slug: (teams.get(slug, ""), slug))
    at = {name: place for place, name in enumerate(names)}
    server = np.array([at[slug] for slug in sources])
    # Servers stand on a sunflower's spiral, teams side by side; items start around their server.
    turn = np.arange(len(names)) * 2.399963
    centres = (
        np.column_stack([np.cos(turn), np.sin(turn)])
        * np.sqrt((np.arange(len(names)) + 0.5) / len(names))[:, None]
    )
    own = np.arange(count) * 2.399963
    gap = 1.0 / np.sqrt(count)
    places = centres[server] * 1.2 + np.column_stack([np.cos(own), np.sin(own)]) * gap * 1.5
    links = np.array([(a, b) for a, b, *_ in edges], dtype=int).reshape(-1, 2)
    pull = np.array([(2.0 if same else 1.0) * score for _, _, score, same, _ in edges])
    rounds = max(_FEWEST_ROUNDS, min(_MOST_ROUNDS, _ROUNDS_TIMES_POINTS // count))
    for step in range(rounds):
        heat = 0.12 * (1 - step / rounds)
        moved = (_centre_of(places, server, len(names))[server] - places) * 0.18
        if len(links):
            along = places[links[:, 1]] - places[links[:, 0]]
            distance = np.maximum(np.linalg.norm(along, axis=1), 1e-6)
            pulled = along * (0.22 * pull * (1 - gap * 2 / distance))[:, None]
            np.add.at(moved, links[:, 0], pulled)
            np.add.at(moved, links[:, 1], -pulled)
        near = cKDTree(places).query_pairs(gap * 1.6, output_type="ndarray")
        if len(near):
            apart = places[near[:, 0]] - places[near[:, 1]]
            distance = np.maximum(np.linalg.norm(apart, axis=1), 1e-6)
            pushed = apart * ((gap * 1.6 - distance) / distance * 0.5)[:, None]
            np.add.at(moved, near[:, 0], pushed)
            np.add.at(moved, near[:, 1], -pushed)
        far = np.maximum(np.linalg.norm(moved, axis=1), 1e-9)
        places = places + moved * np.minimum(1.0, heat / far)[:, None]
    low, high = places.min(axis=0), places.max(axis=0)
    scaled = (places - low) / np.maximum(high - low, 1e-9)
    return [(round(float(x), 4), round(float(y), 4)) for x, y in scaled]


def _centre_of(places: Any, server: Any, servers: int) -> Any:
    sums = np.zeros((servers, 2))
    np.add.at(sums, server, places)
    return sums / np.maximum(np.bincount(server, minlength=servers), 1)[:, None]
