"""Rules of the judge on the catalog and on what is decided for it: styles, rules, waivers, rulings, known findings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.changes import SAME_MEANING
from tallshelf.core.entitlement._common import Refusal, denied, may, may_on_machine
from tallshelf.core.entitlement.part import live_requests, why_part, why_part_in_server
from tallshelf.core.entitlement.progress import why_not_at
from tallshelf.core.entitlement.records import Entry, Proposal, Waiver
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.entitlement.tell_catalog import servers_of
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DATA_CLASSES, loosened, rule_set_from

Body = Mapping[str, Any]
Rule = Callable[[State, Entry, Body], Refusal | None]


def owner_team(state: State, body: Body) -> str:
    """Return the owner team of the server that an act is on; raises KeyError where none is told."""
    return state.servers[body["server"]].team


def by_team(permission: str) -> Rule:
    """Return the rule of an act that its actor's role and the owner team decide."""
    return lambda state, act, body: may(state, act, permission, owner_team(state, body))


def _enrolled(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["server"] in state.servers:
        return Refusal(f"the ledger knows {body['server']} already", "conflict")
    return may_on_machine(state, act, "enrol", body["team"])


def _edited(state: State, act: Entry, body: Body) -> Refusal | None:
    server = state.servers[body["server"]]
    wanted = body["after"].get("data_class", server.data_class)
    if wanted != server.data_class:
        if DATA_CLASSES.index(wanted) < DATA_CLASSES.index(server.data_class):
            return Refusal("lowering a data class takes a request")
        refusal = may(state, act, "curate")
        if refusal is not None:
            return refusal
    return may(state, act, "edit", server.team)


def _adopted(state: State, act: Entry, body: Body) -> Refusal | None:
    if state.servers[body["server"]].versions:
        return Refusal(f"{body['server']} has releases already", "conflict")
    return may_on_machine(state, act, "administer")


def _rules_proposed(state: State, act: Entry, body: Body) -> Refusal | None:
    wanted = rule_set_from(body["rules"], body["version"])
    if body["version"] in state.rules or wanted.digest != body["digest"]:
        return Refusal("the proposed rules are not those of their digest", "conflict")
    if not state.rules and act.by_machine:  # the rules that ship, stored when they are first used
        return None
    return may_on_machine(state, act, "curate")


def _rules_changed(state: State, act: Entry, body: Body) -> Refusal | None:
    proposed = _proposed(state.rules, body["version"])
    if isinstance(proposed, Refusal):
        return proposed
    now, wanted = state.in_force.get("rules"), state.rule_sets[proposed.number]
    if now is None:
        return None if act.by_machine else may(state, act, "curate")
    if proposed.body["replaces"] != now:
        return Refusal(f"these rules were written against version {proposed.body['replaces']}", "conflict")
    before = state.rule_sets.get(now)
    loose = before is None or bool(loosened(before, wanted))
    return _second(act, proposed, loose, "a rule set that asks less") or may_on_machine(state, act, "curate")


def _style_proposed(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["version"] in state.styles:
        return Refusal(f"the ledger knows version {body['version']} of the style already", "conflict")
    return may_on_machine(state, act, "curate")


def _style_in_force(state: State, act: Entry, body: Body) -> Refusal | None:
    proposed = _proposed(state.styles, body["version"])
    if isinstance(proposed, Refusal):
        return proposed
    if proposed.body["replaces"] != state.in_force.get("style", 0):
        return Refusal(f"this style was written against version {proposed.body['replaces']}", "conflict")
    loose = bool(proposed.body["loosened"])
    return _second(act, proposed, loose, "a style that loosens") or may_on_machine(state, act, "curate")


def _declined(table: str, name: str) -> Rule:
    def rule(state: State, act: Entry, body: Body) -> Refusal | None:
        proposed = _proposed(getattr(state, table), body[name])
        return proposed if isinstance(proposed, Refusal) else may(state, act, "curate")

    return rule


def _proposed(table: Mapping[int, Proposal], number: int) -> Proposal | Refusal:
    proposal = table.get(number)
    if proposal is None or proposal.state != "proposed":
        return Refusal("the ledger tells of no such proposal that waits", "conflict")
    return proposal


def _second(act: Entry, proposed: Proposal, loose: bool, what: str) -> Refusal | None:
    if loose and act.actor == proposed.by:
        return Refusal(f"{what} takes a second curator, and {act.actor} proposed this one")
    return None


def _ruling_proposed(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["ruling"] in state.rulings:
        return Refusal("the ledger knows this ruling already", "conflict")
    refusal = may(state, act, "curate")
    if refusal is None and body["word"] == SAME_MEANING:
        refusal = _excuses(state, act.actor, sorted(servers_of(body)))
    return refusal


def _ruling_in_force(state: State, act: Entry, body: Body) -> Refusal | None:
    proposed = _proposed(state.rulings, body["ruling"])
    if isinstance(proposed, Refusal):
        return proposed
    if proposed.body["members"] != body["members"] or proposed.body["word"] != body["word"]:
        return Refusal("this is not what was proposed", "conflict")
    slugs = sorted(servers_of(body))
    refusal = may(state, act, "curate") or _second(act, proposed, True, "a ruling")
    refusal = refusal or _excuses(state, act.actor, slugs)
    if refusal is None and body["word"] == SAME_MEANING:  # who proposed it may have come to have part since
        refusal = _excuses(state, proposed.by, slugs)
    return refusal


def _ruling_ended(state: State, act: Entry, body: Body) -> Refusal | None:
    proposal = state.rulings.get(body["ruling"])
    if proposal is None or proposal.state not in ("proposed", "in force"):
        return Refusal("the ledger tells of no such ruling that stands", "conflict")
    return may(state, act, "curate")


def _excuses(state: State, who: str, slugs: list[str]) -> Refusal | None:
    """Return why somebody may excuse nothing of some servers: they have part in one of them."""
    return denied(next(filter(None, (why_part_in_server(state, slug, who) for slug in slugs)), None))


def _known_proposed(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["proposal"] in state.proposed_known:
        return Refusal("the ledger knows this proposal already", "conflict")
    return may(state, act, "curate")


def _known_accepted(state: State, act: Entry, body: Body) -> Refusal | None:
    proposed = _proposed(state.proposed_known, body["proposal"])
    if isinstance(proposed, Refusal):
        return proposed
    same = all(proposed.body[name] == body[name] for name in ("server", "fingerprints", "release_digest"))
    if not same:
        return Refusal("this is not what was proposed", "conflict")
    refusal = may(state, act, "curate") or _second(act, proposed, True, "taking findings as known")
    return refusal or _excuses(state, act.actor, [body["server"]])


def _known_shrunk(state: State, act: Entry, body: Body) -> Refusal | None:
    """Known findings only ever shrink with a release that was just published."""
    if not set(body["gone"]) <= state.known.get(body["server"], frozenset()):
        return Refusal("what is not known cannot be forgotten", "conflict")
    return may_on_machine(state, act, "publish", owner_team(state, body))


def _bound(state: State, act: Entry, body: Body) -> Refusal | None:
    """What was granted before texts were bound is bound once, by the upgrade, and to no more than it was."""
    return None if act.by_machine else Refusal("only the upgrade binds what was granted before it")


def _waiver_asked(state: State, act: Entry, body: Body) -> Refusal | None:
    if body["waiver"] in state.waivers:
        return Refusal("the ledger knows this waiver already", "conflict")
    return may(state, act, "ask-waiver", owner_team(state, body))


def _waiver(state: State, body: Body, *states: str) -> Waiver | Refusal:
    waiver = state.waivers.get(body["waiver"])
    if waiver is None or waiver.state not in states or waiver.server != body["server"]:
        return Refusal(
            f"the ledger tells of no waiver {body['waiver']} that is {' or '.join(states)}", "conflict"
        )
    return waiver


def _waiver_granted(state: State, act: Entry, body: Body) -> Refusal | None:
    waiver = _waiver(state, body, "asked")
    if isinstance(waiver, Refusal):
        return waiver
    told = (waiver.rule, waiver.item, waiver.pointer, waiver.until, sorted(waiver.fingerprints))
    if told != (
        body["rule"],
        body["item"],
        body["pointer"],
        moment(body["until"]),
        sorted(body["fingerprints"]),
    ):
        return Refusal("this is not what was asked for", "conflict")
    return denied(why_not_waive(state, act, waiver))


def _waiver_refused(state: State, act: Entry, body: Body) -> Refusal | None:
    waiver = _waiver(state, body, "asked")
    return waiver if isinstance(waiver, Refusal) else denied(why_not_waive(state, act, waiver))


def why_not_waive(state: State, act: Entry, waiver: Waiver) -> str | None:
    """Return why somebody may not grant or refuse a waiver, or None when they may.

    Curators may, and those who may sign a live request of the server at one of its desks; never who asked for
    it, nor who has part in the server.
    """
    if waiver.by == act.actor:
        return "nobody answers what they asked for themselves"
    part = why_part_in_server(state, waiver.server, act.actor)
    if part is not None:
        return part
    refusal = may(state, act, "curate")
    if refusal is None:
        return None
    refusal = may(state, act, "sign-off")
    if refusal is not None:
        return refusal.reason
    if any(_may_sign(state, request.number, act) for request in live_requests(state, waiver.server)):
        return None
    return "waivers are granted by curators, and by those who may sign a release of the server that is asked about"


def _may_sign(state: State, number: int, act: Entry) -> bool:
    request = state.requests[number]
    desks = [seat.desk for step in (request.route.steps if request.route else ()) for seat in step.seats]
    return any(why_not_at(state, request, desk, act.actor, moment(act.at)) is None for desk in desks)


def _waiver_ended(state: State, act: Entry, body: Body) -> Refusal | None:
    waiver = _waiver(state, body, "asked", "granted")
    if isinstance(waiver, Refusal):
        return waiver
    return may_on_machine(state, act, "edit", owner_team(state, body))


def _purged(state: State, act: Entry, body: Body) -> Refusal | None:
    return may_on_machine(state, act, "administer")


def _keyed(state: State, act: Entry, body: Body) -> Refusal | None:
    if state.keyed:
        return Refusal("the chain is keyed already", "conflict")
    return None if act.by_machine else Refusal("only the service's own machine keys the chain")


def _restored(state: State, act: Entry, body: Body) -> Refusal | None:
    return None if act.by_machine else Refusal("only the service's own machine restores a backup")


def _taken(state: State, act: Entry, body: Body) -> Refusal | None:
    if state.keyed != state.number:
        return Refusal("tables are taken in once, right after the chain was keyed", "conflict")
    return None if act.by_machine else Refusal("only the service's own machine takes tables in")


def _suspended(state: State, act: Entry, body: Body) -> Refusal | None:
    if (body["server"], body["item"]) in state.suspended:
        return Refusal("this is suspended already", "conflict")
    return may_on_machine(state, act, "suspend", owner_team(state, body))


__all__ = ["RULES", "by_team", "owner_team", "why_not_waive", "why_part"]

RULES: dict[Event, Rule] = {
    Event.SERVER_ENROLLED: _enrolled,
    Event.SERVER_EDITED: _edited,
    Event.RELEASE_ADOPTED: _adopted,
    Event.RULES_PROPOSED: _rules_proposed,
    Event.RULES_CHANGED: _rules_changed,
    Event.RULES_DECLINED: _declined("rules", "version"),
    Event.STYLE_PROPOSED: _style_proposed,
    Event.STYLE_IN_FORCE: _style_in_force,
    Event.STYLE_DECLINED: _declined("styles", "version"),
    Event.RULING_PROPOSED: _ruling_proposed,
    Event.RULING_IN_FORCE: _ruling_in_force,
    Event.RULING_DECLINED: _declined("rulings", "ruling"),
    Event.RULING_ENDED: _ruling_ended,
    Event.KNOWN_PROPOSED: _known_proposed,
    Event.KNOWN_ACCEPTED: _known_accepted,
    Event.KNOWN_DECLINED: _declined("proposed_known", "proposal"),
    Event.KNOWN_SHRUNK: _known_shrunk,
    Event.KNOWN_BOUND: _bound,
    Event.WAIVER_ASKED: _waiver_asked,
    Event.WAIVER_GRANTED: _waiver_granted,
    Event.WAIVER_REFUSED: _waiver_refused,
    Event.WAIVER_ENDED: _waiver_ended,
    Event.WAIVER_BOUND: _bound,
    Event.SUSPENDED: _suspended,
    Event.ITEM_PURGED: _purged,
    Event.CHAIN_KEYED: _keyed,
    Event.RESTORED: _restored,
    Event.TABLES_TAKEN: _taken,
}
