"""Who may do what: the role table, and every endpoint behind it."""

from __future__ import annotations

import itertools
import re

import pytest
from django.db import transaction
from django.test import Client
from django.urls import get_resolver

from tallshelf.core.errors import Denied
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.service.people.actor import SCOPES, Actor
from tallshelf.service.people.permissions import ACTS, refusal, require

ROLES = ("reader", "submitter", "curator", "steward", "ci")
# act: reader, submitter, curator, steward, ci; y(es), t(eam's own only), n(ever)
TABLE = {
    "see": "yyyyy",
    "see-unpublished": "ntyyt",
    "check": "yyyyy",
    "enrol": "ntyyn",
    "edit": "ntyyn",
    "submit": "ntyyt",
    "ask-waiver": "ntyyn",
    "take-back": "ntyyn",
    "sign-off": "yyyyn",
    "publish": "ntyyt",
    "curate": "nnyyn",
    "suspend": "ntyyn",
    "ask": "ntyyn",
    "comment": "yyyyn",
    "name-deputy": "yyyyn",
    "own-tokens": "yyyyn",
    "see-ledger": "nnyyn",
    "administer": "nnnyn",
}


def actor(role: str, scopes=SCOPES) -> Actor:
    return Actor(1, "x", "X", role, frozenset({"berths"}), scopes=frozenset(scopes))


@pytest.mark.parametrize(("act", "role"), list(itertools.product(ACTS, ROLES)))
def test_the_role_table(act, role):
    word = TABLE[act][ROLES.index(role)]
    assert (refusal(actor(role), act, "berths") is None) == (word in "yt")
    assert (refusal(actor(role), act, "crew") is None) == (word == "y")
    assert refusal(actor(role, ()), act, "berths") is not None


def test_the_table_has_every_act_and_a_denial_has_its_reason():
    assert set(TABLE) == set(ACTS)
    with pytest.raises(Denied, match="only for an own team, and crew is not one"):
        require(actor("submitter"), "submit", "crew")
    with pytest.raises(Denied, match="lacks the scope 'submit'"):
        require(actor("submitter", ["read"]), "submit", "berths")


