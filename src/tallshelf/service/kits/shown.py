"""Kits as they are shown, in one place for every entrance."""

from __future__ import annotations

from typing import Any

from tallshelf.core.entitlement import raises_class
from tallshelf.core.kits import REFUSED, STOPS, Kit, Problem, kit_from, moves_between, parse_kit, resolve
from tallshelf.core.reports import hits_document, mix_up_document
from tallshelf.service.kits import queries, using
from tallshelf.service.kits.models import StoredKit, StoredLock, StoredRaise
from tallshelf.service.kits.offers import CatalogOffers
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal, require

CHECK_FORMAT = "tallshelf.kit-check/1"
_FAILS = REFUSED | {"over-budget", "suspended"}


def shown_kit(actor: Actor, name: str) -> dict[str, Any]:
    """Return a kit with all that it holds, what is wrong with it, what would move, and how it came to this."""
    require(actor, "see")
    kit = queries.kit(name)
    state = queries.state_of(kit)
    row = queries.kits(actor).get(name=name)
    waiting = queries.waiting_raise(name)
    return {
        **row,
        "contacts": list(state.kit.contacts),
        "purpose": state.kit.purpose,
        "text": kit.text,
        "digest": kit.digest,
        "put_by": kit.put_by.name,
        "put_at": kit.put_at,
        "picks": [
            {"server": pick.server, "version": pick.version.text, "picked": list(pick.items or ())}
            for pick in state.kit.picks
        ],
        "lock": [locked.document() for locked in state.lock.items],
        "problems": [problem.document() for problem in state.problems],
        "behind": [_behind(behind) for behind in state.behind],
        "mix_ups": [mix_up_document(mix_up) for mix_up in state.mix_ups],
        "history": [_lock(lock) for lock in queries.locks(kit)],
        "proposed": _proposed(actor, waiting) if waiting else None,
        "may_keep": refusal(actor, "keep-kit", kit.team.slug) is None,
    }


def _behind(behind: queries.Behind) -> dict[str, Any]:
    hit = hits_document(behind.hits)
    return {
        "server": behind.server,
        "holds": behind.holds,
        "takes": behind.takes,
        "why": behind.why,
        "word": hit[0]["word"] if hit else None,
        "hit_items": hit[0]["hit_items"] if hit else [],
    }


def _lock(lock: StoredLock) -> dict[str, Any]:
    return {
        "number": lock.number,
        "at": lock.at,
        "by": lock.by.name if lock.by else "",
        "because": lock.because,
        "held_items": lock.items,
        "tokens": lock.tokens,
        "moves": lock.moves,
    }


def _proposed(actor: Actor, proposal: StoredRaise) -> dict[str, Any]:
    return {
        "data_class": proposal.data_class,
        "raises": raises(proposal),
        "waits_for": proposal.uses,
        "note": proposal.answer_note,
        "reason": proposal.reason,
        "text": proposal.text,
        "by": proposal.by.name,
        "at": proposal.at,
        "may_answer": proposal.by_id != actor.id and refusal(actor, "curate") is None and raises(proposal),
    }


def raises(proposal: StoredRaise) -> bool:
    """Whether a kit that waits would see higher data, which takes a second curator."""
    rows = StoredKit.objects.filter(name=proposal.name, dropped_at=None)
    return raises_class(rows.values_list("data_class", flat=True).first(), proposal.data_class)


def proposals(actor: Actor) -> list[dict[str, Any]]:
    """Return the kits that wait to be put: for a second curator, or for owners of what they use."""
    require(actor, "see")
    rows = StoredRaise.objects.filter(state="proposed").select_related("by", "team").order_by("pk")
    return [
        {"name": proposal.name, "team": proposal.team.slug, **_proposed(actor, proposal)} for proposal in rows
    ]


def check_kit(actor: Actor, text: str) -> dict[str, Any]:
    """Return what a kit comes to, what would move against its lock, and what of that breaks it; store nothing."""
    require(actor, "check")
    kit = parse_kit(text)
    stored = StoredKit.objects.filter(name=kit.name, dropped_at=None).select_related("team", "lock").first()
    lock = queries.lock_of(stored)
    offers = CatalogOffers(pick.server for pick in kit.picks)
    fresh = resolve(kit, offers)
    behind = queries.behind_of(kit, lock, offers)
    moves = [move.document() for move in moves_between(lock, fresh.lock)]
    by_server = {one.server: _behind(one) for one in behind}
    for move in moves:
        told = by_server.get(move["server"], {})
        move |= {"why": told.get("why", ""), "word": told.get("word"), "hit_items": told.get("hit_items", [])}
    because = [*_failing(fresh.problems), *_breaking(kit, moves)]
    return {
        "format": CHECK_FORMAT,
        "kit": kit.name,
        "digest": kit.digest,
        "on_shelf": stored is not None,
        "as_put": stored is not None and kit_from(stored.document) == kit,
        "tokens": fresh.lock.tokens,
        "budget": kit.budget,
        "held_items": len(fresh.lock.items),
        "problems": [problem.document() for problem in fresh.problems],
        "moves": moves,
        "mix_ups": [mix_up_document(mix_up) for mix_up in queries.mixed_up(fresh)],
        "asks": using.would_ask(kit),
        "passed": not because,
        "because": because,
    }


def _failing(problems: tuple[Problem, ...]) -> list[str]:
    return [f"key {problem.key}: {problem.message}" for problem in problems if problem.kind in _FAILS]


def _breaking(kit: Kit, moves: list[dict[str, Any]]) -> list[str]:
    return [
        f"{move['server']} {move['before']} to {move['after']}: {item['item']}: {item['message']} ({item['word']})"
        for move in moves
        for item in move["hit_items"]
        if item["word"] in STOPS
    ]
