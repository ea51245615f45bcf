"""``tallshelf admin adopt DIR``: take in what a company runs today, from snapshots and an owners file."""

from __future__ import annotations

import tomllib
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, BadDocument, NotFound, Place, ShelfError
from tallshelf.core.reports import escape, table
from tallshelf.core.snapshot import SCHEMES, is_of_scheme, is_slug, parse_launches, parse_snapshot

if TYPE_CHECKING:
    from tallshelf.service.catalog.actions import Adoption

OWNERS = "owners.toml"
_KEYS = {
    "file": str,
    "title": str,
    "team": str,
    "contact": str,
    "version": str,
    "scheme": str,
    "use": str,
    "source_link": str,
    "data_class": str,
    "tags": list,
    "launch": list,
}
_WRITTEN = {"semver": "SemVer", "calendar": "three or four numbers"}
_SHOWN = 10


@dataclass
class Plan:
    """What an owners file asks for, read and checked whole."""

    teams: dict[str, str] = field(default_factory=dict)
    servers: list[Adoption] = field(default_factory=list)


@dataclass(frozen=True)
class Taken:
    """What was found in one adopted server."""

    slug: str
    version: str
    safety: int
    errors: int
    warnings: int
    same_job: int

    @property
    def weight(self) -> tuple[int, int, int, int]:
        return (-self.safety, -self.same_job, -self.errors, -self.warnings)


def adopt_directory(folder: Path, io: IO) -> int:
    """Adopt every server that the owners file names, all or none, and say what to look at first."""
    plan = read_plan(folder)
    if not plan.servers:
        raise BadArgument(
            f"{folder / OWNERS} names no server", remedy="It has a table [servers.SLUG] for each."
        )
    taken = _adopt(plan, io)
    findings = sum(one.safety + one.errors + one.warnings for one in taken)
    io.print(
        f"Adopted {len(taken)} server{'' if len(taken) == 1 else 's'}, recorded as adopted, not reviewed. "
        f"Today's {findings:,} findings are accepted as known."
    )
    first = sorted((one for one in taken if any(one.weight)), key=lambda one: one.weight)[:_SHOWN]
    if first:
        rows = [
            (
                f"{one.slug}@{one.version}",
                str(one.safety),
                str(one.same_job),
                str(one.errors),
                str(one.warnings),
            )
            for one in first
        ]
        head = ("look at these first", "safety", "same job", "errors", "warnings")
        io.print("\n" + table(rows, head, io.paint))
        io.note(f"next: tallshelf serve, then tallshelf lint {first[0].slug}")
    return FINE


def read_plan(folder: Path) -> Plan:
    """Read the owners file and the snapshots; raise `BadDocument` with every fault at once."""
    path = folder / OWNERS
    try:
        tables = tomllib.loads(path.read_text("utf-8"))
    except FileNotFoundError:
        raise NotFound(
            f"there is no {path}", remedy="See tallshelf admin adopt --help for its form."
        ) from None
    except (OSError, ValueError) as fault:
        raise BadDocument(f"{path} cannot be read: {fault}") from None
    faults: list[Place] = []
    plan = Plan(teams=_teams(tables.get("teams", {}), faults))
    faults += [
        Place(f"/{name}", "there is no such table") for name in tables if name not in ("teams", "servers")
    ]
    for slug, about in tables.get("servers", {}).items():
        try:
            plan.servers.append(_adoption(folder, slug, about))
        except ShelfError as fault:
            more = f" {fault.remedy}" if fault.remedy else ""
            faults.append(Place(f"/servers/{slug}", fault.reason + "." + more))
    if faults:
        raise BadDocument(
            f"{path}: {len(faults)} fault{'s' if len(faults) > 1 else ''}; nothing was adopted",
            remedy="Mend them and run it again.",
            places=faults,
        )
    return plan


def _teams(given: Any, faults: list[Place]) -> dict[str, str]:
    if not isinstance(given, dict) or not all(isinstance(title, str) for title in given.values()):
        faults.append(Place("/teams", 'it holds lines such as crew = "Crew"'))
        return {}
    faults += [Place(f"/teams/{slug}", "this cannot name a team") for slug in given if not is_slug(slug)]
    return given


