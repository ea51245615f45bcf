"""The findings of all current releases as rows, for pages alone: whatever decides lints the bytes.

Rows are made by the act that moves them (a release that becomes current, a waiver, a data class), and all of them by
a job where the style or the engine moves. Rows stand ``under`` one style and engine; what is made anew stands beside
what is shown until it is whole, so that no page shows half of it.
"""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.conf import settings
from django.db import OperationalError, transaction
from django.db.models import Count, F, Min, QuerySet

from tallshelf.core.reports import finding_document
from tallshelf.core.snapshot import digest
from tallshelf.core.style import LEVELS, HouseStyle
from tallshelf.service import clock
from tallshelf.service.catalog import linting
from tallshelf.service.catalog.models import FindingCount, JudgedServer, Server, ShownFindings, StoredFinding
from tallshelf.service.jobs.actions import Running, ask_for
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

JOB = "judge-findings"
_AT_ONCE = 60
_DELETED_AT_ONCE = 5_000
_BY = ("rule", "family", "level", "mark")


def keep_findings(server: Server) -> None:
    """Keep the findings of a server's current release, inside the transaction of the act that moved them.

    What was made of it under other styles, and is shown no more, goes: it may quote what was purged.
    """
    shown = ShownFindings.objects.first()
    if shown is not None:
        wanted = {shown.under: shown.version, shown.next_under: shown.next_version}
        for under, version in wanted.items():
            if under:
                _keep(server, under, linting.style_of(version))
        StoredFinding.objects.filter(server=server).exclude(under__in=wanted).delete()


def refresh(reason: str, slug: str | None) -> None:
    """Bring rows up to what an act moved: those of one server at once, all of them by a job."""
    if reason in ("style", "engine"):
        ask_if_moved()
    elif slug is not None and reason in ("server", "known", "waivers"):
        keep_findings(Server.objects.select_related("current__snapshot", "team").get(slug=slug))


def look_after_waivers() -> None:
    """Keep anew what a waiver covered that has run out since."""
    for server in JudgedServer.objects.filter(until__lte=clock.now()).select_related(
        "server__current__snapshot"
    ):
        with transaction.atomic():
            keep_findings(server.server)


def ask_if_moved() -> None:
    """Ask for all rows anew where those that are shown stand under another style or engine than in force."""
    shown, wanted = ShownFindings.objects.first(), _under(linting.style_in_force())
    if shown is not None and wanted != shown.under:
        ask_for(JOB, wanted)


def ask_if_none() -> None:
    """Ask for all rows where an older version kept none."""
    if not ShownFindings.objects.exists() and Server.objects.exclude(current=None).exists():
        ask_for(JOB, _under(linting.style_in_force()))


def judge_all(job: Running) -> None:
    """Keep the findings of every server under the style in force, then show them; begun again it goes on."""
    style = linting.style_in_force()
    under, version = _under(style), style.version or 0
    with transaction.atomic():
        if not ShownFindings.objects.filter(pk=1).update(next_under=under, next_version=version):
            ShownFindings.objects.create(pk=1, next_under=under, next_version=version)
    done = JudgedServer.objects.filter(under=under).values("server")
    servers = list(
        Server.objects.exclude(current=None)
        .exclude(pk__in=done)
        .order_by("slug")
        .values_list("pk", flat=True)
    )
    for number, pk in enumerate(servers, 1):
        with transaction.atomic():
            server = Server.objects.select_related("current__snapshot", "team").get(pk=pk)
            _keep(server, under, style)
        job.progress(number, len(servers))
    if _under(linting.style_in_force()) != under:
        return  # moved meanwhile: the job that was asked for then shows what it makes
    shown = ShownFindings.objects.filter(next_under=under)
    shown.update(under=under, version=version, next_under="", next_version=0)
    _forget_all_but(under)


def places(
    actor: Actor, *, rule: str = "", team: str = "", server: str = "", level: str = ""
) -> QuerySet[StoredFinding]:
    """Return the findings of all current releases, filtered; ``level`` is the least that is shown."""
    require(actor, "see")
    shown = _shown()
    rows = StoredFinding.objects.filter(under=shown.under) if shown else StoredFinding.objects.none()
    if rule:
        rows = rows.filter(rule=rule)
    if team:
        rows = rows.filter(server__team__slug=team)
    if server:
        rows = rows.filter(server__slug=server)
    if level == LEVELS[0]:
        rows = rows.filter(rank=0)
    elif level in LEVELS:
        rows = rows.filter(rank__lte=LEVELS.index(level))
    return rows.select_related("server__team", "server__current")


