"""Reading kits: lists, one with all that is wrong with it, who holds what."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db.models import Count, Exists, F, OuterRef, Q, QuerySet, Subquery
from django.db.models.functions import Coalesce

from tallshelf.core.changes import Change, SnapshotComparison
from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.kits import (
    MOST_MIXED,
    Hit,
    Holder,
    Kit,
    Lock,
    Pick,
    Problem,
    Resolution,
    hits,
    kit_from,
    lock_from,
    release_for,
    resolve,
    restricted,
    why_not_move,
)
from tallshelf.core.overlap import MixUp, entries_of, mix_ups
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import Release, Server, Suspension
from tallshelf.service.filtering import holding_words
from tallshelf.service.kits import using
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredLock, StoredRaise
from tallshelf.service.kits.offers import CatalogOffers
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_HELD = HeldItem.objects.filter(kit=OuterRef("pk"))
_STOPPED = _HELD.filter(
    Exists(
        Suspension.objects.filter(
            Q(item="") | Q(item=OuterRef("item")), server=OuterRef("server"), lifted_at=None
        )
    )
)
_ENDED = _HELD.exclude(release__state="published")
TROUBLES: dict[str, Q] = {
    "suspended": Q(Exists(_STOPPED)),
    "ended": Q(Exists(_ENDED)),
    "budget": Q(lock__tokens__gt=F("budget")),
}
"""What may be wrong with a kit: it holds what is suspended or has ended, or it is over its budget."""


def kits(
    actor: Actor, *, team: str = "", server: str = "", item: str = "", q: str = "", trouble: str = ""
) -> QuerySet[Any, Any]:
    """Return one lean row for each kit there is, perhaps of one team, or holding something of a server.

    The words of ``q`` are in its name or title; ``trouble`` is one of `TROUBLES`, else `BadArgument`.
    """
    require(actor, "see")
    rows = holding_words(StoredKit.objects.filter(dropped_at=None), q, ("name", "title"))
    if trouble:
        if trouble not in TROUBLES:
            raise BadArgument(
                f"there is no trouble {trouble[:40]!r}", remedy=f"One of: {', '.join(TROUBLES)}."
            )
        rows = rows.filter(TROUBLES[trouble])
    if team:
        rows = rows.filter(team__slug=team)
    if server:
        holding = HeldItem.objects.filter(server__slug=server, **({"item": item} if item else {}))
        rows = rows.filter(pk__in=holding.values("kit"))
    shown: QuerySet[Any, Any] = rows.annotate(
        team_slug=F("team__slug"),
        team_title=F("team__title"),
        held_items=F("lock__items"),
        tokens=F("lock__tokens"),
        # Counted for the rows of one page alone: joined, they would be counted for every kit first.
        servers=_count(_HELD, "server"),
        suspended=_count(_STOPPED, "server"),
        deprecated=_count(_ENDED, "release"),
    ).values(*_ROW)
    return shown


def _count(held: QuerySet[HeldItem, HeldItem], column: str) -> Any:
    """Return how many different values a column of what a kit holds has, as a subquery."""
    counted = held.order_by().values("kit").annotate(number=Count(column, distinct=True)).values("number")
    return Coalesce(Subquery(counted), 0)


_ROW = (
    "name",
    "title",
    "team_slug",
    "team_title",
    "environment",
    "data_class",
    "budget",
    "moves",
    "held_items",
    "tokens",
    "servers",
    "suspended",
    "deprecated",
    "changed_at",
)


def kit(name: str) -> StoredKit:
    """Return a kit that was not dropped; raise `NotFound`."""
    found = (
        StoredKit.objects.filter(name=name, dropped_at=None).select_related("team", "lock", "put_by").first()
    )
    if found is None:
        raise NotFound(f"there is no kit {name!r}", remedy="List them: tallshelf kit list.")
    return found


def digest_of(name: str) -> str:
    """Return the digest of a kit as it was put last; empty where there is none."""
    return StoredKit.objects.filter(name=name, dropped_at=None).values_list("digest", flat=True).first() or ""


def lock_of(kit: StoredKit | None) -> Lock:
    """Return what a kit holds; an empty lock where it holds nothing."""
    return Lock() if kit is None or kit.lock is None else lock_from(kit.lock.document)


@dataclass(frozen=True)
class Behind:
    """A server that a kit would hold another release of, were it moved; ``why`` it does not move by itself."""

    server: str
    holds: str
    takes: str
    why: str
    hits: tuple[Hit, ...]


@dataclass(frozen=True)
class State:
    """A kit as it stands: what it holds, what is wrong with that, and what would move."""

    stored: StoredKit
    kit: Kit
    lock: Lock
    problems: tuple[Problem, ...]
    behind: tuple[Behind, ...]
    mix_ups: tuple[MixUp, ...]


def state_of(found: StoredKit) -> State:
    """Return how a kit stands now."""
    kit, lock = kit_from(found.document), lock_of(found)
    offers = CatalogOffers(pick.server for pick in kit.picks)
    held = resolve(kit, offers, at=lock.versions)
    return State(found, kit, lock, _problems(held, lock), behind_of(kit, lock, offers), mixed_up(held))


def _problems(held: Resolution, lock: Lock) -> tuple[Problem, ...]:
    """Return what is wrong with what is held; a release that is not offered any more was withdrawn."""
    problems = []
    for problem in held.problems:
        version = lock.versions.get(problem.server, "")
        if problem.kind == "no-release" and version:
            message = f"{problem.server}@{version} is approved no more; nobody is given its connection block"
            problem = Problem(problem.kind, problem.key, message, problem.server)
        problems.append(problem)
    return tuple(problems)


def mixed_up(resolution: Resolution) -> tuple[MixUp, ...]:
    """Return which of the items of a kit a model may mix up, of whatever servers; nothing where they are too many."""
    by_server: dict[str, list[Any]] = {}
    for (server, _), item in resolution.items.items():
        by_server.setdefault(server, []).append(item)
    if len(resolution.items) > MOST_MIXED:
        return ()
    terms = terms_in_force()
    return mix_ups(
        [
            entry
            for slug, items in sorted(by_server.items())
            for entry in entries_of(slug, items, slug, None, terms)
        ]
    )


def behind_of(kit: Kit, lock: Lock, offers: CatalogOffers) -> tuple[Behind, ...]:
    """Return the servers of which a kit's picks would take another release than is held, by its picks."""
    behinds = []
    for pick in kit.picks:
        held = lock.versions.get(pick.server)
        best = best_of(pick, offers)
        if held is None or best is None or best == held:
            continue
        comparison = step_between(pick.server, held, best)
        why = _why(kit, pick, lock, comparison, offers, best)
        holder = holder_of(kit, lock, pick.server)
        behinds.append(Behind(pick.server, held, best, why, hits(comparison.changes, [holder])))
    return tuple(behinds)


