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
    found = queries.kit(name)
    state = queries.state_of(found)
    row = queries.kits(actor).get(name=name)
    waiting = queries.waiting_raise(name)
    return {
        **row,
        "contacts": list(state.kit.contacts),
        "purpose": state.kit.purpose,
        "text": found.text,
        "digest": found.digest,
        "put_by": found.put_by.name,
        "put_at": found.put_at,
        "picks": [
            {"server": one.server, "version": one.version.text, "picked": list(one.items or ())}
            for one in state.kit.picks
        ],
        "lock": [one.document() for one in state.lock.items],
        "problems": [one.document() for one in state.problems],
        "behind": [_behind(one) for one in state.behind],
        "mix_ups": [mix_up_document(one) for one in state.mix_ups],
        "history": [_lock(one) for one in queries.locks(found)],
        "proposed": _proposed(actor, waiting) if waiting else None,
        "may_keep": refusal(actor, "keep-kit", found.team.slug) is None,
    }


def _behind(one: queries.Behind) -> dict[str, Any]:
    hit = hits_document(one.hits)
    return {
        "server": one.server,
        "holds": one.holds,
        "takes": one.takes,
        "why": one.why,
        "word": hit[0]["word"] if hit else None,
        "hit_items": hit[0]["hit_items"] if hit else [],
    }


def _lock(one: StoredLock) -> dict[str, Any]:
    return {
        "number": one.number,
        "at": one.at,
        "by": one.by.name if one.by else "",
        "because": one.because,
        "held_items": one.items,
        "tokens": one.tokens,
        "moves": one.moves,
    }


def _proposed(actor: Actor, one: StoredRaise) -> dict[str, Any]:
    return {
        "data_class": one.data_class,
        "raises": raises(one),
        "waits_for": one.uses,
        "note": one.answer_note,
        "reason": one.reason,
        "text": one.text,
        "by": one.by.name,
        "at": one.at,
        "may_answer": one.by_id != actor.id and refusal(actor, "curate") is None and raises(one),
    }


def raises(one: StoredRaise) -> bool:
    """Whether a kit that waits would see higher data, which takes a second curator."""
    rows = StoredKit.objects.filter(name=one.name, dropped_at=None)
    return raises_class(rows.values_list("data_class", flat=True).first(), one.data_class)


def proposals(actor: Actor) -> list[dict[str, Any]]:
    """Return the kits that wait to be put: for a second curator, or for owners of what they use."""
    require(actor, "see")
    rows = StoredRaise.objects.filter(state="proposed").select_related("by", "team").order_by("pk")
    return [{"name": one.name, "team": one.team.slug, **_proposed(actor, one)} for one in rows]


def check_kit(actor: Actor, text: str) -> dict[str, Any]:
    """Return what a kit comes to, what would move against its lock, and what of that breaks it; store nothing."""
    require(actor, "check")
    kit = parse_kit(text)
    stored = StoredKit.objects.filter(name=kit.name, dropped_at=None).select_related("team", "lock").first()
    lock = queries.lock_of(stored)
    offers = CatalogOffers(one.server for one in kit.picks)
    fresh = resolve(kit, offers)
    behind = queries.behind_of(kit, lock, offers)
    moves = [one.document() for one in moves_between(lock, fresh.lock)]
    by_server = {one.server: _behind(one) for one in behind}
    for one in moves:
        told = by_server.get(one["server"], {})
        one |= {"why": told.get("why", ""), "word": told.get("word"), "hit_items": told.get("hit_items", [])}
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
        "problems": [one.document() for one in fresh.problems],
        "moves": moves,
        "mix_ups": [mix_up_document(one) for one in queries.mixed_up(fresh)],
        "asks": using.would_ask(kit),
        "passed": not because,
        "because": because,
    }


def _failing(problems: tuple[Problem, ...]) -> list[str]:
    return [f"key {one.key}: {one.message}" for one in problems if one.kind in _FAILS]


def _breaking(kit: Kit, moves: list[dict[str, Any]]) -> list[str]:
    return [
        f"{one['server']} {one['before']} to {one['after']}: {item['item']}: {item['message']} ({item['word']})"
        for one in moves
        for item in one["hit_items"]
        if item["word"] in STOPS
    ]
