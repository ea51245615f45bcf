"""What each published release changed, as rows for the timeline alone: whatever decides compares the bytes.

A row names what it was worked out ``under``: the releases on both sides, what was ruled on the server's silent changes,
the terms of the house and the engine. One that stands under something else is passed over, so that no row can be stale.
A job makes the rows of a server whose releases or rulings moved, or of all where terms or engine did: two schemas may
take long to compare.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet
from msgspec import Struct

from tallshelf.core.changes import SnapshotComparison, with_rulings, worst
from tallshelf.core.snapshot import digest
from tallshelf.core.snapshot.versions import sort_key
from tallshelf.service.catalog.comparing import compared_releases
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import JudgedStep, Release, Server
from tallshelf.service.catalog.overlap import same_meanings
from tallshelf.service.catalog.visible import PUBLIC_STATES
from tallshelf.service.jobs.actions import Running, ask_for

JOB = "judge-steps"


class Step(Struct, frozen=True):
    """What a release changed since the one before it: the worst impact, how many changes, how many of them silent."""

    impact: str | None = None
    silent: int = 0
    changes: int = 0


def steps_of(slug: str, releases: Sequence[Release]) -> Iterator[tuple[Release | None, Release, Step]]:
    """Yield a server's public releases, lowest version first, each with the one before it and what it changed."""
    meanings, reader = same_meanings(slug), _reader()
    kept = {row.release_id: row for row in JudgedStep.objects.filter(release__in=releases)}
    for before, release in zip([None, *releases], releases, strict=False):
        row = kept.get(release.pk)
        if row is not None and row.under == _under(before, release, meanings, reader):
            yield before, release, Step(row.impact, row.silent, row.changes)
        else:
            yield before, release, _worked_out(before, release, meanings)


def keep_steps(server: Server) -> None:
    """Keep what each public release of a server changed, where that is not kept yet."""
    found = Release.objects.filter(server=server, state__in=PUBLIC_STATES).select_related("server")
    releases = sorted(found, key=lambda release: sort_key(release.version))
    rows = JudgedStep.objects.filter(release__server=server)
    rows.exclude(release__in=releases).delete()
    kept = dict(rows.values_list("release", "under"))
    meanings, reader = same_meanings(server.slug), _reader()
    for before, release in zip([None, *releases], releases, strict=False):
        under = _under(before, release, meanings, reader)
        if kept.get(release.pk) != under:
            step = _worked_out(before, release, meanings)
            told = {"impact": step.impact, "silent": step.silent, "changes": step.changes}
            JudgedStep.objects.update_or_create(
                release=release, defaults={"under": under, "engine": reader, **told}
            )


def forget_steps(server: Server) -> None:
    """Drop what is kept of a server, as after a purge, and ask for it anew."""
    JudgedStep.objects.filter(release__server=server).delete()
    ask_for(JOB, server.slug)


def refresh(reason: str, slug: str | None) -> None:
    """Ask for the rows that an act moved."""
    if slug is not None and reason in ("base", "rulings"):
        ask_for(JOB, slug)
    elif reason == "style":
        ask_if_moved()


def ask_if_moved() -> None:
    """Ask for the rows of every server that has none of this engine and these terms for a public release."""
    if _lacking().exists():
        ask_for(JOB)


def judge(job: Running) -> None:
    """Keep the steps of the server that a job names, or of all that lack some; begun again it goes on."""
    asked = Server.objects.filter(slug=job.key) if job.key else Server.objects.filter(pk__in=_lacking())
    servers = list(asked.order_by("slug").values_list("pk", flat=True))
    for number, pk in enumerate(servers, 1):
        with transaction.atomic():
            keep_steps(Server.objects.get(pk=pk))
        job.progress(number, len(servers))


def _lacking() -> QuerySet[Release, int]:
    """Return the servers with a public release of which nothing of this engine is kept."""
    public = Release.objects.filter(state__in=PUBLIC_STATES).exclude(step__engine=_reader())
    return public.values_list("server", flat=True)


def _worked_out(before: Release | None, release: Release, meanings: list[tuple[frozenset[str], str]]) -> Step:
    if before is None:
        return Step()
    found: SnapshotComparison = with_rulings(compared_releases(before, release), meanings)
    told = [change for change in found.changes if not change.folded]
    return Step(worst(told), len(found.silent), len(told))


def _under(
    before: Release | None, release: Release, meanings: list[tuple[frozenset[str], str]], reader: str
) -> str:
    ruled = [sorted(parts) for parts, _ in meanings]
    return digest([before.digest if before else None, release.digest, ruled, reader])[7:23]


def _reader() -> str:
    """Name what reads all texts: the engine, and the terms of the house where it has any."""
    terms = terms_in_force()
    return digest([settings.ENGINE, *([terms.pairs] if terms else ())])[7:23]
