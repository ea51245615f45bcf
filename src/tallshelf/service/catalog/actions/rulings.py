"""Ruling on overlaps: proposed by one, in force when a curator who is another agrees."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.catalog.models import FoundOverlap, StoredRuling
from tallshelf.service.catalog.overlap import rulings as reads
from tallshelf.service.consent import need_another, need_reason
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

WORDS = ("distinct", "keep-both", "prefer", "merge")
_MOST_PAIRS = 200


@transaction.atomic
def rule_on(
    actor: Actor,
    pairs: Sequence[str],
    word: str,
    reason: str,
    *,
    preferred: str = "",
    owner: str = "",
    due: date | None = None,
) -> StoredRuling:
    """Propose a word on one overlap or on all of a group, named by their ``pair``.

    ``prefer`` names the member to use, ``merge`` an owner and a day. The same again answers with
    what stands.
    """
    require(actor, "curate")
    reason = need_reason(reason)
    if word not in WORDS:
        raise BadArgument(f"{word!r} is no ruling", remedy=f"Rulings are {', '.join(WORDS)}.")
    wanted = sorted(set(pairs))
    rows = list(FoundOverlap.objects.filter(pair__in=wanted[:_MOST_PAIRS]))
    if not wanted or {row.pair for row in rows} != set(wanted):
        raise BadArgument(
            "an overlap that is ruled on is not there any more", remedy="Look at the work-list again."
        )
    members = sorted({_reference(row.document[side]) for row in rows for side in ("a", "b")})
    _check(word, members, preferred, owner, due)
    for standing in StoredRuling.objects.filter(state__in=("proposed", "in force")):
        if set(standing.pairs) & set(wanted):
            if (standing.word, standing.pairs, standing.preferred) == (word, wanted, preferred):
                return standing
            raise Conflict(
                f"ruling {standing.pk} ({standing.word}, {standing.state}) stands on one of them",
                remedy="End it first.",
            )
    made = StoredRuling.objects.create(
        word=word,
        reason=reason,
        pairs=wanted,
        members=members,
        preferred=preferred,
        owner=owner,
        due=due,
        state="proposed",
        by_id=actor.id,
        at=clock.now(),
    )
    record(actor, Event.RULING_PROPOSED, {**_about(made), "pairs": wanted, "reason": reason})
    return made


@transaction.atomic
def answer_ruling(actor: Actor, number: int, answer: str, note: str = "") -> StoredRuling:
    """Agree to a proposed ruling (never by who proposed it), decline it, or end one; the latter two take a note."""
    require(actor, "curate")
    found = reads.ruling(actor, number)
    moves = {"agree": ("in force", Event.RULING_IN_FORCE), "decline": ("declined", Event.RULING_DECLINED)}
    moves["end"] = ("ended", Event.RULING_ENDED)
    if answer not in moves:
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are agree, decline and end.")
    state, event = moves[answer]
    if found.state == state:
        return found
    if found.state != "proposed" and not (answer == "end" and found.state == "in force"):
        raise Conflict(f"ruling {number} is {found.state}, which is not changed by {answer}")
    if answer == "agree":
        need_another("a ruling", own=found.by_id == actor.id)
    else:
        note = need_reason(note)
    moved = StoredRuling.objects.filter(pk=number, state=found.state).update(
        state=state, answered_by_id=actor.id, answered_at=clock.now(), answer_note=note
    )
    if not moved:
        raise Conflict(f"ruling {number} has just been changed by someone else", remedy="Look again.")
    found.refresh_from_db()
    record(actor, event, {**_about(found), "note": note})
    for slug in sorted({member.partition("#")[0] for member in found.members}):
        invalidate("rulings", server=slug)
    return found


def _check(word: str, members: list[str], preferred: str, owner: str, due: date | None) -> None:
    if word == "prefer" and preferred not in members:
        raise BadArgument("say which one is preferred", remedy=f"It is one of {', '.join(members)}.")
    if word == "merge" and (not owner.strip() or due is None):
        raise BadArgument("a merge needs an owner and a day", remedy="Say who merges them, until when.")
    if word != "prefer" and preferred:
        raise BadArgument("only the ruling prefer names one of them")


def _reference(side: dict[str, Any]) -> str:
    return f"{side['server']}#{side['item']}"


def _about(found: StoredRuling) -> dict[str, Any]:
    return {
        "ruling": found.pk,
        "word": found.word,
        "members": found.members,
        "preferred": found.preferred,
        "owner": found.owner,
        "due": found.due.isoformat() if found.due else None,
    }
