"""Assessing a release with all that the service knows."""

from __future__ import annotations

from typing import Literal

from django.conf import settings
from django.db.models import F

from tallshelf.core.assess import (
    Assessment,
    Base,
    Context,
    ServerRecord,
    assess,
    known_digest,
    rulings_digest,
    waivers_digest,
)
from tallshelf.core.changes import base_for
from tallshelf.core.errors import InputsMoved
from tallshelf.core.routing import DEFAULT_RULES, RuleSet, rule_set_from
from tallshelf.core.snapshot import LaunchRecord, Snapshot, parse_launches
from tallshelf.protocol import AddressPolicy, HttpEndpoint, capture
from tallshelf.service import clock
from tallshelf.service.catalog import linting
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Server
from tallshelf.service.catalog.overlap import catalog_index, rulings_for
from tallshelf.service.review.models import StoredRuleSet

BINDING = ("snapshot", "version", "server", "launch", "base", "style", "waivers", "known", "rulings", "rules")
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
    owner: Server,
    version: str,
    snapshot: Snapshot,
    launches: tuple[LaunchRecord, ...],
    origin: str,
    *,
    base: str | None = None,
) -> Assessment:
    """Assess a snapshot as a release of a server, against what is published now or a named base."""
    base = base or base_for(version, catalog.published_versions(owner))
    return assess(
        snapshot,
        Context(
            now=clock.now(),
            server=ServerRecord(owner.slug, owner.team.slug, owner.data_class),
            version=version,
            launches=launches,
            origin=origin,
            base=_base(owner, base) if base else "first",
            index=catalog_index(),
            style=linting.style_in_force(),
            waivers=linting.waivers_in_force(owner),
            known=linting.known_findings(owner),
            rulings=rulings_for(owner.slug),
            rules=rules_in_force(),
        ),
    )


def _base(owner: Server, version: str) -> Base:
    found = owner.releases.select_related("snapshot", "server").get(version=version)
    snapshot, launches = catalog.snapshot_of(found), parse_launches(found.launch)
    return Base(str(found), version, snapshot, launches, found.published_at)


def moved_inputs(before: dict[str, str], now: dict[str, str]) -> list[str]:
    """Return which binding inputs differ between two assessments."""
    return [name for name in BINDING if before.get(name) != now.get(name)]


def moved_since(owner: Server, version: str, base: str | None, inputs: dict[str, str]) -> list[str]:
    """Return what an assessment rests on and moved since, as far as that is told without assessing again.

    ``base`` is the base it names; the class of the data and the team are told by `moved_inputs` only.
    """
    now = {
        "rules": rules_in_force().digest,
        "style": linting.style_in_force().digest,
        "waivers": waivers_digest(linting.waivers_in_force(owner)),
        "known": known_digest(linting.known_findings(owner)),
        "rulings": rulings_digest(rulings_for(owner.slug)),
    }
    next_base = base_for(version, catalog.published_versions(owner))
    moved = [name for name, value in now.items() if inputs[name] != value]
    return moved if base == (f"{owner.slug}@{next_base}" if next_base else "first") else ["base", *moved]


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
        endpoint = HttpEndpoint(record.url, _headers(record), policy, transport)
        found = capture(endpoint, credential=", ".join(record.headers)).snapshot
        if found.digest != expected:
            raise InputsMoved(
                f"the server at {record.url} declares something else than was agreed to "
                f"({found.digest[7:15]} instead of {expected[7:15]})",
                remedy="Capture it again and submit the new snapshot to this request.",
            )


def _headers(record: LaunchRecord) -> dict[str, str]:
    tokens = settings.CONFIG.fetch_tokens
    return {name: tokens[name] for name in record.headers if name in tokens}
