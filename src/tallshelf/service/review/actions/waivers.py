"""Waivers: asked for by the owner team, granted by someone else, and ended."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.db import IntegrityError, transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.style import RULES
from tallshelf.service import clock
from tallshelf.service.catalog import linting
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import StoredWaiver
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.judging import refusal_to_waive
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

LONGEST = timedelta(days=366)
_RULES = frozenset(rule.id for rule in RULES)
_MOVES = {
    ("asked", "grant"): ("granted", Event.WAIVER_GRANTED),
    ("asked", "refuse"): ("refused", Event.WAIVER_REFUSED),
    ("asked", "end"): ("ended", Event.WAIVER_ENDED),
    ("granted", "end"): ("ended", Event.WAIVER_ENDED),
}


@transaction.atomic
def ask_waiver(
    actor: Actor,
    slug: str,
    rule: str,
    item: str,
    reason: str,
    until: datetime,
    *,
    pointer: str | None = None,
) -> tuple[StoredWaiver, bool]:
    """Ask that a rule be set aside for an item, or one place in it, until a moment at most a year ahead.

    It is bound to what the rule finds there now, in what is in use, drafted or under review: another text there is
    not excused. Returns the waiver and whether it was made; asked for or granted already, on the same findings,
    answers with the one there is.
    """
    server = catalog.server(slug)
    require(actor, "ask-waiver", server.team.slug)
    if rule not in _RULES:
        raise BadArgument(f"there is no rule {rule!r}", remedy="`tallshelf lint --rules` lists them.")
    if not reason.strip():
        raise BadArgument(
            "a reason is needed", remedy="Say in a sentence why the rule should not count here."
        )
    if not clock.now() < until <= clock.now() + LONGEST:
        raise BadArgument("a waiver ends at a moment ahead, at most a year from now")
    on = linting.fingerprints_at(server, rule, item, pointer)
    if not on:
        raise NotFound(
            f"{rule} finds nothing at {item}{pointer or ''} in what is in use or under review of {slug}",
            remedy="Submit the release first: a waiver is bound to the text that it excuses.",
        )
    live = server.waivers.filter(rule=rule, item=item, pointer=pointer, state__in=StoredWaiver.LIVE).first()
    stands = live is not None and (live.state == "asked" or live.until > clock.now())
    if live is not None and stands and set(on) <= set(live.fingerprints):
        return live, False
    if live is not None:
        moved = not set(on) <= set(live.fingerprints)
        why = "the text there is another by now" if moved else "it has run out"
        _move(actor, live, "end", f"{why}, and it is asked for again")
    try:
        made = StoredWaiver.objects.create(
            server=server,
            rule=rule,
            item=item,
            pointer=pointer,
            fingerprints=on,
            reason=reason.strip(),
            until=until,
            state="asked",
            asked_by_id=actor.id,
            asked_at=clock.now(),
        )
    except IntegrityError:
        raise Conflict("this has just been asked for by someone else", remedy="Look again.") from None
    told = {**_about(made), "reason": made.reason, "until": until.isoformat(), "fingerprints": on}
    record(actor, Event.WAIVER_ASKED, told)
    return made, True


@transaction.atomic
def answer_waiver(actor: Actor, number: int, answer: str, note: str = "") -> None:
    """Grant, refuse or end a waiver; refusing and ending take a note. The same again changes nothing.

    Granting and ending have the open requests of the server assessed anew.
    """
    waiver = linting.waiver(actor, number)
    if answer not in ("grant", "refuse", "end"):
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are grant, refuse and end.")
    _check(actor, waiver, answer)
    if waiver.state == {"grant": "granted", "refuse": "refused", "end": "ended"}[answer]:
        return
    if answer != "grant" and not note.strip():
        raise BadArgument("say why", remedy="Whoever asked needs a reason to act on.")
    if answer == "grant" and waiver.until <= clock.now():
        raise Conflict(f"waiver {number} would have ended already", remedy="Ask for another.")
    _move(actor, waiver, answer, note.strip())
    if answer != "refuse":
        invalidate("waivers", server=waiver.server.slug)


def _check(actor: Actor, waiver: StoredWaiver, answer: str) -> None:
    if answer == "end":
        require(actor, "edit", waiver.server.team.slug)
        return
    barred = refusal_to_waive(actor, waiver.pk) if waiver.state == "asked" else None
    if barred is not None:
        raise Denied(barred, remedy="Ask a curator.")


def _move(actor: Actor, waiver: StoredWaiver, act: str, note: str) -> None:
    if (waiver.state, act) not in _MOVES:
        raise Conflict(f"waiver {waiver.pk} is {waiver.state}, which is not changed by {act}")
    state, event = _MOVES[waiver.state, act]
    moved = StoredWaiver.objects.filter(pk=waiver.pk, state=waiver.state).update(
        state=state, answered_by_id=actor.id, answered_at=clock.now(), answer_note=note
    )
    if not moved:
        raise Conflict(f"waiver {waiver.pk} has just been changed by someone else", remedy="Look again.")
    bound = {"until": waiver.until.isoformat(), "fingerprints": waiver.fingerprints}
    extra = bound if act == "grant" else {}
    record(actor, event, {**_about(waiver), **extra, "note": note})
    waiver.refresh_from_db()


def _about(waiver: StoredWaiver) -> dict[str, Any]:
    return {
        "server": waiver.server.slug,
        "waiver": waiver.pk,
        "rule": waiver.rule,
        "item": waiver.item,
        "pointer": waiver.pointer,
    }