def summary(actor: Actor) -> list[dict[str, Any]]:
    """Return how often each rule speaks in each team's servers, of all current releases."""
    require(actor, "see")
    shown = _shown()
    found: dict[tuple[str, ...], dict[str, int]] = {}
    rows = FindingCount.objects.filter(under=shown.under if shown else "", count__gt=0)
    for row in rows.values_list("rule", "family", "level", "team__slug", "team__title", "mark", "count"):
        counts = found.setdefault(row[:5], {"counting": 0, "waived": 0, "known": 0})
        counts[row[5] or "counting"] += row[6]
    names = ("rule", "family", "level", "team", "team_title")
    return [{**dict(zip(names, key, strict=True)), **row} for key, row in sorted(found.items())]


def progress() -> dict[str, int] | None:
    """Return how far findings are that are being made anew (``done`` of ``total`` servers), or None."""
    shown = ShownFindings.objects.first()
    if shown is not None and not shown.next_under:
        return None
    total = Server.objects.exclude(current=None).count()
    done = JudgedServer.objects.filter(under=shown.next_under).count() if shown else 0
    return {"done": done, "total": total} if total else None


def _under(style: HouseStyle) -> str:
    return digest([style.digest, style.version or 0, settings.ENGINE])[7:23]


def _shown() -> ShownFindings | None:
    """Return what is shown. In a small catalog it is made at the first reading, in a large one by a job."""
    shown = ShownFindings.objects.exclude(under="").first()
    if shown is not None:
        return shown
    servers = Server.objects.exclude(current=None).select_related("current__snapshot", "team")
    try:
        if servers.count() > _AT_ONCE:
            ask_for(JOB, _under(linting.style_in_force()))
            return None
        with transaction.atomic():
            style = linting.style_in_force()
            under, version = _under(style), style.version or 0
            for server in servers:
                _keep(server, under, style)
            return ShownFindings.objects.update_or_create(
                pk=1, defaults={"under": under, "version": version}
            )[0]
    except OperationalError:  # it cannot be written now
        return None


def _keep(server: Server, under: str, style: HouseStyle) -> None:
    """Replace the rows of a server under a style, and move the counts by the difference."""
    kept = StoredFinding.objects.filter(under=under, server=server)
    moved: Counter[tuple[str, ...]] = Counter()
    for row in kept.values(*_BY).annotate(count=Count("pk")):
        moved[tuple(row[name] for name in _BY)] -= row["count"]
    kept.delete()
    findings = linting.findings_of(server.current, style) if server.current is not None else ()
    rows = [
        StoredFinding(
            under=under,
            server=server,
            key=f"{server.slug}/{number:06}",
            rule=finding.rule,
            family=finding.family,
            level=finding.level,
            rank=LEVELS.index(finding.level),
            mark="waived" if finding.waived else "known" if finding.known else "",
            document=finding_document(finding),
        )
        for number, finding in enumerate(findings)
    ]
    StoredFinding.objects.bulk_create(rows, batch_size=500)
    moved.update((finding.rule, finding.family, finding.level, finding.mark) for finding in rows)
    for key, by in moved.items():
        if by:
            _count(under, server, dict(zip(_BY, key, strict=True)), by)
    until = server.waivers.filter(state="granted", until__gt=clock.now()).aggregate(first=Min("until"))[
        "first"
    ]
    if server.current is None:
        JudgedServer.objects.filter(under=under, server=server).delete()
    else:
        JudgedServer.objects.update_or_create(under=under, server=server, defaults={"until": until})


def _count(under: str, server: Server, key: dict[str, str], by: int) -> None:
    row = FindingCount.objects.filter(under=under, team_id=server.team_id, **key)
    if not row.update(count=F("count") + by):
        FindingCount.objects.create(under=under, team_id=server.team_id, count=by, **key)


def _forget_all_but(under: str) -> None:
    old = StoredFinding.objects.exclude(under=under)
    while some := list(old.values_list("pk", flat=True)[:_DELETED_AT_ONCE]):
        StoredFinding.objects.filter(pk__in=some).delete()
    FindingCount.objects.exclude(under=under).delete()
    JudgedServer.objects.exclude(under=under).delete()
