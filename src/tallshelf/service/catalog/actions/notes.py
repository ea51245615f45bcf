"""Notes of users on releases, and the owners' answers."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.models import UserNote
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal, require

MOST_OF_ONE = 10
"""How many notes one person may have on one release."""


@transaction.atomic
def leave_note(actor: Actor, slug: str, version: str, text: str) -> UserNote:
    """Leave a note on a release in use; the same again by the same person answers with what there is."""
    require(actor, "leave-note")
    release, said = queries.release(actor, slug, version), _said(text)
    if release.state not in ("published", "deprecated"):
        raise Conflict(f"{release} is {release.state}", remedy="Notes are for releases in use.")
    own = release.notes.filter(by_id=actor.id, removed_at=None)
    same = own.filter(text=said).first()
    if same is not None:
        return same
    if own.count() >= MOST_OF_ONE:
        raise Conflict(f"you have left {MOST_OF_ONE} notes on {release} already", remedy="Remove one first.")
    made = UserNote.objects.create(release=release, text=said, by_id=actor.id, at=clock.now())
    record(actor, Event.NOTE_LEFT, _about(made))
    return made


@transaction.atomic
def answer_note(actor: Actor, number: int, text: str) -> UserNote:
    """Answer a note, for the owner team; another answer takes the place of the one before."""
    note, said = _note(actor, number), _said(text)
    require(actor, "edit", note.release.server.team.slug)
    if note.answer != said:
        note.answer, note.answered_by_id, note.answered_at = said, actor.id, clock.now()
        note.save(update_fields=["answer", "answered_by", "answered_at"])
        record(actor, Event.NOTE_ANSWERED, _about(note))
    return note


@transaction.atomic
def remove_note(actor: Actor, number: int) -> None:
    """Remove a note with its answer: one's own, or for curators any. Removed already is no fault."""
    note = UserNote.objects.select_related("release__server").filter(pk=number).first()
    if note is None:
        require(actor, "see")
        raise NotFound(f"there is no note {number}")
    require(actor, "leave-note")
    if note.by_id != actor.id and refusal(actor, "curate") is not None:
        raise Denied("this note is another's", remedy="Whoever left it removes it, or a curator.")
    if note.removed_at is None:
        note.text, note.answer, note.removed_at = "", "", clock.now()
        note.save(update_fields=["text", "answer", "removed_at"])
        record(actor, Event.NOTE_REMOVED, _about(note))


def _note(actor: Actor, number: int) -> UserNote:
    require(actor, "see")
    rows = UserNote.objects.select_related("release__server__team", "by").filter(removed_at=None)
    note = rows.filter(pk=number).first()
    if note is None:
        raise NotFound(f"there is no note {number}", remedy="It may have been removed.")
    return note


def _said(text: str) -> str:
    said = " ".join(text.split())
    if not said or len(said) > UserNote.LONGEST:
        raise BadArgument(f"a note has 1 to {UserNote.LONGEST} characters")
    return said


def _about(note: UserNote) -> dict[str, object]:
    release = note.release
    return {"server": release.server.slug, "version": release.version, "user_note": note.pk}
