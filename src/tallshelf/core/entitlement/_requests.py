"""Rules of the judge on requests: handing in, signing, and carrying out what was agreed to."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement._common import Refusal, may
from tallshelf.core.entitlement._decisions import by_team, owner_team
from tallshelf.core.entitlement.assessed import assessed_from
from tallshelf.core.entitlement.inputs import moved
from tallshelf.core.entitlement.progress import asked_now, objecting_until, stands, why_not_here
from tallshelf.core.entitlement.records import CLOCK, Entry, Request
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.gates import SAFETY
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import KINDS, Kind
from tallshelf.core.snapshot import is_of_scheme

Body = Mapping[str, Any]
Rule = Callable[[State, Entry, Body], Refusal | None]
SAFETY_GATE = SAFETY
"""The one gate that no reason gets past: safety findings take a waiver by a second person."""


def _request(state: State, body: Body, *states: str) -> Request | Refusal:
    request = state.requests.get(body["request"])
    if request is None or request.server != body["server"]:
        return Refusal(f"the ledger tells of no request {body['request']} of {body['server']}", "conflict")
    if request.state not in states:
        return Refusal(f"request {request.number} is {request.state}, not {' or '.join(states)}", "conflict")
    return request


def _submitted(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["request"] in state.requests:
        return Refusal(f"the ledger knows request {body['request']} already", "conflict")
    release = state.releases.get((body["server"], body["version"]))
    if release is not None and release.state not in ("draft", "in-review"):
        return Refusal(f"{body['server']}@{body['version']} is {release.state}", "conflict")
    scheme = state.servers[body["server"]].scheme
    if scheme != "semver" and not is_of_scheme(body["version"], scheme):
        return Refusal(f"{body['version']} is no {scheme} version", "conflict")
    return may(state, act, "submit", owner_team(state, body))


def _replaced(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "open", "sent-back", "agreed")
    if isinstance(request, Refusal):
        return request
    if (request.kind, request.version) != ("publish", body["version"]):
        return Refusal(f"request {request.number} is about something else", "conflict")
    return may(state, act, "submit", owner_team(state, body))


def _opened(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["request"] in state.requests:
        return Refusal(f"the ledger knows request {body['request']} already", "conflict")
    return _may_ask(state, act, body)


def _changed(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "open", "sent-back", "agreed")
    if isinstance(request, Refusal):
        return request
    return _may_ask(state, act, body)


def _may_ask(state: State, act: Entry, body: Body) -> Refusal | None:
    """Return why somebody may not ask: the owner team asks about its server, and a kit's team for what it uses."""
    if body["kind"] == "use":
        return may(state, act, "keep-kit", body["terms"]["team"])
    return may(state, act, "ask", owner_team(state, body))


def _signed_off(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "open")
    if isinstance(request, Refusal):
        return request
    refusal = may(state, act, "sign-off")
    if refusal is not None:
        return refusal
    named = (body["release_digest"], body["assessment_digest"], body["rule_set"])
    if named != (request.release, request.assessed.digest, request.assessed.rule_set):
        return Refusal(f"request {request.number} is about other bytes, or was assessed again since", "moved")
    if any(sign_off.who == act.actor for sign_off in request.counting):
        return Refusal(f"{act.actor} has answered request {request.number} already", "conflict")
    steps = stands(state, request, moment(act.at))
    desk = next((asked_desk for asked_desk in asked_now(steps) if asked_desk.seat.desk == body["desk"]), None)
    if desk is None:
        return Refusal(f"the desk {body['desk']!r} is not asked now")
    if desk.places.get(act.actor) != body["deputy_for"]:
        return Refusal(why_not_here(desk, act.actor))
    return _agrees(state, act, request, body) if body["answer"] == "agree" else None


def _agrees(state: State, act: Entry, request: Request, body: Body) -> Refusal | None:
    if request.questions:
        return Refusal("a question or an objection is open", "conflict")
    different = moved(state, request, moment(act.at))
    if different:
        return Refusal(f"{', '.join(different)} moved since request {request.number} was assessed", "moved")
    return refuses_despite(request, {one["gate"]: one["reason"] for one in body["despite"]})


def refuses_despite(request: Request, despite: Mapping[str, str]) -> Refusal | None:
    """Return why an agreement that names some gates, each with a reason, does not get past those that fail."""
    if SAFETY_GATE in request.assessed.gates:
        return Refusal("safety findings cannot be agreed to: they are mended, or waived by a second person")
    unnamed = sorted(request.assessed.gates.keys() - despite.keys())
    if unnamed:
        return Refusal(
            f"the check fails ({', '.join(unnamed)}), and the agreement does not say why despite it",
            "conflict",
        )
    needless = sorted(despite.keys() - request.assessed.gates.keys())
    if needless:
        return Refusal(f"no gate {', '.join(needless)} fails here", "conflict")
    return (
        None
        if all(reason.strip() for reason in despite.values())
        else Refusal("say why, for each gate", "conflict")
    )


def _reassessed(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "open", "agreed")
    if isinstance(request, Refusal):
        return request
    after = assessed_from(body)
    if not body["differs"] and (not after.substance or after.substance != request.assessed.substance):
        return Refusal("what was found is not the same, so that no sign-off stands", "conflict")
    if act.actor == CLOCK and act.by_clock:
        return None
    return None if act.by_machine else may(state, act, "see")


