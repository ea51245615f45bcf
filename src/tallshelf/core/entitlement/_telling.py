"""Rules of the judge on what is told outside: webhooks, notes of users, what is due, how servers run."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement._common import Refusal, may
from tallshelf.core.entitlement.records import Entry, UserNote, Webhook
from tallshelf.core.entitlement.state import State
from tallshelf.core.ledger.events import Event

Body = Mapping[str, Any]
Rule = Callable[[State, Entry, Body], Refusal | None]


def _made(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["webhook"] in state.webhooks:
        return Refusal(f"the ledger knows a webhook {body['webhook']} already", "conflict")
    if body["team"] not in state.teams:
        return Refusal(f"the ledger knows no team {body['team']!r}", "conflict")
    return may(state, act, "keep-webhook", body["team"])


def _live(state: State, body: Body) -> Webhook | Refusal:
    webhook = state.webhooks.get(body["webhook"])
    if webhook is None or webhook.ended or webhook.team != body["team"]:
        return Refusal(f"the ledger knows no such webhook {body['webhook']}", "conflict")
    return webhook


def _rotated(state: State, act: Entry, body: Body) -> Refusal | None:
    webhook = _live(state, body)
    if isinstance(webhook, Refusal):
        return webhook
    if body["round"] != webhook.round + 1:
        return Refusal(f"webhook {webhook.number} has another secret by now", "conflict")
    return may(state, act, "keep-webhook", webhook.team)


def _ended(state: State, act: Entry, body: Body) -> Refusal | None:
    webhook = _live(state, body)
    if isinstance(webhook, Refusal):
        return webhook
    return None if act.by_clock else may(state, act, "keep-webhook", webhook.team)


def _by_clock(state: State, act: Entry, body: Body) -> Refusal | None:
    return None if act.by_clock else Refusal("only the clock does this")


def _note_left(state: State, act: Entry, body: Body) -> Refusal | None:
    release = state.releases.get((body["server"], body["version"]))
    if release is None or release.state not in ("published", "deprecated"):
        return Refusal(f"{body['server']}@{body['version']} is not in use", "conflict")
    return may(state, act, "leave-note")


def _note(state: State, body: Body) -> UserNote | Refusal:
    note = state.notes.get(body["user_note"])
    if note is None or note.server != body["server"]:
        return Refusal(f"the ledger knows no note {body['user_note']} on {body['server']}", "conflict")
    return note


def _note_answered(state: State, act: Entry, body: Body) -> Refusal | None:
    note = _note(state, body)
    if isinstance(note, Refusal):
        return note
    return may(state, act, "edit", state.servers[note.server].team)


def _note_removed(state: State, act: Entry, body: Body) -> Refusal | None:
    note = _note(state, body)
    if isinstance(note, Refusal):
        return note
    return may(state, act, "leave-note" if note.by == act.actor else "curate")


def _looked(state: State, act: Entry, body: Body) -> Refusal | None:
    server = state.servers.get(body["server"])
    if server is None or (server.slug, body["version"]) not in state.releases:
        return Refusal(f"the ledger knows no {body['server']}@{body['version']}", "conflict")
    return may(state, act, "report-looks", server.team)


RULES: dict[Event, Rule] = {
    Event.WEBHOOK_MADE: _made,
    Event.WEBHOOK_ROTATED: _rotated,
    Event.WEBHOOK_ENDED: _ended,
    Event.NOTE_LEFT: _note_left,
    Event.NOTE_ANSWERED: _note_answered,
    Event.NOTE_REMOVED: _note_removed,
    Event.WAIVER_DUE: _by_clock,
    Event.FOLLOW_UP_DUE: _by_clock,
    Event.LAST_DAY_NEARS: _by_clock,
    Event.USE_CHANGED: _by_clock,
    Event.DRIFT_SEEN: _looked,
    Event.DRIFT_OVER: _looked,
}
