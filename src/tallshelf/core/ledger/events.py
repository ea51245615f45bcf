"""Every event of the ledger, with the type of its payload: its members, each with the type of its value."""

from __future__ import annotations

from enum import StrEnum
from typing import Any, get_args, get_origin


class Event(StrEnum):
    TEAM_ADDED = "team-added"
    PERSON_ADDED = "person-added"
    PERSON_INVITED = "person-invited"
    PERSON_CHANGED = "person-changed"
    ISSUER_KNOWN = "issuer-known"
    DESK_ADDED = "desk-added"
    DESK_JOINED = "desk-joined"
    DESK_LEFT = "desk-left"
    DESK_LED = "desk-led"
    TOKEN_MADE = "token-made"
    TOKEN_ENDED = "token-ended"
    SERVER_ENROLLED = "server-enrolled"
    SERVER_EDITED = "server-edited"
    RELEASE_ADOPTED = "release-adopted"
    PASSWORD_CHANGED = "password-changed"
    SESSION_ENDED = "session-ended"
    RULES_CHANGED = "rules-changed"
    RULES_PROPOSED = "rules-proposed"
    RULES_DECLINED = "rules-declined"
    STYLE_PROPOSED = "style-proposed"
    STYLE_DECLINED = "style-declined"
    STYLE_IN_FORCE = "style-in-force"
    WAIVER_ASKED = "waiver-asked"
    WAIVER_GRANTED = "waiver-granted"
    WAIVER_REFUSED = "waiver-refused"
    WAIVER_ENDED = "waiver-ended"
    RULING_PROPOSED = "ruling-proposed"
    RULING_IN_FORCE = "ruling-in-force"
    RULING_DECLINED = "ruling-declined"
    RULING_ENDED = "ruling-ended"
    WAIVER_BOUND = "waiver-bound"
    KNOWN_PROPOSED = "known-proposed"
    KNOWN_ACCEPTED = "known-accepted"
    KNOWN_DECLINED = "known-declined"
    KNOWN_BOUND = "known-bound"
    KNOWN_SHRUNK = "known-shrunk"
    RELEASE_SUBMITTED = "release-submitted"
    SNAPSHOT_REPLACED = "snapshot-replaced"
    SIGNED_OFF = "signed-off"
    REASSESSED = "reassessed"
    REQUEST_TAKEN_BACK = "request-taken-back"
    RELEASE_PUBLISHED = "release-published"
    RELEASE_DECLINED = "release-declined"
    RELEASE_DEPRECATED = "release-deprecated"
    ITEM_DEPRECATED = "item-deprecated"
    ITEM_KEPT = "item-kept"
    RELEASE_WITHDRAWN = "release-withdrawn"
    ITEM_PURGED = "item-purged"
    SUSPENDED = "suspended"
    SUSPENSION_LIFTED = "suspension-lifted"
    DATA_CLASS_CHANGED = "data-class-changed"
    VERSION_SCHEME_CHANGED = "version-scheme-changed"
    REQUEST_OPENED = "request-opened"
    REQUEST_CHANGED = "request-changed"
    REQUEST_DECLINED = "request-declined"
    REQUEST_TAKEN = "request-taken"
    REQUEST_HANDED_ON = "request-handed-on"
    COMMENTED = "commented"
    FOLLOW_UP_CLOSED = "follow-up-closed"
    DEPUTY_NAMED = "deputy-named"
    DEPUTY_ENDED = "deputy-ended"
    DESK_REMINDED = "desk-reminded"
    REQUEST_RISEN = "request-risen"
    KIT_PUT = "kit-put"
    KIT_RAISE_PROPOSED = "kit-raise-proposed"
    KIT_RAISE_DECLINED = "kit-raise-declined"
    KIT_MOVED = "kit-moved"
    KIT_DROPPED = "kit-dropped"
    KIT_PUT_ASKED = "kit-put-asked"
    USE_ALLOWED = "use-allowed"
    USE_CHANGED = "use-changed"
    NOTE_LEFT = "note-left"
    NOTE_ANSWERED = "note-answered"
    NOTE_REMOVED = "note-removed"
    WEBHOOK_MADE = "webhook-made"
    WEBHOOK_ROTATED = "webhook-rotated"
    WEBHOOK_ENDED = "webhook-ended"
    WAIVER_DUE = "waiver-due"
    FOLLOW_UP_DUE = "follow-up-due"
    LAST_DAY_NEARS = "last-day-nears"
    DRIFT_SEEN = "drift-seen"
    DRIFT_OVER = "drift-over"
    CHAIN_KEYED = "chain-keyed"
    RESTORED = "restored"
    TABLES_TAKEN = "tables-taken"


