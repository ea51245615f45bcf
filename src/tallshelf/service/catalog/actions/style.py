"""Changing the house style: proposed, agreed to where it loosens, and in force."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import digest
from tallshelf.core.style import loosened, parse_style
from tallshelf.service import clock
from tallshelf.service.catalog import linting
from tallshelf.service.catalog.models import StoredStyle
from tallshelf.service.consent import answered_so, need_another, need_base, need_reason, need_seen
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


@transaction.atomic
def apply_style(actor: Actor, text: str, note: str, *, seen: int | None = None) -> StoredStyle:
    """Store a house style (TOML) as a new version; it is in force at once unless it loosens.

    One that loosens is proposed, and takes a second curator (`answer_style`). ``seen`` is the
    version it was written against: `Outdated` when another is in force by now. The style in force
    again changes nothing. Raises `BadDocument` for what `parse_style` refuses.
    """
    require(actor, "curate")
    style, now = parse_style(text), linting.stored_style_in_force()
    note, replaces = need_reason(note), now.version if now else 0
    need_seen("the house style", replaces, seen)
    if now is not None and now.text == text:
        return now
    same = StoredStyle.objects.filter(state="proposed", text=text, replaces=replaces).first()
    if same is not None:
        return same
    loose = list(loosened(linting.style_in_force(), style))
    last = StoredStyle.objects.order_by("-version").first()
    made = StoredStyle.objects.create(
        version=last.version + 1 if last else 1,
        text=text,
        digest=style.digest,
        note=note,
        state="proposed",
        replaces=replaces,
        loosened=loose,
        by_id=actor.id,
        at=clock.now(),
    )
    told = {"version": made.version, "digest": made.digest, "replaces": replaces, "note": note}
    record(actor, Event.STYLE_PROPOSED, {**told, "loosened": loose, "text_digest": digest(text)})
    if not loose:
        _put_in_force(actor, made)
    return made


@transaction.atomic
def answer_style(actor: Actor, version: int, answer: str, note: str = "") -> StoredStyle:
    """Agree to a proposed style, which puts it in force, or decline it; never by who proposed it.

    Raises `Outdated` when another style came into force since it was proposed.
    """
    require(actor, "curate")
    style = StoredStyle.objects.filter(pk=version).select_related("by").first()
    if style is None:
        raise NotFound(f"there is no version {version} of the house style")
    if answered_so(f"version {version} of the house style", style.state, answer):
        return style
    if answer == "decline":
        style.state = "declined"
        style.save(update_fields=["state"])
        record(actor, Event.STYLE_DECLINED, {"version": version, "note": need_reason(note)})
        return style
    need_another("a style that loosens", own=style.by_id == actor.id)
    now = linting.stored_style_in_force()
    need_base(version, style.replaces, now.version if now else 0)
    style.agreed_by_id = actor.id
    _put_in_force(actor, style)
    return style


def _put_in_force(actor: Actor, style: StoredStyle) -> None:
    style.state, style.in_force_at = "in force", clock.now()
    style.save(update_fields=["state", "in_force_at", "agreed_by"])
    record(actor, Event.STYLE_IN_FORCE, {"version": style.version, "digest": style.digest})
    invalidate("style")
