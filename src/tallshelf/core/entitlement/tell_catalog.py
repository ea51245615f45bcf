"""Taking in what entries say of the catalog, and of what was decided for it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from msgspec.structs import replace

from tallshelf.core.entitlement.records import Deputy, Entry, Proposal, Release, Server, Token, Waiver
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.entitlement.tell_people import add_deputy, desk_of
from tallshelf.core.entitlement.tell_requests import hand_in
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DEFAULT_RULES, rule_set_from

Body = Mapping[str, Any]


def _server_enrolled(state: State, entry: Entry, body: Body) -> None:
    made = Server(
        body["server"],
        body["team"],
        body["data_class"],
        scheme=body.get("scheme", "semver"),
        use=body.get("use", "open"),
    )
    state.put(state.servers, made.slug, made)


def _server_edited(state: State, entry: Entry, body: Body) -> None:
    server = state.servers[body["server"]]
    if "data_class" in body["after"]:
        state.put(state.servers, server.slug, replace(server, data_class=body["after"]["data_class"]))
    if "use" in body["after"]:
        state.put(state.servers, server.slug, replace(state.servers[server.slug], use=body["after"]["use"]))


def _use_changed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.servers, body["server"], replace(state.servers[body["server"]], use=body["use"]))


def _release_adopted(state: State, entry: Entry, body: Body) -> None:
    key = (body["server"], body["version"])
    made = Release(*key, "published", body["release_digest"], body["snapshot_digest"], entry.number)
    state.put(state.releases, key, made)
    hand_in(state, entry, body, "publish", 0)
    state.put(state.known, body["server"], frozenset(body.get("fingerprints", ())))


def _suspended(state: State, entry: Entry, body: Body) -> None:
    state.put(state.suspended, (body["server"], body["item"]), entry.at)


def _rules_proposed(state: State, entry: Entry, body: Body) -> None:
    if "rules" in body:
        state.put(state.rule_sets, body["version"], rule_set_from(body["rules"], body["version"]))
    else:
        state.lacks("what the routing rules of a version are")
    state.put(state.rules, body["version"], Proposal(body["version"], entry.actor, "proposed", body))


def _rules_changed(state: State, entry: Entry, body: Body) -> None:
    version = body["version"]
    if version not in state.rules:  # older ledgers propose no default rules
        state.put(state.rules, version, Proposal(version, entry.actor, "proposed", body))
        if body["digest"] == DEFAULT_RULES.digest:
            state.put(state.rule_sets, version, replace(DEFAULT_RULES, version=version))
    state.put(state.rules, version, replace(state.rules[version], state="in force"))
    state.put(state.in_force, "rules", version)


def _style_proposed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.styles, body["version"], Proposal(body["version"], entry.actor, "proposed", body))


def _style_in_force(state: State, entry: Entry, body: Body) -> None:
    version = body["version"]
    before = state.styles.get(version, Proposal(version, entry.actor, "proposed", body))
    state.put(state.styles, version, replace(before, state="in force"))
    state.put(state.in_force, "style", version)


def _ruling_proposed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.rulings, body["ruling"], Proposal(body["ruling"], entry.actor, "proposed", body))


def _ruling_in_force(state: State, entry: Entry, body: Body) -> None:
    _decide(state, state.rulings, body["ruling"], "in force")
    for slug in servers_of(state.rulings[body["ruling"]].body):
        state.put(state.standing, slug, state.standing.get(slug, frozenset()) | {body["ruling"]})


def _ruling_ended(state: State, entry: Entry, body: Body) -> None:
    _decide(state, state.rulings, body["ruling"], "ended")
    for slug in servers_of(state.rulings[body["ruling"]].body):
        state.put(state.standing, slug, state.standing.get(slug, frozenset()) - {body["ruling"]})


def servers_of(ruling: Mapping[str, Any]) -> frozenset[str]:
    """Return the servers that the members of a ruling belong to."""
    return frozenset(str(member).partition("#")[0] for member in ruling["members"])


def _decide(state: State, table: dict[int, Proposal], number: int, word: str) -> None:
    state.put(table, number, replace(table[number], state=word))


def _proposal_declined(table: str, name: str) -> Callable[[State, Entry, Body], None]:
    def told(state: State, entry: Entry, body: Body) -> None:
        _decide(state, getattr(state, table), body[name], "declined")

    return told


def _known_proposed(state: State, entry: Entry, body: Body) -> None:
    made = Proposal(body["proposal"], entry.actor, "proposed", body)
    state.put(state.proposed_known, made.number, made)


def _known_accepted(state: State, entry: Entry, body: Body) -> None:
    if "proposal" in body:
        _decide(state, state.proposed_known, body["proposal"], "in force")
    _known_bound(state, entry, body)


def _known_bound(state: State, entry: Entry, body: Body) -> None:
    state.put(state.known, body["server"], frozenset(body.get("fingerprints", ())))


def _known_shrunk(state: State, entry: Entry, body: Body) -> None:
    left = state.known.get(body["server"], frozenset()) - set(body["gone"])
    state.put(state.known, body["server"], left)


def _waiver_asked(state: State, entry: Entry, body: Body) -> None:
    made = Waiver(
        number=body["waiver"],
        server=body["server"],
        rule=body["rule"],
        item=body["item"],
        pointer=body["pointer"],
        until=moment(body["until"]),
        by=entry.actor,
        state="asked",
        fingerprints=tuple(body.get("fingerprints", ())),
    )
    state.put(state.waivers, made.number, made)


def _waiver_answered(word: str) -> Callable[[State, Entry, Body], None]:
    def told(state: State, entry: Entry, body: Body) -> None:
        waiver = state.waivers[body["waiver"]]
        state.put(state.waivers, waiver.number, replace(waiver, state=word))
        granted = state.waived.get(waiver.server, frozenset()) - {waiver.number}
        state.put(state.waived, waiver.server, granted | {waiver.number} if word == "granted" else granted)

    return told


def _waiver_bound(state: State, entry: Entry, body: Body) -> None:
    waiver = state.waivers[body["waiver"]]
    state.put(state.waivers, waiver.number, replace(waiver, fingerprints=tuple(body["fingerprints"])))


def _item_purged(state: State, entry: Entry, body: Body) -> None:
    state.put(state.purged, body["digest"], body["item"])
    for snapshot in body.get("snapshots", ()):
        state.put(state.skeletons, snapshot["snapshot"], snapshot["skeleton"])


def _chain_keyed(state: State, entry: Entry, body: Body) -> None:
    state.keyed = entry.number


def _restored(state: State, entry: Entry, body: Body) -> None:
    """What was lost changes nothing of what is there."""


def _tables_taken(state: State, entry: Entry, body: Body) -> None:
    """Take in what stood in the tables when the chain was keyed and older entries do not tell."""
    for token in body["tokens"]:
        made = Token(
            token["token"],
            token["username"],
            token["username"],
            frozenset(token["scopes"]),
            None,
            moment(token["expires_at"]),
            token["hash"],
            token["ended"],
        )
        state.put(state.tokens, made.number, made)
    for person in body["people"]:
        state.put(state.passwords, person["username"], person["password"])
        state.put(state.subjects, person["username"], person["subject"])
    for invitation in body["invitations"]:
        state.put(state.invitations, invitation["code"], invitation["username"])
    for row in body["desks"]:
        desk = desk_of(state, row["desk"])
        state.put(state.desks, desk.slug, replace(desk, owner_team_excluded=row["owner_team_excluded"]))
    for username in list(state.deputies_of):  # entries of before named no numbers
        state.put(state.deputies_of, username, ())
    for number in list(state.deputies):
        state.drop(state.deputies, number)
    for deputy in body["deputies"]:
        times = moment(deputy["since"]), moment(deputy["until"])
        made_deputy = Deputy(deputy["number"], deputy["username"], deputy["deputy"], *times, deputy["ended"])
        add_deputy(state, made_deputy)
    for row in body["requests"]:
        request = state.requests[row["request"]]
        state.put(
            state.requests,
            request.number,
            replace(request, item=row["item"], opened_at=moment(row["opened_at"])),
        )
    for rule in body["rules"]:
        version = rule["version"]
        state.put(state.rule_sets, version, rule_set_from(rule["rules"], version))
        known = state.rules.get(version)
        if known is None:  # the first releases told of no rules: those they had were in force
            known = Proposal(version, entry.actor, "in force", {})
            state.put(state.in_force, "rules", version)
        state.put(state.rules, version, replace(known, body={**known.body, **rule}))


TELLS: dict[Event, Callable[[State, Entry, Body], None]] = {
    Event.SERVER_ENROLLED: _server_enrolled,
    Event.SERVER_EDITED: _server_edited,
    Event.USE_CHANGED: _use_changed,
    Event.RELEASE_ADOPTED: _release_adopted,
    Event.SUSPENDED: _suspended,
    Event.RULES_PROPOSED: _rules_proposed,
    Event.RULES_CHANGED: _rules_changed,
    Event.RULES_DECLINED: _proposal_declined("rules", "version"),
    Event.STYLE_PROPOSED: _style_proposed,
    Event.STYLE_IN_FORCE: _style_in_force,
    Event.STYLE_DECLINED: _proposal_declined("styles", "version"),
    Event.RULING_PROPOSED: _ruling_proposed,
    Event.RULING_IN_FORCE: _ruling_in_force,
    Event.RULING_DECLINED: _proposal_declined("rulings", "ruling"),
    Event.RULING_ENDED: _ruling_ended,
    Event.KNOWN_PROPOSED: _known_proposed,
    Event.KNOWN_ACCEPTED: _known_accepted,
    Event.KNOWN_DECLINED: _proposal_declined("proposed_known", "proposal"),
    Event.KNOWN_BOUND: _known_bound,
    Event.KNOWN_SHRUNK: _known_shrunk,
    Event.WAIVER_ASKED: _waiver_asked,
    Event.WAIVER_GRANTED: _waiver_answered("granted"),
    Event.WAIVER_REFUSED: _waiver_answered("refused"),
    Event.WAIVER_ENDED: _waiver_answered("ended"),
    Event.WAIVER_BOUND: _waiver_bound,
    Event.ITEM_PURGED: _item_purged,
    Event.CHAIN_KEYED: _chain_keyed,
    Event.RESTORED: _restored,
    Event.TABLES_TAKEN: _tables_taken,
}
