"""Every event of the ledger, with the members that its payload must have."""

from __future__ import annotations

from enum import StrEnum


class Event(StrEnum):
    TEAM_ADDED = "team-added"
    PERSON_ADDED = "person-added"
    PERSON_INVITED = "person-invited"
    PERSON_CHANGED = "person-changed"
    ISSUER_KNOWN = "issuer-known"
    DESK_ADDED = "desk-added"
    DESK_JOINED = "desk-joined"
    DESK_LEFT = "desk-left"
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
    KNOWN_ACCEPTED = "known-accepted"
    KNOWN_SHRUNK = "known-shrunk"
    RELEASE_SUBMITTED = "release-submitted"
    SNAPSHOT_REPLACED = "snapshot-replaced"
    SIGNED_OFF = "signed-off"
    REASSESSED = "reassessed"
    REQUEST_TAKEN_BACK = "request-taken-back"
    RELEASE_PUBLISHED = "release-published"
    RELEASE_DECLINED = "release-declined"
    RELEASE_DEPRECATED = "release-deprecated"
    RELEASE_WITHDRAWN = "release-withdrawn"
    ITEM_PURGED = "item-purged"
    SUSPENDED = "suspended"
    SUSPENSION_LIFTED = "suspension-lifted"
    DATA_CLASS_CHANGED = "data-class-changed"
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


_RELEASE = {"server", "version", "release_digest"}
_ASKED = {"server", "version", "release_digest", "request"}
_RULING = {"ruling", "word", "members", "preferred", "owner", "due"}
_WAIVER = {"server", "waiver", "rule", "item", "pointer"}

PAYLOADS: dict[Event, frozenset[str]] = {
    event: frozenset(members)
    for event, members in {
        Event.TEAM_ADDED: {"team", "title"},
        Event.PERSON_ADDED: {"username", "role", "teams"},
        Event.PERSON_INVITED: {"username"},
        Event.PERSON_CHANGED: {"username", "name", "role", "teams", "active"},
        Event.ISSUER_KNOWN: {"username", "subject"},
        Event.DESK_ADDED: {"desk", "title"},
        Event.DESK_JOINED: {"desk", "username"},
        Event.DESK_LEFT: {"desk", "username"},
        Event.TOKEN_MADE: {"username", "name", "scopes"},
        Event.TOKEN_ENDED: {"username", "name"},
        Event.SERVER_ENROLLED: {"server", "team", "data_class"},
        Event.SERVER_EDITED: {"server", "before", "after"},
        Event.RELEASE_ADOPTED: {*_RELEASE, "snapshot_digest", "fingerprints"},
        Event.PASSWORD_CHANGED: {"username"},
        Event.SESSION_ENDED: {"username"},
        Event.RULES_CHANGED: {"version", "digest"},
        Event.RULES_PROPOSED: {"version", "digest", "replaces", "note", "loosened"},
        Event.RULES_DECLINED: {"version", "note"},
        Event.STYLE_PROPOSED: {"version", "digest", "replaces", "note", "loosened", "text_digest"},
        Event.STYLE_DECLINED: {"version", "note"},
        Event.STYLE_IN_FORCE: {"version", "digest"},
        Event.WAIVER_ASKED: {*_WAIVER, "reason", "until"},
        Event.WAIVER_GRANTED: {*_WAIVER, "until", "note"},
        Event.WAIVER_REFUSED: {*_WAIVER, "note"},
        Event.WAIVER_ENDED: {*_WAIVER, "note"},
        Event.RULING_PROPOSED: {*_RULING, "pairs", "reason"},
        Event.RULING_IN_FORCE: {*_RULING, "note"},
        Event.RULING_DECLINED: {*_RULING, "note"},
        Event.RULING_ENDED: {*_RULING, "note"},
        Event.KNOWN_ACCEPTED: {"server", "release_digest", "fingerprints", "reason"},
        Event.KNOWN_SHRUNK: {"server", "gone", "left"},
        Event.RELEASE_SUBMITTED: {*_RELEASE, "snapshot_digest", "assessment_digest", "request", "origin"},
        Event.SNAPSHOT_REPLACED: {*_RELEASE, "snapshot_digest", "assessment_digest", "request", "voided"},
        Event.SIGNED_OFF: {
            "server",
            "request",
            "desk",
            "answer",
            "release_digest",
            "assessment_digest",
            "rule_set",
            "note",
            "deputy_for",
            "conditions",
        },
        Event.REASSESSED: {"server", "request", "assessment_digest", "because", "voided"},
        Event.REQUEST_TAKEN_BACK: {*_RELEASE, "request"},
        Event.RELEASE_PUBLISHED: {*_RELEASE, "request", "snapshot_digest", "assessment_digest"},
        Event.RELEASE_DECLINED: {*_RELEASE, "request"},
        Event.RELEASE_DEPRECATED: {*_RELEASE, "request", "reason", "sunset_at", "replacement"},
        Event.RELEASE_WITHDRAWN: {*_RELEASE, "request", "reason"},
        Event.ITEM_PURGED: {"server", "item", "digest", "releases", "reason"},
        Event.SUSPENDED: {"server", "item", "reason"},
        Event.SUSPENSION_LIFTED: {"server", "item", "request"},
        Event.DATA_CLASS_CHANGED: {"server", "before", "after", "request"},
        Event.REQUEST_OPENED: {*_ASKED, "kind", "terms", "assessment_digest"},
        Event.REQUEST_CHANGED: {*_ASKED, "kind", "terms", "assessment_digest", "voided"},
        Event.REQUEST_DECLINED: {*_ASKED, "kind"},
        Event.REQUEST_TAKEN: {"server", "request"},
        Event.REQUEST_HANDED_ON: {"server", "request"},
        Event.COMMENTED: {"server", "request", "comment", "kind", "item", "pointer", "text", "answers"},
        Event.FOLLOW_UP_CLOSED: {"server", "request", "follow_up", "note"},
        Event.DEPUTY_NAMED: {"username", "deputy", "since", "until"},
        Event.DEPUTY_ENDED: {"username", "deputy"},
        Event.DESK_REMINDED: {"server", "request", "desk", "due_at"},
        Event.REQUEST_RISEN: {"server", "request", "desk", "due_at", "lead"},
    }.items()
}
