"""The work-list's rows: overlaps of two servers under one ruling or none, kept as they are found and ruled on."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import chain

from django.db import transaction
from django.db.models import F, Q, QuerySet

from tallshelf.service.catalog.models import FoundOverlap, OverlapGroup, Server, StoredRuling

_MOST = 9_999


def standing_rulings() -> dict[str, int]:
    """Return the ruling that is proposed or in force by each pair that it speaks of."""
    rows = StoredRuling.objects.filter(state__in=("proposed", "in force")).order_by("pk")
    return {pair: number for number, pairs in rows.values_list("pk", "pairs") for pair in pairs}


def regroup(server: Server, ruled: Mapping[str, int] | None = None) -> None:
    """Make the rows anew that a server has part in."""
    ruled = standing_rulings() if ruled is None else ruled
    with transaction.atomic():
        OverlapGroup.objects.filter(Q(low=server) | Q(high=server)).delete()
        overlaps = FoundOverlap.objects.filter(Q(a=server) | Q(b=server)).select_related("a", "b")
        together: dict[tuple[int, int, str, int], list[FoundOverlap]] = {}
        for overlap in overlaps:
            low, high = sorted((overlap.a, overlap.b), key=lambda each: each.slug)
            together.setdefault((low.pk, high.pk, overlap.cls, ruled.get(overlap.pair, 0)), []).append(
                overlap
            )
        made = OverlapGroup.objects.bulk_create(
            OverlapGroup(
                low_id=low,
                high_id=high,
                cls=cls,
                ruling_id=ruling or None,
                key=_key(cls, rows, ruling),
            )
            for (low, high, cls, ruling), rows in together.items()
        )
        for group, rows in zip(made, together.values(), strict=True):
            for overlap in rows:
                overlap.group = group
        FoundOverlap.objects.bulk_update(chain.from_iterable(together.values()), ["group"], batch_size=200)


def regroup_servers(slugs: Iterable[str]) -> None:
    """Make the rows anew of some servers, after a word on their overlaps."""
    ruled = standing_rulings()
    for server in Server.objects.filter(slug__in=set(slugs)):
        regroup(server, ruled)


def regroup_if_missing() -> None:
    """Make all rows where an older version kept overlaps and no rows of them."""
    if FoundOverlap.objects.filter(group=None).exists():
        ruled = standing_rulings()
        for server in Server.objects.filter(pk__in=FoundOverlap.objects.filter(group=None).values("a")):
            regroup(server, ruled)


def groups(*, state: str = "", cls: str = "", team: str = "", within: bool = False) -> QuerySet[OverlapGroup]:
    """Return rows of the work-list, those that do the same work first by ``key``.

    ``state`` is ``open`` for what waits for a ruling in force, which is the same job alone or anything that is
    proposed, and ``ruled`` for what has one. ``within`` asks for what one server has twice instead.
    """
    same = Q(low=F("high"))
    rows = OverlapGroup.objects.filter(same) if within else OverlapGroup.objects.exclude(same)
    if cls:
        rows = rows.filter(cls=cls)
    if team:
        rows = rows.filter(Q(low__team__slug=team) | Q(high__team__slug=team))
    if state == "ruled":
        rows = rows.filter(ruling__state="in force")
    elif state == "open":
        rows = rows.filter(Q(ruling=None, cls="same-job") | Q(ruling__state="proposed"))
    return rows


def _key(cls: str, overlaps: Sequence[FoundOverlap], ruling: int) -> str:
    """Return what rows are sorted by: the same job first, then how many overlaps, how strong, and by name."""
    score = max(overlap.score for overlap in overlaps)
    slugs = sorted((overlaps[0].a.slug, overlaps[0].b.slug))
    strength = f"{_MOST - min(len(overlaps), _MOST):04}{_MOST - round(score * _MOST):04}"
    return f"{int(cls != 'same-job')}{strength} {slugs[0]} {slugs[1]} {ruling}"
