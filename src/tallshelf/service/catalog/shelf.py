"""The servers on the shelf: those that are asked for, as rows, and counted by the teams that own them."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from django.db.models import Exists, F, Max, OuterRef, Q, QuerySet, Subquery

from tallshelf.core.errors import BadArgument
from tallshelf.service.catalog.models import Release, Server, Suspension
from tallshelf.service.filtering import holding_words
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.unmoved import while_unmoved

ADOPTED = "adopted, not reviewed"
"""The origin of a release that was taken in with the company's running servers, without review."""

ROOMY = 60
"""Up to how many servers come with the picture of the shelf at once; of more, each team's are asked for."""
_MOST_EDGES = 80

_waiting = Exists(Release.objects.filter(server=OuterRef("pk"), state="in-review"))
_suspended = Exists(Suspension.objects.filter(server=OuterRef("pk"), item="", lifted_at=None))
_was_used = Exists(Release.objects.filter(server=OuterRef("pk"), state="deprecated"))

STATES: dict[str, Callable[[Actor], Q]] = {
    "published": lambda _: Q(current__isnull=False),
    "in-review": lambda _: Q(_waiting),
    "deprecated": lambda _: Q(_was_used, current=None),
    "suspended": lambda _: Q(_suspended),
    "empty": lambda _: Q(~_was_used, current=None),
    "adopted": lambda _: Q(current__origin=ADOPTED),
}
"""By what a server may be asked for, by whoever looks; one may be in several."""


def register_state(name: str, servers_in: Callable[[Actor], Q]) -> None:
    """Let an app say by what else a server may be asked for."""
    STATES[name] = servers_in


TRANSPORTS = ("stdio", "streamable-http", "http+sse")


@dataclass(frozen=True)
class Wanted:
    """Which servers are asked for; what is empty does not count.

    The words of ``q`` are in name, title, team or tags.
    """

    q: str = ""
    team: str = ""
    state: str = ""
    tag: str = ""
    data_class: str = ""
    transport: str = ""


def wanted_servers(actor: Actor, wanted: Wanted) -> QuerySet[Server, Server]:
    """Return the servers that are asked for; raise `BadArgument` for a state or a transport that there is not."""
    rows = holding_words(Server.objects.all(), wanted.q, ("slug", "title", "team__title", "tags"))
    if wanted.team:
        rows = rows.filter(team__slug=wanted.team)
    if wanted.tag:
        rows = rows.filter(tags__icontains=json.dumps(wanted.tag))
    if wanted.data_class:
        rows = rows.filter(data_class=wanted.data_class)
    if wanted.transport:
        _need(wanted.transport, TRANSPORTS, "transport")
        rows = rows.filter(current__launch__icontains=f'"transport": {json.dumps(wanted.transport)}')
    if wanted.state:
        _need(wanted.state, STATES, "state")
        rows = rows.filter(STATES[wanted.state](actor))
    return rows


def _need(value: str, known: Iterable[str], name: str) -> None:
    if value not in known:
        raise BadArgument(f"there is no {name} {value[:40]!r}", remedy=f"One of: {', '.join(known)}.")


def servers(actor: Actor, wanted: Wanted = Wanted()) -> QuerySet[Any, Any]:
    """Return one lean row for each server that is asked for, in one query."""
    require(actor, "see")
    return _lean(wanted_servers(actor, wanted))


def _lean(rows: QuerySet[Server, Server]) -> QuerySet[Any, Any]:
    deprecated = Release.objects.filter(server=OuterRef("pk"), state="deprecated").order_by("-published_at")
    shown: QuerySet[Any, Any] = rows.annotate(
        suspended=_suspended,
        waiting=_waiting,
        team_slug=F("team__slug"),
        team_title=F("team__title"),
        current_version=F("current__version"),
        current_items=F("current__item_count"),
        current_tools=F("current__tool_count"),
        current_tokens=F("current__tokens"),
        current_launch=F("current__launch"),
        current_origin=F("current__origin"),
        deprecated_version=Subquery(deprecated.values("version")[:1]),
        deprecated_items=Subquery(deprecated.values("item_count")[:1]),
        deprecated_tokens=Subquery(deprecated.values("tokens")[:1]),
    ).values(*_ROW, "current_launch", "current_origin")
    return shown


