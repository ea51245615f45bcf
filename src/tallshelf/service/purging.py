"""Removing leaked bytes: what an item held is taken out wherever the service keeps it.

The digest, the releases that hold it and the ledger stay, so that all of it still verifies: what was
there is known by its digest, and that it was purged by an entry.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from django.db import connection, transaction

from tallshelf.core.errors import Conflict, NotFound
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Release, Server, StoredItem
from tallshelf.service.catalog.overlap import keep_profiles
from tallshelf.service.catalog.search import index_server
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import KeptAnswer
from tallshelf.service.people.permissions import require
from tallshelf.service.review.models import Comment, Request, StoredAssessment

_GONE = "(purged)"
_SHORTEST = 8
_SAID: dict[str, Any] = {"message": _GONE, "suggestion": None, "witness": None, "removed": "", "added": ""}
_KEYS = {"tool": "name", "prompt": "name", "resource": "uri", "template": "uriTemplate"}


@transaction.atomic
def purge(actor: Actor, slug: str, version: str, item: str, reason: str) -> list[str]:
    """Take the bytes of an item out of every release that holds them; return these releases.

    Texts of the item that findings, changes or comments quote are taken out as well, from eight
    characters on. Purged already is a `Conflict`.
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
    texts = sorted(set(_texts(json.loads(found.body))) - {found.name}, key=len, reverse=True)
    found.body = json.dumps({_KEYS[found.kind]: found.name, "description": _GONE})
    found.purged_at = clock.now()
    found.save(update_fields=["body", "purged_at"])
    _take_out(texts, item, {one.digest for one in holding})
    for owner in Server.objects.filter(pk__in={one.server_id for one in holding}):
        index_server(owner)
        keep_profiles(owner)
    releases = sorted(map(str, holding))
    about = {"server": slug, "item": item, "digest": found.pk, "releases": releases}
    record(actor, Event.ITEM_PURGED, {**about, "reason": why})
    return releases


def shrink_database() -> None:
    """Write the database file anew, so that what was purged does not stand in its free pages."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        cursor.execute("VACUUM")
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _digests(release: Release) -> set[str]:
    return {digest for digests in release.snapshot.lists.values() for digest in digests}


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        for child in value.values():
            yield from _texts(child)
    elif isinstance(value, list):
        for child in value:
            yield from _texts(child)
    elif isinstance(value, str) and len(value) >= _SHORTEST:
        yield value


def _take_out(texts: list[str], item: str, releases: set[str]) -> None:
    """Take texts out of what quotes them: assessments, comments, and answers kept for repeated requests.

    What assessments of the releases say of the item itself goes as a whole: it may quote a part.
    """
    own = set(Request.objects.filter(release__digest__in=releases).values_list("assessment", flat=True))
    for kept in StoredAssessment.objects.iterator():
        document = _without(kept.document, texts)
        if kept.pk in own:
            document = _silenced(document, item)
        if document != kept.document:
            kept.document = document
            kept.save(update_fields=["document"])
    for comment in Comment.objects.exclude(quoted="").iterator():
        quoted = _without(comment.quoted, texts)
        if quoted != comment.quoted:
            comment.quoted = quoted
            comment.save(update_fields=["quoted"])
    KeptAnswer.objects.all().delete()


def _silenced(value: Any, item: str) -> Any:
    """Return a document in which nothing is quoted of what is said about an item."""
    if isinstance(value, list):
        return [_silenced(child, item) for child in value]
    if not isinstance(value, dict):
        return value
    if value.get("item") != item:
        return {name: _silenced(child, item) for name, child in value.items()}
    return {name: _SAID.get(name, child) for name, child in value.items()}


def _without(value: Any, texts: list[str]) -> Any:
    if isinstance(value, dict):
        return {name: _without(child, texts) for name, child in value.items()}
    if isinstance(value, list):
        return [_without(child, texts) for child in value]
    if not isinstance(value, str):
        return value
    for text in texts:
        value = value.replace(text, _GONE)
        # Findings and changes quote the beginning of what is long.
        if len(value) >= _SHORTEST and text.startswith(value):
            return _GONE
    return value
