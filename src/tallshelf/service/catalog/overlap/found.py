"""The overlaps found among current releases: a work-list that is kept up with publications."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.db import OperationalError, transaction
from django.db.models import Q, QuerySet

from tallshelf.core.overlap import Overlap, find_overlaps
from tallshelf.core.reports import overlap_document, overlaps_from
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.models import FoundOverlap, Server, StoredProfiles
from tallshelf.service.catalog.overlap.grouped import regroup, standing_rulings
from tallshelf.service.catalog.overlap.process import catalog_index
from tallshelf.service.catalog.overlap.stored import entries_from, keep_profiles
from tallshelf.service.jobs.actions import Running, ask_for

_WORTH = 0.42
_AT_A_READING = 5
JOB = "read-by-terms"


def found_overlaps() -> list[Overlap]:
    """Return all overlaps of current releases, strongest first."""
    catch_up()
    rows = FoundOverlap.objects.order_by("-score", "pk").values_list("document", flat=True)
    return overlaps_from({"overlaps": list(rows), "mix_ups": []})[0]


def catch_up(most: int = _AT_A_READING) -> int:
    """Compare what was not compared yet, at most so many servers; return how many are left for later.

    A process may have ended between a publication and its comparison. A reading makes up for a few and leaves the rest
    to the clock; where the database cannot be written it leaves them all.
    """
    behind = list(StoredProfiles.objects.filter(compared=False).values_list("server", flat=True))
    try:
        for server in Server.objects.filter(pk__in=behind[:most]):
            compare_server(server)
    except OperationalError:
        return len(behind)
    return len(behind[most:])


def refresh(reason: str, slug: str | None) -> None:
    """Ask for all to be read anew where the house has other terms now."""
    if reason == "style" and _read_otherwise().exists():
        ask_for(JOB)


def read_anew(job: Running) -> None:
    """Read the servers that were read by other terms of the house, and compare them; begun again it goes on."""
    servers = list(_read_otherwise().order_by("server__slug").values_list("server", flat=True))
    for number, pk in enumerate(servers, 1):
        with transaction.atomic():
            server = Server.objects.get(pk=pk)
            keep_profiles(server)
            compare_server(server)
        job.progress(number, len(servers))


def _read_otherwise() -> QuerySet[StoredProfiles, StoredProfiles]:
    return StoredProfiles.objects.exclude(terms=terms_in_force().key)


def compare_all(step: Callable[[int, int], None] = lambda done, all_: None) -> int:
    """Compare every server anew and return how many there are; ``step`` is told how far it is."""
    for server in Server.objects.exclude(current=None).select_related("current__snapshot"):
        keep_profiles(server)
    StoredProfiles.objects.update(compared=False)
    FoundOverlap.objects.all().delete()
    catalog_index()
    servers, ruled = list(Server.objects.exclude(current=None).order_by("slug")), standing_rulings()
    for done, server in enumerate(servers, 1):
        compare_server(server, ruled)
        step(done, len(servers))
    return len(servers)


def compare_server(server: Server, ruled: Mapping[str, int] | None = None) -> None:
    """Find what the items of a server's current release overlap with, in place of what was found before.

    Siblings of one server that are merely near to each other are no work for anyone, and neither
    are pairs that are only just near.
    """
    index = catalog_index()
    stored = StoredProfiles.objects.filter(server=server).first()
    overlaps: tuple[Overlap, ...] = ()
    if stored is not None:
        overlaps = find_overlaps(list(entries_from(server.slug, stored.profiles)), index)
    ids = dict(Server.objects.values_list("slug", "pk"))
    with transaction.atomic():
        FoundOverlap.objects.filter(Q(a=server) | Q(b=server)).delete()
        FoundOverlap.objects.bulk_create(
            FoundOverlap(a_id=ids[overlap.a.source], b_id=ids[overlap.b.source], **_row(overlap))
            for overlap in overlaps
            if overlap.cls == "same-job" or (overlap.score >= _WORTH and overlap.a.source != overlap.b.source)
        )
        regroup(server, ruled)
        if stored is not None:
            StoredProfiles.objects.filter(pk=stored.pk, snapshot=stored.snapshot).update(compared=True)


def _row(overlap: Overlap) -> dict[str, Any]:
    return {
        "cls": overlap.cls,
        "score": overlap.score,
        "pair": pair_of(overlap),
        "document": overlap_document(overlap),
    }


def pair_of(overlap: Overlap) -> str:
    """Return what names a pair by what was compared of it."""
    return "|".join(sorted((overlap.a.basis, overlap.b.basis)))
