"""How what was found stands: preferred over, deprecated, suspended, and what its users say."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import F, Window
from django.db.models.functions import RowNumber

from tallshelf.service.catalog.models import ItemDeprecation, Suspension, UserNote
from tallshelf.service.catalog.overlap.rulings import preferred_over

_NOTES = 2


def add_standing(hits: Sequence[dict[str, Any]]) -> None:
    """Say of each hit what to use instead, whether it is deprecated or suspended, and the newest notes on it."""
    servers = {hit["server"] for hit in hits}
    instead, stopped = preferred_over(), _suspended(servers)
    ending, notes = _ending(servers), _notes(servers)
    for hit in hits:
        key = hit["server"], hit["item"]
        hit["preferred"] = instead.get(f"{hit['server']}#{hit['item']}", "")
        hit["deprecated"] = ending.get(key, "")
        hit["notes"] = notes.get(hit["server"], [])
        hit["suspended"] = stopped.get((hit["server"], "")) or stopped.get(key, "")


def _notes(servers: set[str]) -> dict[str, list[dict[str, Any]]]:
    """Return the newest notes of users on the current releases of servers."""
    rows = UserNote.objects.filter(removed_at=None, release__server__slug__in=servers)
    rows = rows.filter(release=F("release__server__current")).select_related("by", "release__server")
    place = Window(RowNumber(), partition_by=F("release"), order_by=F("pk").desc())
    found: dict[str, list[dict[str, Any]]] = {}
    for note in rows.annotate(place=place).filter(place__lte=_NOTES).order_by("-pk"):
        said = {"text": note.text, "by": note.by.name, "at": note.at, "answer": note.answer}
        found.setdefault(note.release.server.slug, []).append(said)
    return found


def _ending(servers: set[str]) -> dict[tuple[str, str], str]:
    """Return until when, why and for what items of servers are deprecated, by server and item."""
    rows = ItemDeprecation.objects.filter(server__slug__in=servers).select_related("server")
    return {
        (deprecation.server.slug, deprecation.item): f"deprecated{deprecation.words}" for deprecation in rows
    }


def _suspended(servers: set[str]) -> dict[tuple[str, str], str]:
    """Return why servers, and items of them, are suspended; by server and item (none: the whole server)."""
    rows = Suspension.objects.filter(lifted_at=None, server__slug__in=servers)
    return {(slug, item): reason for slug, item, reason in rows.values_list("server__slug", "item", "reason")}
