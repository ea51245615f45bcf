"""What is told to the outside of the ledger's entries: as CloudEvents 1.0 (JSON), and in words.

Of an entry goes out only what names things, and people's own words: no digests, no declared text, no accounts.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.ledger.events import Event

CONTENT_TYPE = "application/cloudevents+json"
BATCH_TYPE = "application/cloudevents-batch+json"


class Told(Struct, frozen=True):
    """One kind of event as it is told: its type, its words, and whether it tells of what is not published yet."""

    type: str
    words: str
    unpublished: bool = False


TOLD: dict[Event, Told] = {
    Event.RELEASE_SUBMITTED: Told("request.asked", "{release} was handed in, to be published", True),
    Event.SNAPSHOT_REPLACED: Told("request.asked", "{release} was handed in anew", True),
    Event.REQUEST_OPENED: Told("request.asked", "request {request} asks to {kind} {release}", True),
    Event.SIGNED_OFF: Told("request.answered", "request {request} was answered at {desk}: {answer}", True),
    Event.REQUEST_DECLINED: Told("request.declined", "request {request} was declined", True),
    Event.RELEASE_DECLINED: Told("request.declined", "{release} was declined", True),
    Event.REQUEST_TAKEN_BACK: Told("request.taken-back", "{release} was taken back", True),
    Event.COMMENTED: Told("request.commented", "there is a new {kind} on request {request}", True),
    Event.DESK_REMINDED: Told("request.overdue", "request {request} is overdue at {desk}", True),
    Event.REQUEST_RISEN: Told(
        "request.escalated", "request {request} was escalated to who leads {desk}", True
    ),
    Event.FOLLOW_UP_DUE: Told("follow-up.due", "a follow-up of request {request} is due by {day}", True),
    Event.WAIVER_DUE: Told("waiver.due", "the waiver of {rule} for {what} ends on {day}", True),
    Event.RELEASE_ADOPTED: Told("release.published", "{release} was taken in without review"),
    Event.RELEASE_PUBLISHED: Told("release.published", "{release} was published"),
    Event.RELEASE_DEPRECATED: Told("release.deprecated", "{release} is deprecated: {reason}"),
    Event.ITEM_DEPRECATED: Told("item.deprecated", "{what} is deprecated: {reason}"),
    Event.ITEM_KEPT: Told("item.kept", "{what} stays: {reason}"),
    Event.RELEASE_WITHDRAWN: Told("release.withdrawn", "{release} was withdrawn: {reason}"),
    Event.SUSPENDED: Told("server.suspended", "{what} is suspended: {reason}"),
    Event.SUSPENSION_LIFTED: Told("server.lifted", "the suspension of {what} was lifted"),
    Event.ITEM_PURGED: Told("item.purged", "the bytes of {what} were purged: {reason}"),
    Event.LAST_DAY_NEARS: Told("release.last-day", "the last day of {ending} is {day}"),
    Event.DRIFT_SEEN: Told("server.drifted", "{release} runs otherwise than approved in {environment}"),
    Event.DRIFT_OVER: Told("server.as-approved", "{release} runs as approved again in {environment}"),
    Event.NOTE_LEFT: Told("release.note", "there is a note on {release}"),
    Event.NOTE_ANSWERED: Told("release.note-answered", "a note on {release} was answered"),
    Event.SERVER_ENROLLED: Told("server.enrolled", "{server} was put on the shelf by {team}"),
    Event.DATA_CLASS_CHANGED: Told("server.data-class", "{server} sees other data now"),
    Event.KIT_PUT: Told("kit.put", "the kit {kit} was put"),
    Event.KIT_MOVED: Told("kit.moved", "the kit {kit} was {because}"),
    Event.KIT_DROPPED: Told("kit.dropped", "the kit {kit} was dropped: {reason}"),
}
"""Every event that is told; the others are the ledger's own."""

TYPES = tuple(sorted({told.type for told in TOLD.values()}))
_DATA = (
    "server",
    "version",
    "item",
    "kit",
    "team",
    "request",
    "kind",
    "desk",
    "answer",
    "reason",
    "because",
    "sunset_at",
    "replacement",
    "rule",
    "environment",
    "due_at",
)


def subject_of(body: Mapping[str, Any]) -> str:
    """Return what an entry is about, as a reference: ``server@version#item``, or ``kit:NAME``."""
    if body.get("kit"):
        return f"kit:{body['kit']}"
    version, item = body.get("version", ""), body.get("item", "")
    return str(body.get("server", "")) + (f"@{version}" if version else "") + (f"#{item}" if item else "")


def words_of(event: str, body: Mapping[str, Any]) -> str:
    """Return an entry that is told in a sentence without its full stop; KeyError for one that is not told."""
    values = {name: str(body.get(name) or "") for name in (*_DATA, "username")}
    server, version = values["server"], values["version"]
    values["release"] = f"{server} {version}" if version else server
    values["day"] = values["due_at"][:10]
    values["ending"] = f"{values['item']} of {server}" if values["item"] else values["release"]
    values["what"] = f"{values['item']} of {server}" if values["item"] else server
    words = TOLD[Event(event)].words.format(**values)
    return words.removesuffix(": ").strip()


def cloud_event(entry: Mapping[str, Any], source: str) -> dict[str, Any]:
    """Return an entry (``number``, ``at``, ``event``, ``hash``, ``body``) as a CloudEvents 1.0 object.

    ``id`` is the entry's number, which orders the events of a ``source`` (the service's address); numbers that are
    missing were not told, or not to you.
    """
    body = entry["body"]
    return {
        "specversion": "1.0",
        "id": str(entry["number"]),
        "source": source,
        "type": f"tallshelf.{TOLD[Event(entry['event'])].type}",
        "subject": subject_of(body),
        "time": entry["at"],
        "datacontenttype": "application/json",
        "data": {
            "words": words_of(entry["event"], body),
            **{name: body[name] for name in _DATA if body.get(name)},
        },
    }