_Payload = dict[str, Any]
_OBJECT = dict[str, Any]

_RELEASE: _Payload = {"server": str, "version": str, "release_digest": str}
_ASSESSED: _Payload = {"assessment_digest": str, "assessed": _OBJECT}
"""The assessment that a request rests on; ``assessed`` is read by `core.entitlement.assessed_from`."""
_ASKED: _Payload = {**_RELEASE, "request": int}
_RULING: _Payload = {
    "ruling": int,
    "word": str,
    "members": list[str],
    "preferred": str,
    "owner": str,
    "due": str | None,
    "release": str,
    "base": str,
}
_WAIVER: _Payload = {"server": str, "waiver": int, "rule": str, "item": str, "pointer": str | None}

_LOCK: _Payload = {"lock_digest": str, "lock": list[_OBJECT]}
"""What a kit came to: each item by server, version, release digest and item digest."""

PAYLOADS: dict[Event, _Payload] = {
    Event.TEAM_ADDED: {"team": str, "title": str},
    Event.PERSON_ADDED: {"username": str, "role": str, "teams": list[str]},
    Event.PERSON_INVITED: {"username": str, "code": str},
    Event.PERSON_CHANGED: {"username": str, "name": str, "role": str, "teams": list[str], "active": bool},
    Event.ISSUER_KNOWN: {"username": str, "subject": str},
    Event.DESK_ADDED: {"desk": str, "title": str, "owner_team_excluded": bool},
    Event.DESK_JOINED: {"desk": str, "username": str, "since": str},
    Event.DESK_LEFT: {"desk": str, "username": str},
    Event.DESK_LED: {"desk": str, "username": str},
    Event.TOKEN_MADE: {
        "token": int,
        "username": str,
        "name": str,
        "scopes": list[str],
        "parent": int | None,
        "expires_at": str,
        "hash": str,
    },
    Event.TOKEN_ENDED: {"token": int, "username": str, "name": str},
    Event.SERVER_ENROLLED: {"server": str, "team": str, "data_class": str, "scheme": str, "use": str},
    Event.SERVER_EDITED: {"server": str, "before": _OBJECT, "after": _OBJECT},
    Event.RELEASE_ADOPTED: {**_RELEASE, "snapshot_digest": str, "fingerprints": list[str]},
    Event.PASSWORD_CHANGED: {"username": str, "password": str},
    Event.SESSION_ENDED: {"username": str},
    Event.RULES_CHANGED: {"version": int, "digest": str},
    Event.RULES_PROPOSED: {
        "version": int,
        "digest": str,
        "replaces": int,
        "note": str,
        "loosened": list[str],
        "rules": list[_OBJECT],
    },
    Event.RULES_DECLINED: {"version": int, "note": str},
    Event.STYLE_PROPOSED: {
        "version": int,
        "digest": str,
        "replaces": int,
        "note": str,
        "loosened": list[str],
        "text_digest": str,
    },
    Event.STYLE_DECLINED: {"version": int, "note": str},
    Event.STYLE_IN_FORCE: {"version": int, "digest": str},
    Event.WAIVER_ASKED: {**_WAIVER, "reason": str, "until": str, "fingerprints": list[str]},
    Event.WAIVER_GRANTED: {**_WAIVER, "until": str, "fingerprints": list[str], "note": str},
    Event.WAIVER_REFUSED: {**_WAIVER, "note": str},
    Event.WAIVER_ENDED: {**_WAIVER, "note": str},
    Event.RULING_PROPOSED: {**_RULING, "pairs": list[str], "reason": str},
    Event.RULING_IN_FORCE: {**_RULING, "note": str},
    Event.RULING_DECLINED: {**_RULING, "note": str},
    Event.RULING_ENDED: {**_RULING, "note": str},
    Event.WAIVER_BOUND: {"server": str, "waiver": int, "fingerprints": list[str]},
    Event.KNOWN_PROPOSED: {
        "server": str,
        "proposal": int,
        "release_digest": str,
        "fingerprints": list[str],
        "reason": str,
    },
    Event.KNOWN_ACCEPTED: {
        "server": str,
        "proposal": int,
        "release_digest": str,
        "fingerprints": list[str],
        "note": str,
    },
    Event.KNOWN_DECLINED: {"server": str, "proposal": int, "note": str},
    Event.KNOWN_BOUND: {"server": str, "fingerprints": list[str]},
    Event.KNOWN_SHRUNK: {"server": str, "gone": list[str], "left": int},
    Event.RELEASE_SUBMITTED: {
        **_RELEASE,
        **_ASSESSED,
        "snapshot_digest": str,
        "request": int,
        "origin": str,
        "opened_at": str,
    },
    Event.SNAPSHOT_REPLACED: {
        **_RELEASE,
        **_ASSESSED,
        "snapshot_digest": str,
        "request": int,
        "voided": int,
    },
    Event.SIGNED_OFF: {
        "server": str,
        "request": int,
        "desk": str,
        "answer": str,
        "release_digest": str,
        "assessment_digest": str,
        "rule_set": int,
        "note": str,
        "deputy_for": str,
        "conditions": list[_OBJECT],
        "despite": list[_OBJECT],
    },
    Event.REASSESSED: {
        **_ASSESSED,
        "server": str,
        "request": int,
        "snapshot_digest": str,
        "because": list[str],
        "differs": list[str],
        "voided": int,
    },
    Event.REQUEST_TAKEN_BACK: {**_RELEASE, "request": int},
    Event.RELEASE_PUBLISHED: {**_RELEASE, "request": int, "snapshot_digest": str, "assessment_digest": str},
    Event.RELEASE_DECLINED: {**_RELEASE, "request": int},
    Event.RELEASE_DEPRECATED: {
        **_RELEASE,
        "request": int,
        "reason": str,
        "sunset_at": str | None,
        "replacement": str,
    },
    Event.ITEM_DEPRECATED: {
        "server": str,
        "item": str,
        "request": int,
        "reason": str,
        "sunset_at": str | None,
        "replacement": str,
    },
    Event.ITEM_KEPT: {"server": str, "item": str, "request": int, "reason": str},
    Event.RELEASE_WITHDRAWN: {**_RELEASE, "request": int, "reason": str},
    Event.ITEM_PURGED: {
        "server": str,
        "item": str,
        "digest": str,
        "releases": list[str],
        "snapshots": list[_OBJECT],
        "reason": str,
    },
    Event.SUSPENDED: {"server": str, "item": str, "reason": str},
    Event.SUSPENSION_LIFTED: {"server": str, "item": str, "request": int},
    Event.DATA_CLASS_CHANGED: {"server": str, "before": _OBJECT, "after": _OBJECT, "request": int},
    Event.VERSION_SCHEME_CHANGED: {"server": str, "before": _OBJECT, "after": _OBJECT, "request": int},
    Event.REQUEST_OPENED: {
        **_ASKED,
        **_ASSESSED,
        "kind": str,
        "item": str,
        "terms": _OBJECT,
        "opened_at": str,
    },
    Event.REQUEST_CHANGED: {
        **_ASKED,
        **_ASSESSED,
        "kind": str,
        "item": str,
        "terms": _OBJECT,
        "voided": int,
    },
    Event.REQUEST_DECLINED: {**_ASKED, "kind": str},
    Event.REQUEST_TAKEN: {"server": str, "request": int},
    Event.REQUEST_HANDED_ON: {"server": str, "request": int},
    Event.COMMENTED: {
        "server": str,
        "request": int,
        "comment": int,
        "kind": str,
        "item": str,
        "pointer": str | None,
        "text": str,
        "answers": int | None,
    },
    Event.FOLLOW_UP_CLOSED: {"server": str, "request": int, "follow_up": int, "note": str},
    Event.DEPUTY_NAMED: {"number": int, "username": str, "deputy": str, "since": str, "until": str},
    Event.DEPUTY_ENDED: {"number": int, "username": str, "deputy": str},
    Event.DESK_REMINDED: {"server": str, "request": int, "desk": str, "due_at": str},
    Event.REQUEST_RISEN: {"server": str, "request": int, "desk": str, "due_at": str, "lead": str},
    Event.KIT_PUT: {
        **_LOCK,
        "kit": str,
        "team": str,
        "data_class": str,
        "kit_digest": str,
        "picks": list[_OBJECT],
    },
    Event.KIT_RAISE_PROPOSED: {"kit": str, "team": str, "data_class": str, "kit_digest": str, "reason": str},
    Event.KIT_RAISE_DECLINED: {"kit": str, "note": str},
    Event.KIT_MOVED: {**_LOCK, "kit": str, "before": str, "because": str},
    Event.KIT_DROPPED: {"kit": str, "reason": str},
    Event.KIT_PUT_ASKED: {"kit": str, "team": str, "data_class": str, "kit_digest": str, "reason": str},
    Event.USE_ALLOWED: {
        "server": str,
        "kit": str,
        "team": str,
        "range": str,
        "items": list[str],
        "request": int,
    },
    Event.USE_CHANGED: {"server": str, "use": str, "reason": str},
    Event.NOTE_LEFT: {"server": str, "version": str, "user_note": int},
    Event.NOTE_ANSWERED: {"server": str, "version": str, "user_note": int},
    Event.NOTE_REMOVED: {"server": str, "version": str, "user_note": int},
    Event.WEBHOOK_MADE: {"webhook": int, "team": str, "address": str, "about": str, "types": list[str]},
    Event.WEBHOOK_ROTATED: {"webhook": int, "team": str, "round": int},
    Event.WEBHOOK_ENDED: {"webhook": int, "team": str, "reason": str},
    Event.WAIVER_DUE: {"server": str, "waiver": int, "rule": str, "item": str, "due_at": str},
    Event.FOLLOW_UP_DUE: {"server": str, "request": int, "follow_up": int, "due_at": str},
    Event.LAST_DAY_NEARS: {"server": str, "version": str, "item": str, "due_at": str, "days": int},
    Event.DRIFT_SEEN: {
        "server": str,
        "version": str,
        "environment": str,
        "snapshot_digest": str,
        "items": list[str],
    },
    Event.DRIFT_OVER: {"server": str, "version": str, "environment": str},
    Event.CHAIN_KEYED: {"entries": int, "checkpoint": str},
    Event.RESTORED: {"replaced": int, "replaced_hash": str, "backup": int, "backup_hash": str, "lost": int},
    Event.TABLES_TAKEN: {
        "people": list[_OBJECT],
        "invitations": list[_OBJECT],
        "tokens": list[_OBJECT],
        "desks": list[_OBJECT],
        "deputies": list[_OBJECT],
        "rules": list[_OBJECT],
        "requests": list[_OBJECT],
    },
}


def misfit(event: Event, payload: dict[str, Any]) -> str:
    """Return in words how a payload is not of its event's type, or nothing."""
    wanted = PAYLOADS[event]
    if payload.keys() != wanted.keys():
        return f"the payload of {event} must have exactly {sorted(wanted)}"
    wrong = [name for name, kind in wanted.items() if not _fits(payload[name], kind)]
    return f"in the payload of {event}, {wrong[0]} must be {wanted[wrong[0]]}" if wrong else ""


def _fits(value: Any, kind: Any) -> bool:
    if get_origin(kind) is list:
        return isinstance(value, list) and all(_fits(one, get_args(kind)[0]) for one in value)
    if get_origin(kind) is dict:
        return isinstance(value, dict)
    return isinstance(value, kind) and (kind is bool or not isinstance(value, bool))
