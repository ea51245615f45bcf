"""Removing leaked bytes: what an item held is taken out wherever the service keeps it.

The digest, the releases that hold it and the ledger stay, so that all of it still verifies: what was
there is known by its digest, and that it was purged by an entry.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import datetime

from django.db import connection, transaction
from django.db.models import Max, Q

from tallshelf.core.errors import Conflict, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.words import remembered
from tallshelf.service import clock
from tallshelf.service.catalog import comparing, findings, linting, overlap, search, steps
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import (
    FoundOverlap,
    Release,
    Server,
    StoredItem,
    StoredProfiles,
    UserNote,
)
from tallshelf.service.catalog.storage import skeleton
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import IdempotencyRecord
from tallshelf.service.people.permissions import require
from tallshelf.service.quotes import GONE, Silence, silence
from tallshelf.service.review.models import Comment, StoredAssessment

_noticed: list[datetime | None] = []

_KEYS = {"tool": "name", "prompt": "name", "resource": "uri", "template": "uriTemplate"}


@transaction.atomic
def purge(actor: Actor, slug: str, version: str, item: str, reason: str) -> list[str]:
    """Take the bytes of an item out of every release that holds them; return these releases.

    Texts of the item that findings, changes or comments quote are taken out as well, from eight
    characters on. Its name and those of its parameters stay: they say where something was. Purged
    already is a `Conflict`.
    """
    require(actor, "administer")
    release, why = catalog.release(actor, slug, version), need_reason(reason)
    found = next(
        (
            one
            for one in StoredItem.objects.filter(pk__in=_digests(release))
            if f"{one.kind}:{one.name}" == item
        ),
        None,
    )
    if found is None:
        raise NotFound(f"{release} has no {item}")
    if found.purged_at is not None:
        raise Conflict(f"{item} of {release} was purged on {found.purged_at:%Y-%m-%d}")
    holding = [
        one for one in Release.objects.select_related("server", "snapshot") if found.pk in _digests(one)
    ]
    snapshots = {one.snapshot_id for one in holding}
    silent = silence(item, json.loads(found.body), map(str, holding), snapshots)
    found.body = json.dumps({_KEYS[found.kind]: found.name, "description": GONE})
    found.purged_at = clock.now()
    found.save(update_fields=["body", "purged_at"])
    _take_out(silent)
    _find_anew(Server.objects.filter(pk__in={one.server_id for one in holding}))
    releases = sorted(map(str, holding))
    about = {"server": slug, "item": item, "digest": found.pk, "releases": releases}
    left = {one.snapshot_id: skeleton(one.snapshot) for one in holding}
    told = [{"snapshot": one, "skeleton": value} for one, value in sorted(left.items())]
    record(actor, Event.ITEM_PURGED, {**about, "snapshots": told, "reason": why})
    return releases


def notice_purges() -> None:
    """Let this process forget what it compared and linted, when something was purged since it last looked."""
    latest = StoredItem.objects.aggregate(latest=Max("purged_at"))["latest"]
    if _noticed != [latest]:
        _noticed[:] = [latest]
        comparing.forget()
        remembered.forget()
        linting.forget()
        overlap.forget()


def shrink_database() -> None:
    """Write the database file anew, so that what was purged does not stand in its free pages."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        cursor.execute("VACUUM")
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _digests(release: Release) -> set[str]:
    return {digest for digests in release.snapshot.lists.values() for digest in digests}


def _take_out(silent: Silence) -> None:
    """Take an item out of what quotes it: assessments, comments, users' notes, answers kept for repeated requests."""
    for kept in StoredAssessment.objects.iterator():
        document = silent.over(kept.document)
        if document != kept.document:
            kept.document = document
            kept.save(update_fields=["document"])
    for comment in Comment.objects.exclude(quoted="").iterator():
        quoted = silent.text(comment.quoted)
        if quoted != comment.quoted:
            comment.quoted = quoted
            comment.save(update_fields=["quoted"])
    for note in UserNote.objects.filter(removed_at=None).iterator():
        text, answer = silent.text(note.text), silent.text(note.answer)
        if (text, answer) != (note.text, note.answer):
            note.text, note.answer = text[: UserNote.LONGEST], answer[: UserNote.LONGEST]
            note.save(update_fields=["text", "answer"])
    IdempotencyRecord.objects.all().delete()


def _find_anew(servers: Iterable[Server]) -> None:
    """Make anew what is kept for finding items and overlaps, as if the item had never said anything."""
    search.rebuild()
    owners = list(servers)
    StoredProfiles.objects.filter(server__in=owners).delete()
    FoundOverlap.objects.filter(Q(a__in=owners) | Q(b__in=owners)).delete()
    comparing.forget()
    overlap.forget()
    linting.forget()
    for owner in owners:
        steps.forget_steps(owner)
        findings.keep_findings(owner)
        overlap.keep_profiles(owner)
        overlap.compare_server(owner)
