"""Ruling on overlaps and on silent changes: proposed by one, in force when another curator agrees."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

from django.db import transaction

from tallshelf.core.changes import SAME_MEANING, base_for
from tallshelf.core.errors import BadArgument, Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import parse_reference
from tallshelf.service import clock
from tallshelf.service.catalog import queries
from tallshelf.service.catalog.comparing import compared_releases
from tallshelf.service.catalog.models import FoundOverlap, Release, StoredRuling
from tallshelf.service.catalog.overlap import regroup_servers
from tallshelf.service.catalog.overlap import rulings as reads
from tallshelf.service.consent import need_another, need_reason
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

WORDS = ("distinct", "keep-both", "prefer", "merge", SAME_MEANING)
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
    release: str = "",
    base: str = "",
) -> StoredRuling:
    """Propose a word on one overlap or on all of a group, named by their ``pair``.

    ``prefer`` names the member to use, ``merge`` an owner and a day. ``same-meaning`` is a word on silent
    changes instead, named by their ``basis``, that came with a ``release`` (server@version) since the version
    ``base`` (what it is held against, when empty). The same again answers with what stands.
    """
    require(actor, "curate")
    reason = need_reason(reason)
    if word not in WORDS:
        raise BadArgument(f"{word!r} is no ruling", remedy=f"Rulings are {', '.join(WORDS)}.")
    wanted = sorted(set(pairs))
    compared: tuple[Release, Release] | None = None
    if word == SAME_MEANING:
        compared = _releases(actor, release, base)
        members = _changed(compared, wanted)
    elif release or base:
        raise BadArgument(f"only the ruling {SAME_MEANING} names a release")
    else:
        members = _overlapping(wanted)
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
        base=compared[0] if compared else None,
        release=compared[1] if compared else None,
        state="proposed",
        by_id=actor.id,
        at=clock.now(),
    )
    record(actor, Event.RULING_PROPOSED, {**_about(made), "pairs": wanted, "reason": reason})
    regroup_servers(_servers(made))
    return made


@transaction.atomic
def answer_ruling(actor: Actor, number: int, answer: str, note: str = "") -> StoredRuling:
    """Agree to a proposed ruling (never by who proposed it), decline it, or end one; the latter two take a note."""
    require(actor, "curate")
    ruling = reads.ruling(actor, number)
    moves = {"agree": ("in force", Event.RULING_IN_FORCE), "decline": ("declined", Event.RULING_DECLINED)}
    moves["end"] = ("ended", Event.RULING_ENDED)
    if answer not in moves:
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are agree, decline and end.")
    state, event = moves[answer]
    if ruling.state == state:
        return ruling
    if ruling.state != "proposed" and not (answer == "end" and ruling.state == "in force"):
        raise Conflict(f"ruling {number} is {ruling.state}, which is not changed by {answer}")
    if answer == "agree":
        need_another("a ruling", own=ruling.by_id == actor.id)
    else:
        note = need_reason(note)
    moved = StoredRuling.objects.filter(pk=number, state=ruling.state).update(
        state=state, answered_by_id=actor.id, answered_at=clock.now(), answer_note=note
    )
    if not moved:
        raise Conflict(f"ruling {number} has just been changed by someone else", remedy="Look again.")
    ruling.refresh_from_db()
    record(actor, event, {**_about(ruling), "note": note})
    regroup_servers(_servers(ruling))
    for slug in _servers(ruling):
        invalidate("rulings", server=slug)
    return ruling


def _servers(ruling: StoredRuling) -> list[str]:
    return sorted({member.partition("#")[0] for member in ruling.members})


def _overlapping(wanted: list[str]) -> list[str]:
    """Return the items of some overlaps; raise `BadArgument` where one is not there any more."""
    rows = list(FoundOverlap.objects.filter(pair__in=wanted[:_MOST_PAIRS]))
    if not wanted or {row.pair for row in rows} != set(wanted):
        raise BadArgument(
            "an overlap that is ruled on is not there any more", remedy="Look at the work-list again."
        )
    return sorted({_reference(row.document[side]) for row in rows for side in ("a", "b")})


def _releases(actor: Actor, reference: str, base: str) -> tuple[Release, Release]:
    """Return the release that a ruling is about, after what it was compared with."""
    place = parse_reference(reference)
    if place.file or place.item or not place.version:
        raise BadArgument(f"{reference!r} names no release", remedy="Write server@version.")
    new = queries.release(actor, place.server, place.version)
    lower = base or base_for(new.version, queries.published_versions(new.server))
    if lower is None:
        raise BadArgument(f"{new} is the first release: nothing changed")
    return queries.release(actor, place.server, lower), new


def _changed(compared: tuple[Release, Release], wanted: list[str]) -> list[str]:
    """Return the items whose silent changes are named; raise `BadArgument` where one may not be ruled on."""
    bases = {change.basis: change.item for change in compared_releases(*compared).changes if change.basis}
    if not wanted or len(wanted) > _MOST_PAIRS or not bases.keys() >= set(wanted):
        raise BadArgument(
            f"between {compared[0]} and {compared[1]} there is no such silent change that may be ruled on",
            remedy="Compare them again; ignored arguments and what is undecided cannot be ruled on.",
        )
    slug = compared[1].server.slug
    return sorted({f"{slug}#{bases[one]}" for one in wanted})


def _check(word: str, members: list[str], preferred: str, owner: str, due: date | None) -> None:
    servers = {member.partition("#")[0] for member in members}
    if word == "prefer" and preferred not in servers | set(members):
        choices = ", ".join([*members, *sorted(servers)])
        raise BadArgument("say which one is preferred", remedy=f"It is one of {choices}.")
    if word == "merge" and (not owner.strip() or due is None):
        raise BadArgument("a merge needs an owner and a day", remedy="Say who merges them, until when.")
    if word != "prefer" and preferred:
        raise BadArgument("only the ruling prefer names one of them")


def _reference(side: dict[str, Any]) -> str:
    return f"{side['server']}#{side['item']}"


def _about(ruling: StoredRuling) -> dict[str, Any]:
    return {
        "ruling": ruling.pk,
        "word": ruling.word,
        "members": ruling.members,
        "preferred": ruling.preferred,
        "owner": ruling.owner,
        "due": ruling.due.isoformat() if ruling.due else None,
        "release": str(ruling.release) if ruling.release else "",
        "base": ruling.base.version if ruling.base else "",
    }