# Every endpoint: method, address, and who of (reader runa, submitter tomas, submitter of another team
# jonas, curator ines, CI of the team) gets past permission, on an empty server of the Berths team.
ENDPOINTS = {
    "GET session": "rtjic",
    "DELETE session": "rtjic",
    "POST password": "rtji-",
    "GET sessions": "rtjic",
    "DELETE sessions/0": "rtji-",
    "GET tokens": "rtjic",
    "POST tokens": "rtji-",
    "DELETE tokens/0": "rtjic",
    "GET teams": "rtjic",
    "GET people": "",
    "POST people": "",
    "PATCH people/edda": "",
    "POST people/edda/invitation": "",
    "DELETE people/edda/sessions": "",
    "POST people/ci-berths/tokens": "",
    "POST invitation": "",
    "GET ledger": "---i-",
    "GET ledger/export": "---i-",
    "GET ledger/checkpoint": "rtjic",
    "GET ledger/verification": "---i-",
    "GET by-digest/x/proof": "rtjic",
    "GET servers": "rtjic",
    "GET rules": "rtjic",
    "POST lint": "rtjic",
    "GET style": "rtjic",
    "POST style": "---i-",
    "POST style/effect": "rtjic",
    "GET styles": "rtjic",
    "POST styles/1/answer": "---i-",
    "GET findings": "rtjic",
    "GET findings/places": "rtjic",
    "GET servers/berth-planner/known-findings": "rtjic",
    "POST servers/berth-planner/known-findings": "---i-",
    "GET routing": "rtjic",
    "POST routing": "---i-",
    "GET routing/versions": "rtjic",
    "POST routing/versions/1/answer": "---i-",
    "POST routing/trial": "---i-",
    "GET desks": "rtjic",
    "GET waivers": "rtjic",
    "POST waivers": "-t-i-",
    "POST waivers/1/answer": "rtjic",
    "POST servers": "-t-i-",
    "GET servers/berth-planner": "rtjic",
    "PATCH servers/berth-planner": "-t-i-",
    "GET find?q=x": "rtjic",
    "POST servers/berth-planner/releases": "-t-ic",
    "POST servers/berth-planner/check": "rtjic",
    "GET servers/berth-planner/releases/current": "rtjic",
    "GET servers/berth-planner/releases/current/snapshot": "rtjic",
    "GET servers/berth-planner/releases/current/items": "rtjic",
    "GET servers/berth-planner/releases/current/findings": "rtjic",
    "GET servers/berth-planner/releases/current/overlaps": "rtjic",
    "GET servers/berth-planner/releases/current/connection": "rtjic",
    "GET overlaps": "rtjic",
    "POST overlaps": "rtjic",
    "GET overlap-map": "rtjic",
    "POST mix-ups": "rtjic",
    "GET rulings": "rtjic",
    "POST rulings": "---i-",
    "POST rulings/1/answer": "---i-",
    "GET comparison": "rtjic",
    "POST comparison": "rtjic",
    "GET stand-in": "rtjic",
    "GET servers/berth-planner/life": "rtjic",
    "GET servers/berth-planner/timeline": "rtjic",
    "GET by-digest/x": "rtjic",
    "GET suspensions": "rtjic",
    "POST suspensions": "-t-i-",
    "GET requests": "rtjic",
    "POST requests": "-t-i-",
    "GET requests/1": "rtjic",
    "POST requests/1/comments": "rt-i-",
    "POST requests/1/comments/0/answers": "",
    "POST requests/1/taking": "---i-",
    "GET follow-ups": "rtjic",
    "POST follow-ups/0/closing": "rtji-",
    "GET inbox": "rtjic",
    "GET deputies": "rtjic",
    "POST deputies": "rtji-",
    "DELETE deputies/0": "rtji-",
    "POST requests/1/sign-offs": "rtji-",
    "POST requests/1/publication": "-t-ic",
    "POST requests/1/take-back": "-t-i-",
    "POST requests/1/assessment": "rt-ic",
}
BODIES = {
    "POST routing": {"text": "[[rules]]\nname = 'a'\n", "note": "n"},
    "POST routing/versions/1/answer": {"answer": "agree"},
    "POST routing/trial": {"text": "[[rules]]\nname = 'a'\ndesk = 'curators'\nreason = 'r'\n"},
    "POST overlaps": {"snapshot": {"tools": []}},
    "POST mix-ups": {"items": ["berth-planner"]},
    "POST rulings": {"pairs": ["x"], "word": "distinct", "reason": "r"},
    "POST rulings/1/answer": {"answer": "agree"},
    "POST lint": {"snapshot": {"tools": []}},
    "POST style": {"text": "name = 'x'", "note": "n"},
    "POST style/effect": {"text": "name = 'x'"},
    "POST styles/1/answer": {"answer": "agree"},
    "POST servers/berth-planner/known-findings": {"reason": "r"},
    "POST waivers": {
        "server": "berth-planner",
        "rule": "cut-off-text",
        "item": "server",
        "reason": "r",
        "until": "2999-01-01T00:00:00Z",
    },
    "POST waivers/1/answer": {"answer": "grant"},
    "POST tokens": {"name": "n", "scopes": ["read"]},
    "POST servers": {"slug": "new-one", "title": "New", "team": "berths", "contact": "c"},
    "POST servers/berth-planner/releases": {"snapshot": {"tools": []}, "version": "9.9.9"},
    "POST servers/berth-planner/check": {"snapshot": {"tools": []}, "version": "9.9.9"},
    "POST people": {"username": "odd", "name": "Odd", "role": "reader"},
    "PATCH people/edda": {"name": "Edda"},
    "POST people/ci-berths/tokens": {"name": "n", "scopes": ["read"]},
    "POST invitation": {"code": "x", "password": "x"},
    "POST password": {"old": PASSWORD, "new": "skerry-dark-2211"},
    "PATCH servers/berth-planner": {"title": "Berths"},
    "POST suspensions": {"server": "berth-planner", "reason": "r"},
    "POST requests": {"kind": "withdraw", "server": "berth-planner", "version": "1.4.2", "reason": "r"},
    "POST requests/1/comments": {"text": "t"},
    "POST requests/1/comments/0/answers": {"text": "t"},
    "POST follow-ups/0/closing": {"note": "n"},
    "POST deputies": {"deputy": "kari", "until": "2999-01-01T00:00:00Z"},
    "POST requests/1/sign-offs": {"answer": "agree", "release_digest": "x", "assessment_digest": "x"},
}
WHO = {"r": "runa", "t": "tomas", "j": "jonas", "i": "ines", "c": "ci-berths"}


def test_no_endpoint_is_missing_from_the_table():
    shapes = {re.sub(r"<[^>]+>", "*", route) for route in _routes(get_resolver().url_patterns)}
    known = set()
    for endpoint in ENDPOINTS:
        path = endpoint.split(" ")[1].partition("?")[0]
        path = re.sub(
            r"(?<=servers/)[^/]+|(?<=releases/)[^/]+|(?<=requests/)\d+|(?<=tokens/)\d+|(?<=sessions/)\d+|(?<=styles/)\d+|(?<=waivers/)\d+|(?<=rulings/)\d+|(?<=versions/)\d+|(?<=comments/)\d+|(?<=follow-ups/)\d+|(?<=deputies/)\d+|(?<=people/)[^/]+",
            "*",
            path,
        )
        known.add(re.sub(r"(?<=by-digest/)[^/]+", "*", path))
    assert shapes == known


def _routes(patterns, prefix=""):
    for pattern in patterns:
        route = prefix + str(pattern.pattern)
        if hasattr(pattern, "url_patterns"):
            yield from _routes(pattern.url_patterns, route)
        elif route.startswith("api/v1/") and "openapi" not in route:
            yield route.removeprefix("api/v1/")