def _taken_back(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "open", "sent-back", "agreed")
    if isinstance(request, Refusal):
        return request
    if request.kind == "use":
        return may(state, act, "keep-kit", str(request.terms["team"]))
    return may(state, act, "take-back", owner_team(state, body))


def _declined(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "declined")
    if isinstance(request, Refusal):
        return request
    last = request.counting[-1] if request.counting else None
    if last is None or (last.who, last.answer) != (act.actor, "decline"):
        return Refusal(f"nobody declined request {request.number}", "conflict")
    return None


def agreed_refusal(state: State, act: Entry, request: Request) -> Refusal | None:
    """Return why a request may not be carried out: what it rests on moved, or its desks did not agree.

    Answers count by people who have no part in it at this moment.
    """
    now = moment(act.at)
    different = moved(state, request, now)
    if different:
        return Refusal(f"{', '.join(different)} moved since request {request.number} was agreed to", "moved")
    if request.route is None:
        return Refusal(f"the ledger does not tell whom request {request.number} asks", "moved")
    if not request.route.steps:
        return None if request.route.approved_by else Refusal("no rule approves this by itself")
    if SAFETY_GATE in request.assessed.gates:
        return Refusal("safety findings are mended, or waived by a second person")
    for desk in (desk for step in stands(state, request, now) for desk in step):
        if not desk.done:
            why = "; ".join(desk.parts.values())
            return Refusal(
                f"the desk {desk.seat.desk} has not agreed to request {request.number}"
                + (f": {why}" if why else ""),
                "moved" if desk.parts else "denied",
            )
    if request.questions:
        return Refusal("a question or an objection is open", "conflict")
    until = objecting_until(request)
    if until is not None and now < until:
        teams = ", ".join(told.team for told in request.route.tells)
        return Refusal(f"{teams} may object until {until:%Y-%m-%d %H:%M} UTC", "conflict")
    return None


def _published(state: State, act: Entry, body: Body) -> Refusal | None:
    request = _request(state, body, "agreed")
    if isinstance(request, Refusal):
        return request
    refusal = may(state, act, "publish", owner_team(state, body))
    if refusal is not None:
        return refusal
    release = state.releases.get((request.server, request.version))
    named = (body["version"], body["release_digest"], body["snapshot_digest"], body["assessment_digest"])
    told = (request.version, request.release, request.snapshot, request.assessed.digest)
    if request.kind != "publish" or named != told:
        return Refusal("these are not the bytes and the assessment that were agreed to", "moved")
    if release is None or (release.state, release.digest) != ("in-review", request.release):
        return Refusal(f"{body['server']}@{body['version']} is not under review with these bytes", "conflict")
    return agreed_refusal(state, act, request)


def _carried_out(kind: Kind) -> Rule:
    """Return the rule of an act that a request asked for, on the terms that its kind names."""

    def rule(state: State, act: Entry, body: Body) -> Refusal | None:
        request = _request(state, body, "agreed")
        if isinstance(request, Refusal):
            return request
        done = {**body.get("after", {}), **body}
        told = [request.kind, request.version or "", *(request.terms.get(name) for name in kind.names)]
        named = [kind.name, body.get("version", ""), *(done.get(name) for name in kind.names)]
        if told != named or request.item != body.get("item", ""):
            return Refusal(f"request {request.number} asks for something else", "conflict")
        return agreed_refusal(state, act, request)

    return rule


def _by_clock(state: State, act: Entry, body: Body) -> Refusal | None:
    return None if act.by_clock else Refusal("only the clock reminds")


def _comments(state: State, act: Entry, body: Body) -> Refusal | None:
    refusal = may(state, act, "comment")
    if refusal is None and body.get("kind") == "objection":
        return _objects(state, act, body)
    return refusal


def _objects(state: State, act: Entry, body: Body) -> Refusal | None:
    """Return why somebody may not object: only the teams that are told may, while the request is undecided."""
    request = _request(state, body, "open", "sent-back", "agreed")
    if isinstance(request, Refusal):
        return request
    teams = {told.team for told in request.route.tells} if request.route is not None else set()
    if teams.isdisjoint(state.people[act.actor].teams):
        return Refusal(f"request {request.number} is told to other teams, and theirs it is to object")
    return None


RULES: dict[Event, Rule] = {
    Event.RELEASE_SUBMITTED: _submitted,
    Event.SNAPSHOT_REPLACED: _replaced,
    Event.REQUEST_OPENED: _opened,
    Event.REQUEST_CHANGED: _changed,
    Event.SIGNED_OFF: _signed_off,
    Event.REASSESSED: _reassessed,
    Event.REQUEST_TAKEN_BACK: _taken_back,
    Event.RELEASE_DECLINED: _declined,
    Event.REQUEST_DECLINED: _declined,
    Event.RELEASE_PUBLISHED: _published,
    **{Event(kind.event): _carried_out(kind) for kind in KINDS.values() if kind.name != "publish"},
    Event.REQUEST_TAKEN: _comments,
    Event.REQUEST_HANDED_ON: _comments,
    Event.COMMENTED: _comments,
    Event.FOLLOW_UP_CLOSED: _comments,
    Event.DESK_REMINDED: _by_clock,
    Event.REQUEST_RISEN: _by_clock,
}

__all__ = ["RULES", "SAFETY_GATE", "agreed_refusal", "by_team", "refuses_despite"]