_ROW = (
    "slug",
    "title",
    "contact",
    "source_link",
    "data_class",
    "scheme",
    "use",
    "tags",
    "suspended",
    "waiting",
    "changed_at",
    "team_slug",
    "team_title",
    "current_version",
    "current_items",
    "current_tools",
    "current_tokens",
    "deprecated_version",
    "deprecated_items",
    "deprecated_tokens",
)


def server_row(row: dict[str, Any]) -> dict[str, Any]:
    """Return a row of `servers` as it is shown: transports instead of launch records."""
    launch, origin = row.pop("current_launch"), row.pop("current_origin")
    row["transports"] = sorted({record["transport"] for record in launch or ()})
    row["reviewed"] = None if origin is None else origin != ADOPTED
    return row


def picture(actor: Actor, wanted: Wanted) -> dict[str, Any]:
    """Return the shelf as it is drawn: a bay for each team that owns what is asked for, with what it holds, counted.

    ``bays`` come by team, with their ``place`` among the teams that own anything; ``edges`` are the items of their
    first servers. ``rows`` are the servers themselves, where there are no more than `ROOMY`.
    """
    require(actor, "see")
    if wanted.state:  # which may be the asker's own, and hang on the day: a deputy's
        return _picture(actor, wanted)
    return while_unmoved((picture, wanted), lambda: _picture(actor, wanted))


def _picture(actor: Actor, wanted: Wanted) -> dict[str, Any]:
    teams = _owning_teams()
    places = {slug: place for place, (slug, _) in enumerate(teams)}
    titles = dict(teams)
    asked_for = wanted_servers(actor, wanted)
    found = _spines(asked_for)
    own = defaultdict(list)
    for one in found:
        own[one.team].append(one)
    few = len(found) <= ROOMY
    rows = _lean(asked_for).order_by("team_slug", "slug") if few else ()
    return {
        "on_shelf": Server.objects.count(),
        "servers": len(found),
        "tools": sum(one.tools for one in found),
        "largest": _largest(),
        "teams": [{"slug": slug, "title": title} for slug, title in teams],
        "tags": sorted({tag for tags in Server.objects.values_list("tags").distinct() for tag in tags[0]}),
        "bays": [_bay(slug, titles[slug], places[slug], own[slug]) for slug in sorted(own)],
        "rows": [server_row(row) for row in rows],
    }


@dataclass(frozen=True, slots=True)
class _Spine:
    team: str
    items: int
    tools: int
    waiting: bool
    suspended: bool
    deprecated: bool


def _spines(rows: QuerySet[Server, Server]) -> list[_Spine]:
    """Return what is drawn of each server, by name; what stands for one without a current release is its last."""
    waiting = set(Release.objects.filter(state="in-review").values_list("server_id", flat=True))
    stopped = Suspension.objects.filter(item="", lifted_at=None)
    suspended = set(stopped.values_list("server_id", flat=True))
    ended = Release.objects.filter(state="deprecated", server__current=None).order_by("published_at")
    last = dict(ended.values_list("server_id", "item_count"))
    told = rows.order_by("slug").values_list("pk", "team__slug", "current__item_count", "current__tool_count")
    return [
        _Spine(
            team,
            last.get(pk, 0) if items is None else items,
            tools or 0,
            pk in waiting,
            pk in suspended,
            items is None and pk in last,
        )
        for pk, team, items, tools in told
    ]


def _bay(team: str, title: str, place: int, spines: list[_Spine]) -> dict[str, Any]:
    return {
        "team": team,
        "title": title,
        "place": place,
        "servers": len(spines),
        "items": sum(spine.items for spine in spines),
        "waiting": sum(spine.waiting for spine in spines),
        "suspended": sum(spine.suspended for spine in spines),
        "deprecated": sum(spine.deprecated for spine in spines),
        "edges": [spine.items for spine in spines[:_MOST_EDGES]],
    }


def _owning_teams() -> list[tuple[str, str]]:
    rows = Server.objects.values_list("team__slug", "team__title").distinct()
    return sorted(rows)


def _largest() -> dict[str, int]:
    """Return by what the sizes of spines are measured: so that no filter moves them."""
    now = Server.objects.aggregate(items=Max("current__item_count"), tokens=Max("current__tokens"))
    ended = Release.objects.filter(state="deprecated", server__current=None)
    then = ended.aggregate(items=Max("item_count"), tokens=Max("tokens"))
    return {name: max(now[name] or 0, then[name] or 0) for name in ("items", "tokens")}