def best_of(pick: Pick, offers: CatalogOffers) -> str | None:
    """Return the version that a pick would take now, or None."""
    server = offers.server(pick.server)
    release = release_for(pick, server) if server is not None else None
    return release.version if release is not None else None


def step_between(slug: str, held: str, best: str) -> SnapshotComparison:
    """Return the comparison of two releases of a server."""
    rows = {
        release.version: release
        for release in Release.objects.filter(server__slug=slug, version__in=(held, best)).select_related(
            "server"
        )
    }
    return catalog.comparison(rows[held], rows[best])


def _why(
    kit: Kit, pick: Pick, lock: Lock, comparison: SnapshotComparison, offers: CatalogOffers, best: str
) -> str:
    """Return why a lock stays where it is, or nothing where it may move by itself."""
    if kit.moves == "never":
        return "this kit moves by hand only"
    if using.moves_by_hand(kit, pick.server):
        return "its use asks its owners: it moves by hand"
    why = why_not_move(comparison, lock, pick.server)
    if why:
        return why
    moved = moved_pick(kit, pick, offers, best)
    if moved.refused:
        return moved.refused[0].message
    rest = sum(locked.tokens for locked in lock.items if locked.server != pick.server)
    if kit.budget is not None and lock.tokens <= kit.budget < rest + moved.lock.tokens:
        return f"it would take about {rest + moved.lock.tokens:,} tokens, and the budget is {kit.budget:,}"
    return ""


