"""Taking entries in, one small function for each event: what it changes in the `State`.

Entries of before the chain was keyed say less; what they lack is counted in `State.not_told` and nothing is made
up for it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from tallshelf.core.entitlement.assessed import assessed_from
from tallshelf.core.entitlement.part import behind
from tallshelf.core.entitlement.state import (
    Assessed,
    Deputy,
    Desk,
    Entry,
    HandedIn,
    Membership,
    Person,
    Proposal,
    Release,
    Request,
    Seat,
    Server,
    SignOff,
    State,
    Token,
    Waiver,
    changed,
    moment,
)
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import DEFAULT_RULES, Route, facts_from, rule_set_from

Body = Mapping[str, Any]


def tell(state: State, entry: Entry) -> None:
    """Take one entry in; `State.begin` was called for it. Unknown events change nothing."""
    handler = _TELLS.get(entry.event)
    if handler is None or entry.body is None:
        return
    handler(state, entry, entry.body)


def _team_added(state: State, entry: Entry, body: Body) -> None:
    state.put(state.teams, body["team"], body["title"])


def _person_added(state: State, entry: Entry, body: Body) -> None:
    teams = tuple(Membership(team, entry.number) for team in body["teams"])
    state.put(state.people, body["username"], Person(body["username"], body["role"], True, teams))


def _person_changed(state: State, entry: Entry, body: Body) -> None:
    before = state.people.get(body["username"], Person(body["username"], body["role"], True))
    now = set(body["teams"])
    kept = tuple(
        changed(one, until=entry.number) if one.until is None and one.team not in now else one
        for one in before.memberships
    )
    fresh = tuple(Membership(team, entry.number) for team in sorted(now - before.teams))
    after = Person(body["username"], body["role"], body["active"], kept + fresh)
    state.put(state.people, after.username, after)
    if not after.active:
        for number, token in list(state.tokens.items()):
            if token.owner == after.username and not token.ended:
                state.put(state.tokens, number, changed(token, ended=True))

    if not after.active:
        state.put(state.subjects, after.username, "")


def _person_invited(state: State, entry: Entry, body: Body) -> None:
    if "code" in body:
        for code in [one for one, who in state.invitations.items() if who == body["username"]]:
            state.drop(state.invitations, code)
        state.put(state.invitations, body["code"], body["username"])


def _password_changed(state: State, entry: Entry, body: Body) -> None:
    if "password" in body:
        state.put(state.passwords, body["username"], body["password"])
    for code in [one for one, who in state.invitations.items() if who == body["username"]]:
        state.drop(state.invitations, code)


def _issuer_known(state: State, entry: Entry, body: Body) -> None:
    state.put(state.subjects, body["username"], body["subject"])


def _desk_added(state: State, entry: Entry, body: Body) -> None:
    if "owner_team_excluded" not in body:
        _lacks(state, "whether a desk bars the owner team")
    state.put(state.desks, body["desk"], Desk(body["desk"], body.get("owner_team_excluded", True)))


def _desk_joined(state: State, entry: Entry, body: Body) -> None:
    desk = _desk(state, body["desk"])
    since = moment(body.get("since", entry.at))
    seat = Seat(body["username"], since, entry.number, "since" in body)
    # Older ledgers say no more of leads than that the first one leads.
    lead = desk.lead if desk.seats else seat.username
    state.put(state.desks, desk.slug, changed(desk, seats=(*desk.seats, seat), lead=lead))


def _desk_left(state: State, entry: Entry, body: Body) -> None:
    desk = _desk(state, body["desk"])
    seats = tuple(one for one in desk.seats if one.username != body["username"])
    state.put(state.desks, desk.slug, changed(desk, seats=seats))


def _desk_led(state: State, entry: Entry, body: Body) -> None:
    desk = _desk(state, body["desk"])
    state.put(state.desks, desk.slug, changed(desk, lead=body["username"]))


def _desk(state: State, slug: str) -> Desk:
    return state.desks.get(slug, Desk(slug, True))


def _deputy_named(state: State, entry: Entry, body: Body) -> None:
    number = body.get("number", -entry.number)
    made = Deputy(number, body["username"], body["deputy"], moment(body["since"]), moment(body["until"]))
    _add_deputy(state, made)


def _add_deputy(state: State, made: Deputy) -> None:
    state.put(state.deputies, made.number, made)
    state.put(state.deputies_of, made.person, (*state.deputies_of.get(made.person, ()), made.number))


def _deputy_ended(state: State, entry: Entry, body: Body) -> None:
    if "number" in body:
        numbers: tuple[int, ...] = (body["number"],)
    else:  # older entries name the two people only
        numbers = tuple(
            number
            for number in state.deputies_of.get(body["username"], ())
            if state.deputies[number].deputy == body["deputy"]
        )
    for number in numbers:
        if number in state.deputies:
            state.put(state.deputies, number, changed(state.deputies[number], ended=True))


def _token_made(state: State, entry: Entry, body: Body) -> None:
    if "token" not in body:
        _lacks(state, "which token was made, and until when")
        return
    made = Token(
        number=body["token"],
        owner=body["username"],
        maker=entry.actor,
        scopes=frozenset(body["scopes"]),
        parent=body["parent"],
        expires_at=moment(body["expires_at"]),
        hash=body["hash"],
    )
    state.put(state.tokens, made.number, made)


def _token_ended(state: State, entry: Entry, body: Body) -> None:
    found = state.tokens.get(body.get("token", 0))
    if found is not None:
        state.put(state.tokens, found.number, changed(found, ended=True))


def _server_enrolled(state: State, entry: Entry, body: Body) -> None:
    state.put(state.servers, body["server"], Server(body["server"], body["team"], body["data_class"]))


def _server_edited(state: State, entry: Entry, body: Body) -> None:
    found = state.servers[body["server"]]
    if "data_class" in body["after"]:
        state.put(state.servers, found.slug, changed(found, data_class=body["after"]["data_class"]))


def _release_adopted(state: State, entry: Entry, body: Body) -> None:
    key = (body["server"], body["version"])
    made = Release(*key, "published", body["release_digest"], body["snapshot_digest"], entry.number)
    state.put(state.releases, key, made)
    _hand_in(state, entry, body, "publish", 0)
    state.put(state.known, body["server"], frozenset(body.get("fingerprints", ())))


def _release_submitted(state: State, entry: Entry, body: Body) -> None:
    key = (body["server"], body["version"])
    state.put(
        state.releases,
        key,
        Release(*key, "in-review", body["release_digest"], body["snapshot_digest"], request=body["request"]),
    )
    _hand_in(state, entry, body, "publish", body["request"])
    before = state.requests.get(body["request"])
    assessed = assessed_from(body)
    _told_enough(state, assessed)
    if before is not None:
        after = changed(
            _voided(before),
            state="open",
            release=body["release_digest"],
            snapshot=body["snapshot_digest"],
            assessed=assessed,
            route=_route(state, assessed),
        )
        state.put(state.requests, before.number, after)
        _settle(state, before.number)
        return
    made = Request(
        number=body["request"],
        kind="publish",
        server=body["server"],
        version=body["version"],
        item="",
        terms={},
        state="open",
        release=body["release_digest"],
        snapshot=body["snapshot_digest"],
        assessed=assessed,
        route=_route(state, assessed),
        opened=entry.number,
        opened_at=moment(body.get("opened_at", entry.at)),
    )
    state.put(state.requests, made.number, made)
    _settle(state, made.number)


def _request_opened(state: State, entry: Entry, body: Body) -> None:
    item = body.get("item", "")
    _hand_in(state, entry, body, body["kind"], body["request"], item)
    before = state.requests.get(body["request"])
    assessed = assessed_from(body)
    _told_enough(state, assessed)
    if before is not None:
        after = changed(
            _voided(before),
            state="open",
            terms=body["terms"],
            release=body["release_digest"],
            assessed=assessed,
            route=_route(state, assessed),
        )
        state.put(state.requests, before.number, after)
    else:
        made = Request(
            number=body["request"],
            kind=body["kind"],
            server=body["server"],
            version=body["version"],
            item=item,
            terms=body["terms"],
            state="open",
            release=body["release_digest"],
            snapshot="",
            assessed=assessed,
            route=_route(state, assessed),
            opened=entry.number,
            opened_at=moment(body.get("opened_at", entry.at)),
        )
        state.put(state.requests, made.number, made)
    _settle(state, body["request"])


def _reassessed(state: State, entry: Entry, body: Body) -> None:
    found = state.requests[body["request"]]
    assessed = assessed_from(body)
    _told_enough(state, assessed)
    stands = "differs" in body and not body["differs"]
    after = found if stands else changed(_voided(found), state="open")
    after = changed(after, assessed=assessed, route=_route(state, assessed))
    state.put(state.requests, found.number, after)
    if not stands:
        _settle(state, found.number)


def _signed_off(state: State, entry: Entry, body: Body) -> None:
    found = state.requests[body["request"]]
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
    after = changed(found, sign_offs=(*found.sign_offs, made))
    if body["answer"] == "decline":
        after = changed(after, state="declined")
    elif body["answer"] == "send-back":
        after = changed(after, state="sent-back")
    state.put(state.requests, found.number, after)
    if body["answer"] == "agree":
        _settle(state, found.number)


def _settle(state: State, number: int) -> None:
    """Move an open request on when its route asks nobody any more."""
    found = state.requests[number]
    if found.state == "open" and found.route is not None and agreed_at(found) is None:
        state.put(state.requests, number, changed(found, state="agreed"))


def agreed_at(found: Request) -> int | None:
    """Return the number of the first step at which a request still waits, or None when all agreed."""
    if found.route is None:
        return 1
    agreed = [one.desk for one in found.counting if one.answer == "agree"]
    for step in found.route.steps:
        if any(agreed.count(seat.desk) < seat.sign_offs for seat in step.seats):
            return step.number
    return None


def _voided(found: Request) -> Request:
    return changed(found, sign_offs=tuple(changed(one, voided=True) for one in found.sign_offs))


def _taken_back(state: State, entry: Entry, body: Body) -> None:
    found = state.requests[body["request"]]
    state.put(state.requests, found.number, changed(_voided(found), state="taken-back"))
    release = state.releases.get((found.server, found.version))
    if found.kind == "publish" and release is not None and release.state == "in-review":
        state.put(state.releases, (found.server, found.version), changed(release, state="draft"))


def _released(new: str) -> Callable[[State, Entry, Body], None]:
    """Return what an event does that gives a release another state."""

    def told(state: State, entry: Entry, body: Body) -> None:
        key = (body["server"], body["version"])
        found = state.releases[key]
        number = body.get("request", 0)
        published = entry.number if new == "published" else found.published
        state.put(state.releases, key, changed(found, state=new, published=published))
        if new == "declined" and number in state.requests:
            _request_declined(state, entry, body)
        else:
            _request_done(state, entry, body)

    return told


def _request_done(state: State, entry: Entry, body: Body) -> None:
    number = body.get("request", 0)
    if number in state.requests:
        done = changed(state.requests[number], state="done", done=entry.number)
        state.put(state.requests, number, done)


def _request_declined(state: State, entry: Entry, body: Body) -> None:
    number = body["request"]
    state.put(state.requests, number, changed(state.requests[number], state="declined"))


def _data_class_changed(state: State, entry: Entry, body: Body) -> None:
    _server_edited(state, entry, body)
    _request_done(state, entry, body)


def _suspended(state: State, entry: Entry, body: Body) -> None:
    state.put(state.suspended, (body["server"], body["item"]), entry.at)


def _lifted(state: State, entry: Entry, body: Body) -> None:
    state.drop(state.suspended, (body["server"], body["item"]))
    _request_done(state, entry, body)


def _commented(state: State, entry: Entry, body: Body) -> None:
    state.put(state.comments, body["comment"], {**body, "by": entry.actor})
    found = state.requests.get(body["request"])
    if found is None:
        return
    if body["kind"] == "question":
        state.put(state.requests, found.number, changed(found, questions=found.questions | {body["comment"]}))
    elif body["kind"] == "answer" and body["answers"] in found.questions:
        left = found.questions - {body["answers"]}
        state.put(state.requests, found.number, changed(found, questions=left))


def _follow_up_closed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.closed, body["follow_up"], body["note"])


def _rules_proposed(state: State, entry: Entry, body: Body) -> None:
    if "rules" in body:
        state.put(state.rule_sets, body["version"], rule_set_from(body["rules"], body["version"]))
    else:
        _lacks(state, "what the routing rules of a version are")
    state.put(state.rules, body["version"], Proposal(body["version"], entry.actor, "proposed", body))


def _rules_changed(state: State, entry: Entry, body: Body) -> None:
    version = body["version"]
    if version not in state.rules:  # older ledgers propose no default rules
        state.put(state.rules, version, Proposal(version, entry.actor, "proposed", body))
        if body["digest"] == DEFAULT_RULES.digest:
            state.put(state.rule_sets, version, changed(DEFAULT_RULES, version=version))
    state.put(state.rules, version, changed(state.rules[version], state="in force"))
    state.put(state.in_force, "rules", version)


def _style_proposed(state: State, entry: Entry, body: Body) -> None:
    state.put(state.styles, body["version"], Proposal(body["version"], entry.actor, "proposed", body))


def _style_in_force(state: State, entry: Entry, body: Body) -> None:
    version = body["version"]
    before = state.styles.get(version, Proposal(version, entry.actor, "proposed", body))
    state.put(state.styles, version, changed(before, state="in force"))
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
    state.put(table, number, changed(table[number], state=word))


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
        found = state.waivers[body["waiver"]]
        state.put(state.waivers, found.number, changed(found, state=word))
        granted = state.waived.get(found.server, frozenset()) - {found.number}
        state.put(state.waived, found.server, granted | {found.number} if word == "granted" else granted)

    return told


def _waiver_bound(state: State, entry: Entry, body: Body) -> None:
    found = state.waivers[body["waiver"]]
    state.put(state.waivers, found.number, changed(found, fingerprints=tuple(body["fingerprints"])))


def _item_purged(state: State, entry: Entry, body: Body) -> None:
    state.put(state.purged, body["digest"], body["item"])
    for one in body.get("snapshots", ()):
        state.put(state.skeletons, one["snapshot"], one["skeleton"])


def _chain_keyed(state: State, entry: Entry, body: Body) -> None:
    state.keyed = entry.number


def _tables_taken(state: State, entry: Entry, body: Body) -> None:
    """Take in what stood in the tables when the chain was keyed and older entries do not tell."""
    for one in body["tokens"]:
        made = Token(
            one["token"],
            one["username"],
            one["username"],
            frozenset(one["scopes"]),
            None,
            moment(one["expires_at"]),
            one["hash"],
            one["ended"],
        )
        state.put(state.tokens, made.number, made)
    for one in body["people"]:
        state.put(state.passwords, one["username"], one["password"])
        state.put(state.subjects, one["username"], one["subject"])
    for one in body["invitations"]:
        state.put(state.invitations, one["code"], one["username"])
    for one in body["desks"]:
        desk = _desk(state, one["desk"])
        state.put(state.desks, desk.slug, changed(desk, owner_team_excluded=one["owner_team_excluded"]))
    for username in list(state.deputies_of):  # entries of before named no numbers
        state.put(state.deputies_of, username, ())
    for number in list(state.deputies):
        state.drop(state.deputies, number)
    for one in body["deputies"]:
        times = moment(one["since"]), moment(one["until"])
        made_deputy = Deputy(one["number"], one["username"], one["deputy"], *times, one["ended"])
        _add_deputy(state, made_deputy)
    for one in body["requests"]:
        found = state.requests[one["request"]]
        state.put(
            state.requests, found.number, changed(found, item=one["item"], opened_at=moment(one["opened_at"]))
        )
    for one in body["rules"]:
        version = one["version"]
        state.put(state.rule_sets, version, rule_set_from(one["rules"], version))
        state.put(
            state.rules, version, changed(state.rules[version], body={**state.rules[version].body, **one})
        )


def _hand_in(state: State, entry: Entry, body: Body, kind: str, request: int, subject: str = "") -> None:
    found = state.servers.get(body["server"])
    if found is None:
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
    versions = found.versions
    if kind == "publish" and body["version"] not in versions:
        versions = (*versions, body["version"])
    state.put(
        state.servers, found.slug, changed(found, handed_in=(*found.handed_in, made), versions=versions)
    )


def _told_enough(state: State, assessed: Assessed) -> None:
    state.put(state.assessments, assessed.digest, assessed)
    if not assessed.told:
        _lacks(state, "by which facts a request was routed")


def _route(state: State, assessed: Assessed) -> Route | None:
    """Return what the rules make of the facts that an entry tells; None where it tells none."""
    rules = state.rule_sets.get(assessed.rule_set)
    if rules is None or not assessed.told:
        return None
    return rules.route(facts_from(assessed.facts), gates=assessed.gates)


def _lacks(state: State, what: str) -> None:
    state.put(state.not_told, what, state.not_told.get(what, 0) + 1)


_TELLS: dict[str, Callable[[State, Entry, Body], None]] = {
    Event.TEAM_ADDED: _team_added,
    Event.PERSON_ADDED: _person_added,
    Event.PERSON_CHANGED: _person_changed,
    Event.PERSON_INVITED: _person_invited,
    Event.PASSWORD_CHANGED: _password_changed,
    Event.ISSUER_KNOWN: _issuer_known,
    Event.DESK_ADDED: _desk_added,
    Event.DESK_JOINED: _desk_joined,
    Event.DESK_LEFT: _desk_left,
    Event.DESK_LED: _desk_led,
    Event.DEPUTY_NAMED: _deputy_named,
    Event.DEPUTY_ENDED: _deputy_ended,
    Event.TOKEN_MADE: _token_made,
    Event.TOKEN_ENDED: _token_ended,
    Event.SERVER_ENROLLED: _server_enrolled,
    Event.SERVER_EDITED: _server_edited,
    Event.RELEASE_ADOPTED: _release_adopted,
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
    Event.SUSPENDED: _suspended,
    Event.SUSPENSION_LIFTED: _lifted,
    Event.COMMENTED: _commented,
    Event.FOLLOW_UP_CLOSED: _follow_up_closed,
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
    Event.TABLES_TAKEN: _tables_taken,
}
