"""Reading rulings on overlaps, and on silent changes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.db.models import Q, QuerySet
from django.db.models.functions import Coalesce

from tallshelf.core.changes import SAME_MEANING, parts_of
from tallshelf.core.errors import NotFound
from tallshelf.core.overlap import Ruling
from tallshelf.service import clock
from tallshelf.service.catalog.comparing import compared_releases
from tallshelf.service.catalog.models import Release, StoredRuling
from tallshelf.service.catalog.visible import PUBLIC_STATES, may_see
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


def same_meanings(slug: str) -> list[tuple[frozenset[str], str]]:
    """Return what is ruled of silent changes of a server: the parts of each basis, and why."""
    rows = StoredRuling.objects.filter(state="in force", word=SAME_MEANING, release__server__slug=slug)
    return [(parts_of(pair), row.reason) for row in rows.order_by("pk") for pair in row.pairs]


def preferred_over() -> dict[str, str]:
    """Return, by reference, the item or the server that a ruling in force prefers to another item."""
    rows = StoredRuling.objects.filter(state="in force", word="prefer")
    return {
        member: row.preferred
        for row in rows.order_by("pk")
        for member in row.members
        if row.preferred not in (member, member.partition("#")[0])
    }


def rulings(actor: Actor, *, state: str = "", word: str = "", server: str = "") -> QuerySet[StoredRuling]:
    """Return rulings that an actor may see, filtered; ``overdue`` names merges in force whose date is past.

    ``server`` asks for those that have an item of it among their members.
    """
    require(actor, "see")
    rows = StoredRuling.objects.select_related("by", "answered_by", "release__server__team", "base")
    rows = rows.annotate(changed_at=Coalesce("answered_at", "at"))
    of_releases = rows.filter(release__isnull=False)
    told_of = Q(pk__in=of_releases.values("release")) | Q(pk__in=of_releases.values("base"))
    unpublished = Release.objects.filter(told_of).exclude(state__in=PUBLIC_STATES)
    hidden = [
        release.pk for release in unpublished.select_related("server__team") if not may_see(actor, release)
    ]
    rows = rows.exclude(release__in=hidden).exclude(base__in=hidden)
    if word:
        rows = rows.filter(word=word)
    if server:
        rows = rows.filter(members__icontains=f'"{server}#')
    if state == "overdue":
        return rows.filter(state="in force", word="merge", due__lt=clock.now().date())
    return rows.filter(state=state) if state else rows


def ruling(actor: Actor, number: int) -> StoredRuling:
    """Return a ruling by its number; raise `NotFound`."""
    found = rulings(actor).filter(pk=number).first()
    if found is None:
        raise NotFound(f"there is no ruling {number}")
    return found


def ruling_row(actor: Actor, ruling: StoredRuling) -> dict[str, Any]:
    """Return one ruling as it is shown, with what the actor may do."""
    curates = refusal(actor, "curate") is None
    return {
        "number": ruling.pk,
        "id": ruling.pk,
        "word": ruling.word,
        "reason": ruling.reason,
        "members": ruling.members,
        "pairs": ruling.pairs,
        "release": str(ruling.release) if ruling.release else "",
        "base": ruling.base.version if ruling.base else "",
        "told": list(_told(ruling)),
        "preferred": ruling.preferred,
        "owner": ruling.owner,
        "due": ruling.due,
        "overdue": ruling.state == "in force" and ruling.due is not None and ruling.due < clock.now().date(),
        "state": ruling.state,
        "by": ruling.by.name,
        "at": ruling.at,
        "answered_by": ruling.answered_by.name if ruling.answered_by else None,
        "answered_at": ruling.answered_at,
        "answer_note": ruling.answer_note,
        "may_answer": ruling.state == "proposed" and curates and ruling.by_id != actor.id,
        "may_end": ruling.state in ("proposed", "in force") and curates,
    }


def _told(ruling: StoredRuling) -> Iterator[str]:
    """Yield what a ruling on silent changes says of, in the words of the comparison."""
    if ruling.release is None or ruling.base is None:
        return
    wanted = {parts_of(pair) for pair in ruling.pairs}
    for change in compared_releases(ruling.base, ruling.release).changes:
        if change.basis and parts_of(change.basis) in wanted:
            yield f"{change.item}: {change.message}"
