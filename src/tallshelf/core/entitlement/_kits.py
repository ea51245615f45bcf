"""Rules of the judge on kits: who keeps them, what their locks may hold, and what loosens."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement._common import Refusal, may
from tallshelf.core.entitlement.records import Entry, Kit
from tallshelf.core.entitlement.state import State
from tallshelf.core.entitlement.tell_kits import releases_of
from tallshelf.core.entitlement.uses import unagreed
from tallshelf.core.kits import parse_range
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DATA_CLASSES

Body = Mapping[str, Any]
Rule = Callable[[State, Entry, Body], Refusal | None]
_HELD = ("published", "deprecated")


def raises_class(before: str | None, wanted: str) -> bool:
    """Whether a kit is to see higher data than before; a new kit sees ``internal`` data without asking."""
    return DATA_CLASSES.index(wanted) > DATA_CLASSES.index(before or "internal")


def _live(state: State, name: str) -> Kit | None:
    kit = state.kits.get(name)
    return None if kit is None or kit.dropped else kit


def _put(state: State, act: Entry, body: Body) -> Refusal | None:
    kit = _live(state, body["kit"])
    raised = raises_class(kit.data_class if kit else None, body["data_class"])
    keeps = _asked if act.by_clock else _kept
    refusal = _agreed(state, act, body) if raised else keeps(state, act, body)
    return refusal or _used(state, body) or _locked(state, body, body["picks"], body["data_class"])


def _used(state: State, body: Body) -> Refusal | None:
    """Return what a kit picks whose use was not agreed to."""
    pick = next(unagreed(state, body["kit"], body["team"], body["picks"]), None)
    if pick is None:
        return None
    return Refusal(f"the use of {pick['server']} asks its owner team, which did not agree to what is picked")


def _asked(state: State, act: Entry, body: Body) -> Refusal | None:
    """Return why the clock may not put a kit: only as one who keeps it asked, once its use was agreed to."""
    proposed = state.kit_raises.get(body["kit"])
    told = ("team", "data_class", "kit_digest")
    if proposed is None or any(proposed.body[name] != body[name] for name in told):
        return Refusal(f"nobody asked to put {body['kit']} like this")
    return None


def _agreed(state: State, act: Entry, body: Body) -> Refusal | None:
    """Return why somebody may not agree to what one who keeps the kit proposed: that it sees higher data."""
    proposed = state.kit_raises.get(body["kit"])
    told = ("team", "data_class", "kit_digest")
    if proposed is None or any(proposed.body[name] != body[name] for name in told):
        return Refusal(f"{body['kit']} would see {body['data_class']} data, which takes a second curator")
    if proposed.by == act.actor:
        return Refusal(f"a higher data class takes a second curator, and {act.actor} proposed this one")
    return may(state, act, "curate")


def _kept(state: State, act: Entry, body: Body) -> Refusal | None:
    """Return why somebody may not keep a kit: for the team it is of, and for the one it goes to."""
    kit = _live(state, body["kit"])
    refusal = may(state, act, "keep-kit", kit.team) if kit else None
    return refusal or may(state, act, "keep-kit", body["team"])


def _raise_proposed(state: State, act: Entry, body: Body) -> Refusal | None:
    return _kept(state, act, body)


def _raise_declined(state: State, act: Entry, body: Body) -> Refusal | None:
    proposed = state.kit_raises.get(body["kit"])
    if proposed is None:
        return Refusal("the ledger tells of no such proposal that waits", "conflict")
    return None if act.actor == proposed.by else may(state, act, "curate")


def _moved(state: State, act: Entry, body: Body) -> Refusal | None:
    kit = _live(state, body["kit"])
    if kit is None:
        return Refusal(f"the ledger knows no kit {body['kit']}", "conflict")
    if kit.lock != body["before"]:
        return Refusal(f"the lock of {body['kit']} has moved since", "conflict")
    refusal = None if act.by_clock else may(state, act, "keep-kit", kit.team)
    return refusal or _locked(state, body, kit.picks, kit.data_class, kit.releases)


def _dropped(state: State, act: Entry, body: Body) -> Refusal | None:
    kit = _live(state, body["kit"])
    if kit is None:
        return Refusal(f"the ledger knows no kit {body['kit']}", "conflict")
    return may(state, act, "keep-kit", kit.team)


def _locked(
    state: State, body: Body, picks: Any, data_class: str, held: frozenset[tuple[str, str, str]] = frozenset()
) -> Refusal | None:
    """Return what a lock holds that it may not: what is not picked, or a release that is newly held and not approved.

    What was ``held`` before may stay, whatever became of it since.
    """
    wanted = {pick["server"]: pick for pick in picks}
    for one in body["lock"]:
        slug, version = one["server"], one["version"]
        if slug not in wanted or not _takes(wanted[slug], version, one["item"]):
            return Refusal(f"{slug}@{version} is not what this kit picks", "conflict")
    for slug, version, digest in sorted(releases_of(body) - held):
        release, server = state.releases.get((slug, version)), state.servers[slug]
        if release is None or release.state not in _HELD or release.digest != digest:
            return Refusal(f"{slug}@{version} is not approved as this kit holds it", "moved")
        if DATA_CLASSES.index(server.data_class) > DATA_CLASSES.index(data_class):
            return Refusal(f"{slug} is {server.data_class}, and this kit may see {data_class} at most")
    return None


def _takes(pick: Mapping[str, Any], version: str, item: str) -> bool:
    wanted = parse_range(pick["version"])
    if wanted.form != "current" and not wanted.takes(version):
        return False
    return pick["items"] == "reading" or item in pick["items"]


RULES: dict[Event, Rule] = {
    Event.KIT_PUT: _put,
    Event.KIT_RAISE_PROPOSED: _raise_proposed,
    Event.KIT_PUT_ASKED: _raise_proposed,
    Event.KIT_RAISE_DECLINED: _raise_declined,
    Event.KIT_MOVED: _moved,
    Event.KIT_DROPPED: _dropped,
}
