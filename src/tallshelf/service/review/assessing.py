"""Assessing a release with all that the service knows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, cast

from django.conf import settings
from django.db.models import F

from tallshelf.core.assess import Assessment, Base, Context, ServerRecord, assess
from tallshelf.core.changes import base_for
from tallshelf.core.entitlement import moved
from tallshelf.core.entitlement import moved_since as core_moved_since
from tallshelf.core.errors import InputsMoved
from tallshelf.core.routing import DEFAULT_RULES, RELEASE_KINDS, RuleSet, rule_set_from
from tallshelf.core.snapshot import LaunchRecord, Scheme, Snapshot, parse_launches, snapshot_from
from tallshelf.protocol import AddressPolicy, HttpEndpoint
from tallshelf.service import clock
from tallshelf.service.catalog import linting
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.catalog.overlap import catalog_index, rulings_for, since_of
from tallshelf.service.kits.queries import holders
from tallshelf.service.ledger import memory
from tallshelf.service.review.models import Request, StoredRuleSet

BINDING = (
    "snapshot",
    "version",
    "server",
    "launch",
    "base",
    "style",
    "waivers",
    "known",
    "rulings",
    "rules",
    "engine",
)
"""The inputs of an assessment that a sign-off rests on; the rest of the catalog may move on."""


def stored_rules_in_force() -> StoredRuleSet | None:
    """Return the routing rules that were put in force last, or None before any were stored."""
    rows = StoredRuleSet.objects.filter(state="in force")
    return rows.order_by(F("in_force_at").desc(nulls_last=True), "-version").first()


def rules_in_force() -> RuleSet:
    """Return the routing rules in force; before any were stored, the default ones."""
    stored = stored_rules_in_force()
    return DEFAULT_RULES if stored is None else rule_set_from(stored.rules, stored.version)


def assess_release(
    server: Server,
    version: str,
    snapshot: Snapshot,
    launches: tuple[LaunchRecord, ...] | None,
    origin: str,
    *,
    base: str | None = None,
    kind: str = "publish",
    data_class: str | None = None,
    breaking: bool = False,
    hit_teams: tuple[str, ...] | None = None,
    item: str = "",
) -> Assessment:
    """Assess a snapshot as a release of a server, against what is published now or a named base.

    ``kind`` is what is asked for; ``data_class`` one that the server does not have yet;
    ``breaking`` whether a release of a calendar scheme is declared to break; ``hit_teams`` whom it hit when it was
    handed in, where it is assessed anew.
    """
    base = base or base_for(version, catalog.published_versions(server))
    return assess(
        snapshot,
        Context(
            now=clock.now(),
            server=ServerRecord(server.slug, server.team.slug, data_class or server.data_class),
            scheme=cast(Scheme, server.scheme),
            kind=kind,
            data_class_before=server.data_class if data_class else _class_of(server, base),
            version=version,
            breaking=breaking,
            launches=launches,
            origin=origin,
            base=_base(server, base) if base else "first",
            index=catalog_index(),
            since=since_of(server),
            holders=tuple(holders(server)),
            hit_teams=hit_teams,
            item=item,
            style=linting.style_in_force(),
            waivers=linting.waivers_in_force(server),
            known=linting.known_findings(server),
            rulings=rulings_for(server.slug),
            rules=rules_in_force(),
            engine=settings.ENGINE,
        ),
    )


def assess_request(request: Request) -> Assessment:
    """Assess what a request asks for, as things stand now."""
    release = subject(request)
    hit = tuple(request.assessment.document["facts"].get("hit_teams", ()))
    if release is None or request.kind != "publish":
        return assess_act(
            request.server, request.kind, release, request.terms, hit_teams=hit, item=request.item
        )
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    return assess_release(
        request.server,
        release.version,
        snapshot,
        launches,
        release.origin,
        breaking=release.breaking,
        hit_teams=hit,
    )


def assess_act(
    server: Server,
    kind: Any,
    release: Release | None,
    terms: Mapping[str, Any],
    *,
    hit_teams: tuple[str, ...] | None = None,
    item: str = "",
) -> Assessment:
    """Assess an act on a release, or on a server as far as its current release tells (none: an empty one)."""
    asked: dict[str, Any] = {
        "kind": kind,
        "data_class": terms.get("data_class"),
        "hit_teams": hit_teams,
        "item": item,
    }
    if release is None:
        return assess_release(server, "0.0.0", snapshot_from({"tools": []}), (), "nothing published", **asked)
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    return assess_release(server, release.version, snapshot, launches, release.origin, **asked)


def subject(request: Request) -> Release | None:
    """Return the release that a request is about: its own, or the current one for an act on the server."""
    return request.release if request.kind in RELEASE_KINDS else request.server.current


def _class_of(server: Server, base: str | None) -> str | None:
    """Return the data class by which a published release was assessed, as far as it was."""
    rows = Request.objects.filter(server=server, kind="publish", state="done", release__version=base)
    request = rows.select_related("assessment").first() if base else None
    return None if request is None else str(request.assessment.document["facts"]["data_class"])


def _base(server: Server, version: str) -> Base:
    release = server.releases.select_related("snapshot", "server").get(version=version)
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    return Base(str(release), version, snapshot, launches, release.published_at)


def moved_inputs(before: dict[str, str], now: dict[str, str]) -> list[str]:
    """Return which binding inputs differ between two assessments."""
    return [name for name in BINDING if before.get(name) != now.get(name)]


def moved_in(found: Request) -> list[str]:
    """Return what the assessment of a request rests on and moved since, without assessing again."""
    with memory.told() as state:
        request = state.requests.get(found.pk)
        different = moved(state, request, clock.now()) if request is not None else []
    return different or _other_engine(found.assessment.document["inputs"])


def moved_since(server: Server, version: str, assessment: Assessment) -> list[str]:
    """Return what an assessment of a version rests on and moved since it was worked out."""
    with memory.told() as state:
        return core_moved_since(state, server.slug, version, assessment.base, assessment.inputs, clock.now())


def _other_engine(inputs: dict[str, str]) -> list[str]:
    return [] if inputs.get("engine") == settings.ENGINE else ["engine"]


def capture_again(launches: tuple[LaunchRecord, ...], expected: str) -> None:
    """Capture every HTTP launch record once more; raise `InputsMoved` when it declares something else.

    Only addresses that the settings allow are fetched (else `Denied`); the setting
    ``capture_before_publish`` turns this off.
    """
    config = settings.CONFIG
    if not config.capture_before_publish:
        return
    policy = AddressPolicy(frozenset(config.fetch_allow), tuple(config.fetch_networks))
    for record in launches:
        if not record.url:
            continue
        transport: Literal["streamable-http", "http+sse"] = (
            "http+sse" if record.transport == "http+sse" else "streamable-http"
        )
        from tallshelf.protocol import (
            capture,  # the SDK takes a second to load, and most publications need none
        )

        endpoint = HttpEndpoint(record.url, _headers(record), policy, transport)
        snapshot = capture(endpoint, credential=", ".join(record.headers)).snapshot
        if snapshot.digest != expected:
            raise InputsMoved(
                f"the server at {record.url} declares something else than was agreed to "
                f"({snapshot.digest[7:15]} instead of {expected[7:15]})",
                remedy="Capture it again and submit the new snapshot to this request.",
            )


def _headers(record: LaunchRecord) -> dict[str, str]:
    tokens = settings.CONFIG.fetch_tokens
    return {name: tokens[name] for name in record.headers if name in tokens}
