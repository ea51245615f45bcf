"""What an assessment rests on, as the ledger tells it, held against what is in force now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime

from tallshelf.core.changes import base_for
from tallshelf.core.entitlement.records import Release, Request, Waiver
from tallshelf.core.entitlement.state import State
from tallshelf.core.input_digests import server_digest, waivers_digest
from tallshelf.core.routing import DEFAULT_RULES, RELEASE_KINDS
from tallshelf.core.snapshot import digest, names_version, snapshot_from, sort_key
from tallshelf.core.style import DEFAULT_STYLE

_NOTHING = snapshot_from({"tools": []}).digest
_BASES = ("published", "deprecated")


def moved(state: State, request: Request, now: datetime) -> list[str]:
    """Return the names of the inputs of a request's assessment that are others by now, in a fixed order.

    A request whose entries tell no inputs has moved as a whole (``engine``).
    """
    if not request.assessed.told:
        return ["engine"]
    release = subject(state, request)
    snapshot = request.snapshot or (release.snapshot if release is not None else _NOTHING)
    version = release.version if release is not None else "0.0.0"
    different = moved_since(
        state,
        request.server,
        version,
        request.assessed.base,
        request.assessed.inputs,
        now,
        data_class=request.terms.get("data_class"),
    )
    return different if request.assessed.inputs.get("snapshot") == snapshot else ["snapshot", *different]


def moved_since(
    state: State,
    slug: str,
    version: str,
    base: str | None,
    inputs: Mapping[str, str],
    now: datetime,
    *,
    data_class: str | None = None,
) -> list[str]:
    """Return which inputs of an assessment of a version are others by now, as far as the ledger tells them.

    ``base`` is the reference of the base it names, or ``first``; ``data_class`` one that is asked for. The names
    are ``base``, ``server``, ``rules``, ``style``, ``waivers``, ``known`` and ``rulings``.
    """
    server = state.servers[slug]
    told = {
        "server": server_digest(server.slug, server.team, data_class or server.data_class, server.scheme),
        "rules": in_force_digest(state, "rules"),
        "style": in_force_digest(state, "style"),
        "waivers": waivers_digest(
            (str(waiver.number), waiver.until, waiver.fingerprints) for waiver in granted(state, slug, now)
        ),
        "known": digest(sorted(state.known.get(slug, ()))),
        "rulings": digest(_rulings(state, slug)),
    }
    different = [name for name, value in told.items() if inputs.get(name) != value]
    lower = base_for(version, bases(state, slug)) if names_version(version) else None
    return different if base == (f"{slug}@{lower}" if lower else "first") else ["base", *different]


def subject(state: State, request: Request) -> Release | None:
    """Return the release that a request is about; for an act on the server the current one."""
    if request.kind in RELEASE_KINDS:
        return state.releases.get((request.server, request.version))
    return current(state, request.server)


def current(state: State, slug: str) -> Release | None:
    """Return the published release of highest precedence that is not deprecated."""
    there = [release for release in _releases(state, slug) if release.state == "published"]
    return max(there, key=lambda release: sort_key(release.version), default=None)


def bases(state: State, slug: str) -> list[str]:
    """Return the versions of a server that can be compared with: published or deprecated."""
    return [release.version for release in _releases(state, slug) if release.state in _BASES]


def _releases(state: State, slug: str) -> Iterable[Release]:
    return (
        state.releases[slug, version]
        for version in state.servers[slug].versions
        if (slug, version) in state.releases
    )


def in_force_digest(state: State, what: str) -> str:
    """Return the digest of the ``rules`` or ``style`` that is in force; of those that ship before any."""
    table = state.rules if what == "rules" else state.styles
    proposal = table.get(state.in_force.get(what, 0))
    if proposal is not None:
        return str(proposal.body["digest"])
    return DEFAULT_STYLE.digest if what == "style" else DEFAULT_RULES.digest


def granted(state: State, slug: str, now: datetime) -> list[Waiver]:
    """Return the waivers of a server that were granted and have not run out, by number."""
    numbers = sorted(state.waived.get(slug, ()))
    return [state.waivers[number] for number in numbers if state.waivers[number].until > now]


def _rulings(state: State, slug: str) -> list[list[str]]:
    """Return what is ruled of a server as an assessment tells it: a pair of the same bytes has one digest."""
    pairs = [
        [*sorted({*pair.split("|")}), proposal.body["word"]]
        for number in state.standing.get(slug, ())
        for proposal in [state.rulings[number]]
        for pair in proposal.body["pairs"]
    ]
    return sorted(pairs)
