"""Taking in what entries say of webhooks, and of notes of users."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from tallshelf.core.entitlement.records import Entry, UserNote, Webhook
from tallshelf.core.entitlement.state import State
from tallshelf.core.ledger.events import Event

Body = Mapping[str, Any]


def _made(state: State, entry: Entry, body: Body) -> None:
    made = Webhook(body["webhook"], body["team"], body["address"], body["about"], tuple(body["types"]))
    state.put(state.webhooks, made.number, made)


def _rotated(state: State, entry: Entry, body: Body) -> None:
    webhook = state.webhooks[body["webhook"]]
    state.put(state.webhooks, webhook.number, replace(webhook, round=body["round"]))


def _ended(state: State, entry: Entry, body: Body) -> None:
    webhook = state.webhooks[body["webhook"]]
    state.put(state.webhooks, webhook.number, replace(webhook, ended=True))


def _note_left(state: State, entry: Entry, body: Body) -> None:
    state.put(state.notes, body["user_note"], UserNote(body["server"], entry.actor))


def _note_removed(state: State, entry: Entry, body: Body) -> None:
    state.drop(state.notes, body["user_note"])


TELLS: dict[Event, Callable[[State, Entry, Body], None]] = {
    Event.NOTE_LEFT: _note_left,
    Event.NOTE_REMOVED: _note_removed,
    Event.WEBHOOK_MADE: _made,
    Event.WEBHOOK_ROTATED: _rotated,
    Event.WEBHOOK_ENDED: _ended,
}
