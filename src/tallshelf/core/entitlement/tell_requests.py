"""Taking in what entries say of requests: handed in, assessed, answered, and carried out."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from tallshelf.core.entitlement.assessed import assessed_from
from tallshelf.core.entitlement.part import behind
from tallshelf.core.entitlement.records import Assessed, Entry, HandedIn, Release, Request, SignOff, Use
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import Route, facts_from

Body = Mapping[str, Any]


def _release_submitted(state: State, entry: Entry, body: Body) -> None:
    key = (body["server"], body["version"])
    digests = body["release_digest"], body["snapshot_digest"]
    state.put(state.releases, key, Release(*key, "in-review", *digests, request=body["request"]))
    _asked(state, entry, body, "publish", {}, snapshot=body["snapshot_digest"])


def _request_opened(state: State, entry: Entry, body: Body) -> None:
    _asked(state, entry, body, body["kind"], body["terms"], item=body.get("item", ""))


def _asked(
    state: State,
    entry: Entry,
    body: Body,
    kind: str,
    terms: Mapping[str, Any],
    *,
    item: str = "",
    snapshot: str = "",
) -> None:
    """Open a request, or, where it is open already, let it begin anew with what is handed in."""
    number = body["request"]
    hand_in(state, entry, body, kind, number, item)
    assessed = assessed_from(body)
    _told_enough(state, assessed)
    handed = {
        "state": "open",
        "terms": terms,
        "release": body["release_digest"],
        "snapshot": snapshot,
        "assessed": assessed,
        "route": _route(state, assessed),
        "asked_at": moment(entry.at),
    }
    before = state.requests.get(number)
    if before is not None:
        after = replace(_voided(before), **handed)
    else:
        after = Request(
            number=number,
            kind=kind,
            server=body["server"],
            version=body["version"],
            item=item,
            opened=entry.number,
            opened_at=moment(body.get("opened_at", entry.at)),
            **handed,
        )
    state.put(state.requests, number, after)
    _settle(state, number)


def _reassessed(state: State, entry: Entry, body: Body) -> None:
    request = state.requests[body["request"]]
    assessed = assessed_from(body)
    _told_enough(state, assessed)
    stands = "differs" in body and not body["differs"]
    after = request if stands else replace(_voided(request), state="open", asked_at=moment(entry.at))
    after = replace(after, assessed=assessed, route=_route(state, assessed))
    state.put(state.requests, request.number, after)
    if not stands:
        _settle(state, request.number)


def _signed_off(state: State, entry: Entry, body: Body) -> None:
    request = state.requests[body["request"]]
    made = SignOff(
        entry=entry.number,
        at=moment(entry.at),
        who=entry.actor,
        holder=body["deputy_for"] if body.get("deputy_for") else "",
        desk=body["desk"],
        answer=body["answer"],
        release=body["release_digest"],
        assessment=body["assessment_digest"],
        rule_set=body["rule_set"],
        despite=tuple(sorted((one["gate"], one["reason"]) for one in body.get("despite", ()))),
    )
    if body.get("conditions"):
        state.put(state.conditions, entry.number, tuple(body["conditions"]))
    after = replace(request, sign_offs=(*request.sign_offs, made))
    if body["answer"] == "decline":
        after = replace(after, state="declined")
    elif body["answer"] == "send-back":
        after = replace(after, state="sent-back")
    state.put(state.requests, request.number, after)
    if body["answer"] == "agree":
        _settle(state, request.number)


def _settle(state: State, number: int) -> None:
    """Move an open request on when its route asks nobody any more."""
    request = state.requests[number]
    if request.state == "open" and request.route is not None and agreed_at(request) is None:
        state.put(state.requests, number, replace(request, state="agreed"))


def agreed_at(request: Request) -> int | None:
    """Return the number of the first step at which a request still waits, or None when all agreed."""
    if request.route is None:
        return 1
    agreed = [sign_off.desk for sign_off in request.counting if sign_off.answer == "agree"]
    for step in request.route.steps:
        if any(agreed.count(seat.desk) < seat.sign_offs for seat in step.seats):
            return step.number
    return None


def _voided(request: Request) -> Request:
    return replace(request, sign_offs=tuple(replace(sign_off, voided=True) for sign_off in request.sign_offs))


def _taken_back(state: State, entry: Entry, body: Body) -> None:
    request = state.requests[body["request"]]
    state.put(state.requests, request.number, replace(_voided(request), state="taken-back"))
    release = state.releases.get((request.server, request.version))
    if request.kind == "publish" and release is not None and release.state == "in-review":
        state.put(state.releases, (request.server, request.version), replace(release, state="draft"))


def _released(new: str) -> Callable[[State, Entry, Body], None]:
    """Return what an event does that gives a release another state."""

    def told(state: State, entry: Entry, body: Body) -> None:
        key = (body["server"], body["version"])
        release = state.releases[key]
        number = body.get("request", 0)
        published = entry.number if new == "published" else release.published
        state.put(state.releases, key, replace(release, state=new, published=published))
        if new == "declined" and number in state.requests:
            _request_declined(state, entry, body)
        else:
            _request_done(state, entry, body)

    return told


def _request_done(state: State, entry: Entry, body: Body) -> None:
    number = body.get("request", 0)
    if number in state.requests:
        done = replace(state.requests[number], state="done", done=entry.number)
        state.put(state.requests, number, done)


def _request_declined(state: State, entry: Entry, body: Body) -> None:
    number = body["request"]
    state.put(state.requests, number, replace(state.requests[number], state="declined"))


def _data_class_changed(state: State, entry: Entry, body: Body) -> None:
    server = state.servers[body["server"]]
    state.put(state.servers, server.slug, replace(server, data_class=body["after"]["data_class"]))
    _request_done(state, entry, body)


def _version_scheme_changed(state: State, entry: Entry, body: Body) -> None:
    server = state.servers[body["server"]]
    state.put(state.servers, server.slug, replace(server, scheme=body["after"]["scheme"]))
    _request_done(state, entry, body)


def _use_allowed(state: State, entry: Entry, body: Body) -> None:
    made = Use(body["kit"], body["team"], body["server"], body["range"], tuple(body["items"]))
    state.put(state.uses, (made.kit, made.server), made)
    _request_done(state, entry, body)


def _item_deprecated(state: State, entry: Entry, body: Body) -> None:
    told = {name: body[name] for name in ("reason", "sunset_at", "replacement")}
    state.put(state.ending, (body["server"], body["item"]), told)
    _request_done(state, entry, body)


def _item_kept(state: State, entry: Entry, body: Body) -> None:
    state.drop(state.ending, (body["server"], body["item"]))
    _request_done(state, entry, body)


def _lifted(state: State, entry: Entry, body: Body) -> None:
    state.drop(state.suspended, (body["server"], body["item"]))
    _request_done(state, entry, body)


def _commented(state: State, entry: Entry, body: Body) -> None:
    state.put(state.comments, body["comment"], {**body, "by": entry.actor})
    request = state.requests.get(body["request"])
    if request is None:
        return
    if body["kind"] in ("question", "objection"):
        state.put(
            state.requests, request.number, replace(request, questions=request.questions | {body["comment"]})
        )
    elif body["kind"] == "answer" and body["answers"] in request.questions:
        left = request.questions - {body["answers"]}
        state.put(state.requests, request.number, replace(request, questions=left))


def _follow_up_closed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.closed, body["follow_up"], body["note"])


def hand_in(state: State, entry: Entry, body: Body, kind: str, request: int, subject: str = "") -> None:
    server = state.servers.get(body["server"])
    if server is None:
        return
    made = HandedIn(
        entry.number,
        behind(state, entry),
        request,
        kind,
        body["version"],
        body.get("snapshot_digest", ""),
        subject,
    )
    versions = server.versions
    if kind == "publish" and body["version"] not in versions:
        versions = (*versions, body["version"])
    state.put(
        state.servers, server.slug, replace(server, handed_in=(*server.handed_in, made), versions=versions)
    )


def _told_enough(state: State, assessed: Assessed) -> None:
    state.put(state.assessments, assessed.digest, assessed)
    if not assessed.told:
        state.lacks("by which facts a request was routed")


def _route(state: State, assessed: Assessed) -> Route | None:
    """Return what the rules make of the facts that an entry tells; None where it tells none."""
    rules = state.rule_sets.get(assessed.rule_set)
    if rules is None or not assessed.told:
        return None
    return rules.route(facts_from(assessed.facts), gates=assessed.gates)


TELLS: dict[Event, Callable[[State, Entry, Body], None]] = {
    Event.RELEASE_SUBMITTED: _release_submitted,
    Event.SNAPSHOT_REPLACED: _release_submitted,
    Event.REQUEST_OPENED: _request_opened,
    Event.REQUEST_CHANGED: _request_opened,
    Event.REASSESSED: _reassessed,
    Event.SIGNED_OFF: _signed_off,
    Event.REQUEST_TAKEN_BACK: _taken_back,
    Event.RELEASE_PUBLISHED: _released("published"),
    Event.RELEASE_DECLINED: _released("declined"),
    Event.RELEASE_DEPRECATED: _released("deprecated"),
    Event.RELEASE_WITHDRAWN: _released("withdrawn"),
    Event.REQUEST_DECLINED: _request_declined,
    Event.DATA_CLASS_CHANGED: _data_class_changed,
    Event.VERSION_SCHEME_CHANGED: _version_scheme_changed,
    Event.SUSPENSION_LIFTED: _lifted,
    Event.ITEM_DEPRECATED: _item_deprecated,
    Event.ITEM_KEPT: _item_kept,
    Event.USE_ALLOWED: _use_allowed,
    Event.COMMENTED: _commented,
    Event.FOLLOW_UP_CLOSED: _follow_up_closed,
}