def _adoption(folder: Path, slug: str, about: Any) -> Adoption:
    from tallshelf.core.routing import DATA_CLASSES
    from tallshelf.service.catalog.actions import Adoption

    if not isinstance(about, dict):
        raise BadArgument("this must be a table")
    for key, value in about.items():
        if key not in _KEYS:
            raise BadArgument(f"there is no key {key!r}", remedy=f"Keys are {', '.join(_KEYS)}.")
        if not isinstance(value, _KEYS[key]):
            raise BadArgument(f"{key} must be {_KEYS[key].__name__}, not {value!r}")
    if not is_slug(slug):
        raise BadArgument(
            "this cannot name a server", remedy="Lower-case letters, digits and single hyphens."
        )
    missing = [key for key in ("team", "contact") if not about.get(key)]
    if missing:
        raise BadArgument(f"{' and '.join(missing)} missing")
    if about.get("data_class", "internal") not in DATA_CLASSES:
        raise BadArgument(f"there is no data class {about['data_class']!r}")
    file = folder / about.get("file", f"{slug}.json")
    if not file.resolve().is_relative_to(folder.resolve()):
        raise BadArgument(f"{about['file']} lies outside of the directory")
    try:
        snapshot = parse_snapshot(file.read_bytes())
    except OSError as fault:
        raise BadArgument(f"cannot read {file.name}: {fault.strerror}") from None
    version = about.get("version") or snapshot.declared_version or ""
    scheme = about.get("scheme", "semver")
    if scheme not in SCHEMES:
        raise BadArgument(
            f"there is no version scheme {scheme!r}", remedy=f"Schemes are {', '.join(SCHEMES)}."
        )
    if not is_of_scheme(version, scheme):
        raise BadArgument(
            f"it declares {version or 'no version'!r}, which is not {_WRITTEN[scheme]}",
            remedy='Add version = "1.0.0" or so, or scheme = "calendar".',
        )
    return Adoption(
        slug=slug,
        title=about.get("title") or slug.replace("-", " ").capitalize(),
        team=about["team"],
        contact=about["contact"],
        version=version,
        snapshot=snapshot,
        launches=parse_launches(about.get("launch", [])),
        source_link=about.get("source_link", ""),
        data_class=about.get("data_class", "internal"),
        tags=tuple(about.get("tags", [])),
        scheme=scheme,
        use=about.get("use", ""),
    )


def _adopt(plan: Plan, io: IO) -> list[Taken]:
    from django.db import transaction
    from rich.console import Console
    from rich.progress import Progress

    from tallshelf.service.catalog.actions import adopt
    from tallshelf.service.people import actions as people
    from tallshelf.service.people.models import Person
    from tallshelf.service.people.queries import actor_for

    steward = Person.objects.filter(role="steward", is_active=True).order_by("pk").first()
    if steward is None:
        raise NotFound("the service has no steward", remedy="Run tallshelf admin init first.")
    actor = actor_for(steward, via="local")
    found = {}
    with Progress(console=Console(file=io.err), transient=True) as bar, transaction.atomic():
        task = bar.add_task("adopting", total=2 * len(plan.servers))
        for slug, title in plan.teams.items():
            people.add_team(actor, slug, title)
        for adoption in plan.servers:
            found[adoption.slug] = adopt(actor, adoption)[1]
            bar.advance(task)
        same_job = _same_job(plan, lambda: bar.advance(task))
    return [_taken(adoption, found[adoption.slug], same_job[adoption.slug]) for adoption in plan.servers]


def _same_job(plan: Plan, step: Callable[[], None]) -> dict[str, int]:
    """Count, for each server, its items that do the same job as one of another server."""
    from tallshelf.service.catalog.queries import overlaps_with_catalog

    counts = {}
    for adoption in plan.servers:
        overlaps, _ = overlaps_with_catalog(adoption.snapshot, adoption.slug)
        counts[adoption.slug] = sum(
            each.cls == "same-job" and each.b.source != adoption.slug for each in overlaps
        )
        step()
    return counts


def _taken(adoption: Adoption, findings: Any, same_job: int) -> Taken:
    safety = sum(finding.family == "safety" for finding in findings)
    rest = [finding for finding in findings if finding.family != "safety"]
    return Taken(
        slug=escape(adoption.slug),
        version=adoption.version,
        safety=safety,
        errors=sum(finding.level == "error" for finding in rest),
        warnings=sum(finding.level == "warning" for finding in rest),
        same_job=same_job,
    )
