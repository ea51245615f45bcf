"""Reading rulings on overlaps."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from tallshelf.core.errors import NotFound
from tallshelf.core.overlap import Ruling
from tallshelf.service import clock
from tallshelf.service.catalog.models import StoredRuling
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal, require


def rulings_for(slug: str | None = None) -> tuple[Ruling, ...]:
    """Return the rulings in force, all or those that concern a server."""
    rows = StoredRuling.objects.filter(state="in force").order_by("pk")
    return tuple(
        Ruling(frozenset(pair.split("|")), row.word, row.reason, row.preferred)  # type: ignore[arg-type]
        for row in rows
        if slug is None or any(member.partition("#")[0] == slug for member in row.members)
        for pair in row.pairs
    )


def preferred_over() -> dict[str, str]:
    """Return, by reference, the item that a ruling in force prefers to another."""
    rows = StoredRuling.objects.filter(state="in force", word="prefer")
    return {
        member: row.preferred
        for row in rows.order_by("pk")
        for member in row.members
        if member != row.preferred
    }


def rulings(actor: Actor, *, state: str = "", word: str = "") -> QuerySet[StoredRuling]:
    """Return rulings, filtered; ``overdue`` names merges in force whose date is past."""
    require(actor, "see")
    rows = StoredRuling.objects.select_related("by", "answered_by")
    if word:
        rows = rows.filter(word=word)
    if state == "overdue":
        return rows.filter(state="in force", word="merge", due__lt=clock.now().date())
    return rows.filter(state=state) if state else rows


def ruling(actor: Actor, number: int) -> StoredRuling:
    """Return a ruling by its number; raise `NotFound`."""
    found = rulings(actor).filter(pk=number).first()
    if found is None:
        raise NotFound(f"there is no ruling {number}")
    return found


def ruling_row(actor: Actor, found: StoredRuling) -> dict[str, Any]:
    """Return one ruling as it is shown, with what the actor may do."""
    curates = refusal(actor, "curate") is None
    return {
        "id": found.pk,
        "word": found.word,
        "reason": found.reason,
        "members": found.members,
        "preferred": found.preferred,
        "owner": found.owner,
        "due": found.due,
        "overdue": found.state == "in force" and found.due is not None and found.due < clock.now().date(),
        "state": found.state,
        "by": found.by.name,
        "at": found.at,
        "answered_by": found.answered_by.name if found.answered_by else None,
        "answered_at": found.answered_at,
        "answer_note": found.answer_note,
        "may_answer": found.state == "proposed" and curates and found.by_id != actor.id,
        "may_end": found.state in ("proposed", "in force") and curates,
    }