@pytest.mark.parametrize("endpoint", ENDPOINTS)
def test_each_endpoint_lets_in_whom_the_table_says(endpoint, api, submitted):
    submitted()
    method, path = endpoint.split(" ")
    for letter, username in WHO.items():
        status, body = api(username).call(method, path, BODIES.get(endpoint, {}))
        refused = status == 403 or (path.startswith("requests/1") and status == 404)
        hidden = endpoint == "GET requests/1" and letter in "j"
        # The security reviewer sees the request, since her desk is on its route.
        assert refused == (letter not in ENDPOINTS[endpoint] or hidden or _no_desk(endpoint, letter)), (
            letter,
            body,
        )


def _no_desk(endpoint: str, letter: str) -> bool:
    """Signing needs a seat, which only the curator and the security reviewer have."""
    return endpoint == "POST requests/1/sign-offs" and letter in "j"


def test_nobody_gets_in_without_a_credential(db):
    for endpoint in ENDPOINTS:
        method, path = endpoint.split(" ")
        answer = Client().generic(method, f"/api/v1/{path}", "{}", "application/json")
        open_to_all = path == "session" and method == "GET"
        if endpoint == "POST invitation":
            assert answer.status_code == 400  # the code is its credential
            continue
        assert answer.status_code == (200 if open_to_all else 401), endpoint
        if not open_to_all:
            assert answer.headers["content-type"] == "application/problem+json"
            assert answer.json()["type"] == "urn:tallshelf:problem:sign-in-needed"


# The scopes without which an endpoint answers otherwise to a steward who has all others: r(ead), c(heck),
# (su)b(mit), s(ign), (c)u(rate), a(dminister). One that needs none is open to any token, or to none.
SCOPE_LETTERS = dict(zip("rcbsua", SCOPES, strict=True))
NEEDS = {
    endpoint.strip(): needs
    for needs, endpoints in {
        "": """
        GET session
        DELETE session
        GET teams
        POST invitation
        GET comparison
        GET stand-in
        """,
        "ar": """
        POST people/ci-berths/tokens
    """,
        "a": """
        GET people
        POST people
        PATCH people/edda
        POST people/edda/invitation
        DELETE people/edda/sessions
        """,
        "b": """
        POST waivers
        POST servers/berth-planner/releases
        POST suspensions
        """,
        "u": """
        POST styles/1/answer
        POST servers/berth-planner/known-findings
        POST routing
        POST rulings
        """,
        "c": """
        POST lint
        POST style/effect
        POST servers/berth-planner/check
        POST overlaps
        POST comparison
        """,
        "r": """
        POST password
        GET sessions
        DELETE sessions/0
        GET tokens
        POST tokens
        DELETE tokens/0
        GET ledger
        GET ledger/export
        GET ledger/verification
        GET ledger/checkpoint
        GET by-digest/x/proof
        GET servers
        GET rules
        GET style
        GET styles
        GET findings
        GET findings/places
        GET servers/berth-planner/known-findings
        GET routing
        GET routing/versions
        POST routing/trial
        GET desks
        GET waivers
        POST waivers/1/answer
        GET servers/berth-planner
        GET find?q=x
        GET servers/berth-planner/releases/current
        GET servers/berth-planner/releases/current/snapshot
        GET servers/berth-planner/releases/current/items
        GET servers/berth-planner/releases/current/findings
        GET servers/berth-planner/releases/current/overlaps
        GET servers/berth-planner/releases/current/connection
        GET overlaps
        GET overlap-map
        POST mix-ups
        GET rulings
        GET servers/berth-planner/life
        GET servers/berth-planner/timeline
        GET by-digest/x
        GET suspensions
        GET requests
        GET requests/1
        POST requests/1/taking
        GET follow-ups
        GET inbox
        GET deputies
        POST requests/1/assessment
        """,
        "rb": """
        POST servers
        PATCH servers/berth-planner
        POST requests
        POST requests/1/publication
        POST requests/1/take-back
        """,
        "ru": """
        POST style
        POST routing/versions/1/answer
        POST rulings/1/answer
        """,
        "rs": """
        POST requests/1/comments
        POST requests/1/sign-offs
        """,
        "s": """
        POST requests/1/comments/0/answers
        POST follow-ups/0/closing
        POST deputies
        DELETE deputies/0
        """,
    }.items()
    for endpoint in endpoints.strip().splitlines()
}


@pytest.mark.parametrize("endpoint", ENDPOINTS)
def test_each_endpoint_needs_exactly_the_scopes_of_the_table(endpoint, api, submitted):
    submitted()
    method, path = endpoint.split(" ")

    def asked_with(scopes) -> int:
        with transaction.atomic():
            status, _ = api("pell", *scopes).call(method, path, BODIES.get(endpoint, {}))
            transaction.set_rollback(True)
        return status

    whole = asked_with(SCOPES)
    lacking = {
        letter: asked_with([one for one in SCOPES if one != scope]) for letter, scope in SCOPE_LETTERS.items()
    }
    assert {letter for letter, status in lacking.items() if status != whole} == set(NEEDS[endpoint])
    assert all(status in (403, 404) for status in lacking.values() if status != whole)


def test_no_endpoint_is_missing_from_the_table_of_scopes():
    assert set(NEEDS) == set(ENDPOINTS)
