"""The overlap map: each item of the catalog as a point near what it resembles.

Points are pulled together along overlaps and, weakly, towards the others of their server, and pushed
apart by their nearest neighbours (a force-directed layout after Fruchterman and Reingold, 1991, with the
push limited to what is near). It is the same for the same catalog, and each process keeps the last one.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from scipy.spatial import cKDTree

from tallshelf.service.catalog.models import FoundOverlap, Server, StoredRuling
from tallshelf.service.catalog.overlap.found import catch_up
from tallshelf.service.catalog.overlap.process import catalog_index
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_FEWEST_ROUNDS, _MOST_ROUNDS = 40, 160
_ROUNDS_TIMES_POINTS = 80_000
_kept: dict[tuple[str, int, int], dict[str, Any]] = {}


def overlap_map(actor: Actor) -> dict[str, Any]:
    """Return ``points`` with places between 0 and 1, and ``edges`` between overlapping ones by number."""
    require(actor, "see")
    catch_up()
    index = catalog_index()
    last = FoundOverlap.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    ruled = StoredRuling.objects.filter(state="in force").count()
    key = (index.version, last, ruled)
    if key not in _kept:
        _kept.clear()
        _kept[key] = _drawn(index)
    return _kept[key]


def _drawn(index: Any) -> dict[str, Any]:
    entries = list(index.entries)
    number = {(one.source, one.identity): place for place, one in enumerate(entries)}
    settled = {pair for row in StoredRuling.objects.filter(state="in force") for pair in row.pairs}
    edges = []
    for row in FoundOverlap.objects.order_by("pk").values("document", "pair", "cls", "score"):
        sides = [
            number.get((row["document"][side]["server"], row["document"][side]["item"])) for side in "ab"
        ]
        if None not in sides:
            edges.append((*sides, row["score"], row["cls"] == "same-job", row["pair"] in settled))
    teams = dict(Server.objects.values_list("slug", "team__slug"))
    places = _places([one.source for one in entries], teams, edges)
    return {
        "points": [
            {"server": one.source, "item": one.identity, "team": teams[one.source], "x": x, "y": y}
            for one, (x, y) in zip(entries, places, strict=True)
        ],
        "edges": [
            {"a": a, "b": b, "score": score, "same_job": same, "ruled": ruled}
            for a, b, score, same, ruled in edges
        ],
    }


def _places(sources: list[str], teams: dict[str, str], edges: list[Any]) -> list[tuple[float, float]]:
    count = len(sources)
    if count == 0:
        return []
    names = sorted(set(sources), key=lambda slug: (teams.get(slug, ""), slug))
    server = np.array([names.index(slug) for slug in sources])
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
