"""Taking in what entries say of kits."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from tallshelf.core.entitlement.records import Entry, Kit, Proposal
from tallshelf.core.entitlement.state import State
from tallshelf.core.ledger.events import Event

Body = Mapping[str, Any]


def _put(state: State, entry: Entry, body: Body) -> None:
    made = Kit(
        body["kit"],
        body["team"],
        body["data_class"],
        body["kit_digest"],
        body["lock_digest"],
        tuple(body["picks"]),
        releases_of(body),
    )
    state.put(state.kits, made.name, made)
    state.drop(state.kit_raises, made.name)


def _moved(state: State, entry: Entry, body: Body) -> None:
    kit = state.kits[body["kit"]]
    state.put(state.kits, kit.name, replace(kit, lock=body["lock_digest"], releases=releases_of(body)))


def releases_of(body: Body) -> frozenset[tuple[str, str, str]]:
    """Return the releases that a lock holds items of."""
    return frozenset((one["server"], one["version"], one["release_digest"]) for one in body["lock"])


def _dropped(state: State, entry: Entry, body: Body) -> None:
    state.put(state.kits, body["kit"], replace(state.kits[body["kit"]], dropped=True))
    state.drop(state.kit_raises, body["kit"])


def _raise_proposed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.kit_raises, body["kit"], Proposal(entry.number, entry.actor, "proposed", body))


def _raise_declined(state: State, entry: Entry, body: Body) -> None:
    state.drop(state.kit_raises, body["kit"])


TELLS: dict[Event, Callable[[State, Entry, Body], None]] = {
    Event.KIT_PUT: _put,
    Event.KIT_MOVED: _moved,
    Event.KIT_DROPPED: _dropped,
    Event.KIT_RAISE_PROPOSED: _raise_proposed,
    Event.KIT_PUT_ASKED: _raise_proposed,
    Event.KIT_RAISE_DECLINED: _raise_declined,
}