def moved_pick(kit: Kit, pick: Pick, offers: CatalogOffers, version: str) -> Resolution:
    """Return what one pick comes to at a version."""
    alone = Kit(
        kit.name,
        kit.title,
        kit.team,
        kit.contacts,
        kit.purpose,
        (pick,),
        kit.environment,
        None,
        kit.data_class,
    )
    return resolve(alone, offers, at={pick.server: version})


def holder_of(kit: Kit, lock: Lock, server: str) -> Holder:
    """Return a kit as a holder of what it holds of a server."""
    return Holder(
        kit.name,
        kit.title,
        kit.team,
        kit.environment,
        {locked.item: locked.version for locked in lock.of(server)},
    )


def holders(server: Server, items: Iterable[str] | None = None) -> list[Holder]:
    """Return the kits that hold something of a server (or some of its items), with the version of each item."""
    rows = HeldItem.objects.filter(server=server)
    if items is not None:
        rows = rows.filter(item__in=list(items))
    found: dict[str, tuple[str, str, str, dict[str, str]]] = {}
    columns = ("kit__name", "kit__title", "kit__team__slug", "kit__environment", "item", "release__version")
    for name, title, team, environment, item, version in rows.order_by("kit__name", "item").values_list(
        *columns
    ):
        found.setdefault(name, (title, team, environment, {}))[3][item] = version
    return [Holder(name, *one) for name, one in found.items()]


def hits_of(server: Server, changes: Iterable[Change]) -> tuple[Hit, ...]:
    """Return the kits that changes of a server hit, worst first."""
    told = list(changes)
    return hits(told, holders(server)) if told else ()


def locks(kit: StoredKit) -> list[StoredLock]:
    """Return the locks of a kit, newest first."""
    return list(kit.locks.select_related("by").order_by("-number"))


def waiting_raise(name: str) -> StoredRaise | None:
    """Return the proposal by which a kit would see higher data, where one waits."""
    return StoredRaise.objects.filter(name=name, state="proposed").select_related("by", "team").first()


def by_release(actor: Actor, slug: str) -> list[dict[str, Any]]:
    """Return the releases of a server that may be used, newest first, each with the kits that hold it."""
    server = catalog.server(slug)
    held: dict[int, dict[str, dict[str, Any]]] = {}
    columns = ("release", "kit__name", "kit__title", "kit__team__slug", "kit__environment", "item")
    for release, name, title, team, environment, item in (
        HeldItem.objects.filter(server=server).order_by("kit__name", "item").values_list(*columns)
    ):
        row = {"kit": name, "title": title, "team": team, "environment": environment, "held": []}
        held.setdefault(release, {}).setdefault(name, row)["held"].append(item)
    rows = [
        one
        for one in catalog.releases(actor, server)
        if one.pk in held or one.state in ("published", "deprecated")
    ]
    return [
        {"version": one.version, "state": one.state, "kits": list(held.get(one.pk, {}).values())}
        for one in rows
    ]


def comparison_for(kit: StoredKit, before: str, after: str, slug: str) -> SnapshotComparison:
    """Return the comparison of two releases, with what happens to items that a kit holds alone."""
    items: Mapping[str, Any] = {locked.item: locked for locked in lock_of(kit).of(slug)}
    return restricted(step_between(slug, before, after), items)
