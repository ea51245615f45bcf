"""Who may do what: the role table, and every endpoint behind it."""

from __future__ import annotations

import itertools
import re
from dataclasses import replace

import pytest
from django.db import transaction
from django.test import Client
from django.urls import get_resolver

from tallshelf.core.errors import Denied
from tallshelf.run.scenario import history
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.service.catalog.actions import leave_note
from tallshelf.service.kits.actions import put_kit
from tallshelf.service.people.actor import SCOPES, Actor
from tallshelf.service.people.permissions import ACTS, refusal, require
from tallshelf.service.telling.webhooks import make_webhook
from tallshelf.service.web import rate_limit
from tests.service.conftest import KIT, Api

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
    "leave-note": "yyyyn",
    "choose-told": "yyyyn",
    "own-tokens": "yyyyn",
    "keep-kit": "ttyyn",
    "keep-webhook": "ntyyn",
    "report-looks": "ntyyt",
    "see-ledger": "nnyyn",
    "administer": "nnnyn",
}


def actor(role: str, scopes=SCOPES) -> Actor:
    return Actor(1, "x", "X", role, frozenset({"berths"}), "session", scopes=frozenset(scopes))


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


# Every endpoint: method, address; who of (reader runa, submitter tomas, submitter of another team jonas, curator
# ines, steward pell, CI of the team) gets past permission, on a server of the Berths team; and the scopes without
# which a token does not: r(ead), c(heck), (su)b(mit), s(ign), (c)u(rate), a(dminister), (t)okens, or none of them.
SCOPE_OF = dict(zip(SCOPES, "rcbsuat", strict=True))
ENDPOINTS = {
    "GET session": "rtjipc -",
    "DELETE session": "rtjipc -",
    "POST password": "rtjip- t",
    "GET sessions": "rtjipc r",
    "DELETE sessions/0": "rtjip- t",
    "GET tokens": "rtjipc r",
    "POST tokens": "rtjip- rt",
    "DELETE tokens/0": "rtjip- t",
    "GET teams": "rtjipc r",
    "GET people": "----p- a",
    "POST people": "----p- a",
    "PATCH people/edda": "----p- a",
    "POST people/edda/invitation": "----p- a",
    "DELETE people/edda/sessions": "----p- a",
    "POST people/ci-berths/tokens": "----p- ar",
    "POST invitation": "------ -",
    "GET ledger": "---ip- r",
    "GET ledger/export": "---ip- r",
    "GET ledger/checkpoint": "rtjipc r",
    "GET ledger/verification": "---ip- r",
    "GET by-digest/x/proof": "rtjipc r",
    "GET servers": "rtjipc r",
    "GET shelf": "rtjipc r",
    "GET rules": "rtjipc r",
    "POST lint": "rtjipc c",
    "GET style": "rtjipc r",
    "POST style": "---ip- ru",
    "POST style/effect": "rtjipc c",
    "GET styles": "rtjipc r",
    "POST styles/1/answer": "---ip- u",
    "GET findings": "rtjipc r",
    "GET findings/places": "rtjipc r",
    "GET servers/berth-planner/known-findings": "rtjipc r",
    "POST servers/berth-planner/known-findings": "---ip- ru",
    "GET known-findings": "rtjipc r",
    "POST known-findings/1/answer": "---ip- u",
    "GET request-kinds": "rtjipc r",
    "GET routing": "rtjipc r",
    "POST routing": "---ip- u",
    "GET routing/versions": "rtjipc r",
    "POST routing/versions/1/answer": "---ip- ru",
    "POST routing/rehearsal": "---ip- r",
    "GET desks": "rtjipc r",
    "GET waivers": "rtjipc r",
    "POST waivers": "-t-ip- b",
    "POST waivers/1/answer": "rtjipc r",
    "POST servers": "-t-ip- rb",
    "GET servers/berth-planner": "rtjipc r",
    "PATCH servers/berth-planner": "-t-ip- rb",
    "GET find": "rtjipc r",
    "POST servers/berth-planner/releases": "-t-ipc b",
    "POST servers/berth-planner/check": "rtjipc c",
    "GET servers/berth-planner/releases/current": "rtjipc r",
    "GET servers/berth-planner/releases/current/snapshot": "rtjipc r",
    "GET servers/berth-planner/releases/current/items": "rtjipc r",
    "GET servers/berth-planner/releases/current/findings": "rtjipc r",
    "GET servers/berth-planner/releases/current/overlaps": "rtjipc r",
    "GET servers/berth-planner/releases/current/connection": "rtjipc r",
    "GET overlaps": "rtjipc r",
    "POST overlaps": "rtjipc c",
    "GET overlap-map": "rtjipc r",
    "POST mix-ups": "rtjipc r",
    "GET rulings": "rtjipc r",
    "POST rulings": "---ip- u",
    "POST rulings/1/answer": "---ip- ru",
    "GET comparison": "rtjipc r",
    "POST comparison": "rtjipc c",
    "GET stand-in": "rtjipc r",
    "GET servers/berth-planner/life": "rtjipc r",
    "GET servers/berth-planner/timeline": "rtjipc r",
    "GET by-digest/x": "rtjipc r",
    "GET suspensions": "rtjipc r",
    "POST suspensions": "-t-ip- b",
    "GET kits": "rtjipc r",
    "POST kits": "-t-ip- b",
    "POST kit-check": "rtjipc c",
    "GET notices": "rtjipc r",
    "POST notices/read": "rtjipc r",
    "GET events": "rtjipc r",
    "GET servers/berth-planner/releases/current/notes": "rtjipc r",
    "POST servers/berth-planner/releases/current/notes": "rtjip- rs",
    "POST user-notes/1/answer": "-t-ip- rb",
    "DELETE user-notes/1": "---ip- su",
    "GET following": "rtjipc r",
    "PUT following": "rtjip- rs",
    "GET mail": "rtjipc r",
    "PATCH mail": "rtjip- rs",
    "POST mail/confirmation": "rtjip- t",
    "GET webhooks": "rtjipc r",
    "POST webhooks": "-t-ip- rb",
    "GET webhooks/1": "-t-ipc r",
    "POST webhooks/1/end": "-t-ip- rb",
    "POST webhooks/1/secret": "-t-ip- rb",
    "POST webhooks/1/trial": "-t-ip- rb",
    "GET webhooks/1/deliveries": "-t-ipc r",
    "GET deliveries": "----p- a",
    "POST deliveries/x/resend": "rtjipc r",
    "GET servers/berth-planner/looks": "rtjipc r",
    "POST servers/berth-planner/looks": "-t-ipc rc",
    "GET kit-matrix": "rtjipc r",
    "POST kit-reading": "rtjipc r",
    "GET kit-proposals": "rtjipc r",
    "GET kits/berth-helper": "rtjipc r",
    "POST kits/berth-helper/moves": "-t-ip- rb",
    "POST kits/berth-helper/answer": "---ip- u",
    "POST kits/berth-helper/drop": "-t-ip- b",
    "GET servers/berth-planner/ending": "rtjipc r",
    "GET servers/berth-planner/kits": "rtjipc r",
    "GET requests": "rtjipc r",
    "POST requests": "-t-ip- rb",
    "GET requests/1": "rt-ipc r",
    "POST requests/1/comments": "rt-ip- rs",
    "POST requests/1/comments/0/answers": "------ s",
    "POST requests/1/taking": "---i-- rs",
    "GET follow-ups": "rtjipc r",
    "POST follow-ups/0/closing": "rtjip- s",
    "GET inbox": "rtjipc r",
    "GET deputies": "rtjipc r",
    "POST deputies": "rtjip- s",
    "DELETE deputies/0": "rtjip- s",
    "POST requests/1/sign-offs": "rt-ip- rs",
    "POST requests/1/publication": "-t-ipc rb",
    "POST requests/1/take-back": "-t-ip- rb",
    "POST requests/1/assessment": "rt-ipc r",
}
# What must be asked so that an endpoint comes to ask whether it may answer.
QUERIES = {
    "GET find": "?q=x",
    "GET comparison": "?old=berth-planner&new=berth-planner",
    "GET stand-in": "?a=berth-planner%23find_free_berth&b=berth-planner%23find_free_berth",
    "GET servers/berth-planner/life": "?item=find_free_berth",
}
BODIES = {
    "POST routing": {"text": "[[rules]]\nname = 'a'\n", "note": "n"},
    "POST routing/versions/1/answer": {"answer": "agree"},
    "POST routing/rehearsal": {"text": "[[rules]]\nname = 'a'\ndesk = 'curators'\nreason = 'r'\n"},
    "POST overlaps": {"snapshot": {"tools": []}},
    "POST mix-ups": {"items": ["berth-planner"]},
    "POST rulings": {"pairs": ["x"], "word": "distinct", "reason": "r"},
    "POST rulings/1/answer": {"answer": "agree"},
    "POST lint": {"snapshot": {"tools": []}},
    "POST style": {"text": "name = 'x'", "note": "n"},
    "POST style/effect": {"text": "name = 'x'"},
    "POST styles/1/answer": {"answer": "agree"},
    "POST servers/berth-planner/known-findings": {"reason": "r"},
    "POST known-findings/1/answer": {"answer": "agree"},
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
    "POST kits": {"text": KIT.replace("A helper", "Another helper")},
    "POST notices/read": {"upto": 1},
    "POST servers/berth-planner/releases/current/notes": {"text": "t"},
    "POST user-notes/1/answer": {"text": "t"},
    "PUT following": {"about": "catalog", "how": "inbox"},
    "PATCH mail": {"how": "inbox"},
    "POST mail/confirmation": {"code": "x"},
    "POST webhooks": {"team": "berths", "address": "http://127.0.0.1:9/other"},
    "POST webhooks/1/end": {"reason": "r"},
    "POST servers/berth-planner/looks": {"environment": "production", "standing": "not reached"},
    "POST kit-check": {"text": KIT},
    "POST kits/berth-helper/answer": {"answer": "agree"},
    "POST kits/berth-helper/drop": {"reason": "r"},
    "POST suspensions": {"server": "berth-planner", "reason": "r"},
    "POST requests": {"kind": "withdraw", "server": "berth-planner", "version": "1.4.2", "reason": "r"},
    "POST requests/1/comments": {"text": "t"},
    "POST requests/1/comments/0/answers": {"text": "t"},
    "POST follow-ups/0/closing": {"note": "n"},
    "POST deputies": {"deputy": "kari", "until": "2999-01-01T00:00:00Z"},
    "POST requests/1/sign-offs": {"answer": "agree", "release_digest": "x", "assessment_digest": "x"},
}
WHO = {"r": "runa", "t": "tomas", "j": "jonas", "i": "ines", "p": "pell", "c": "ci-berths"}


def test_no_endpoint_is_missing_from_the_table():
    shapes = {re.sub(r"<[^>]+>", "*", route) for route in _routes(get_resolver().url_patterns)}
    known = set()
    for endpoint in ENDPOINTS:
        path = endpoint.split(" ")[1]
        path = re.sub(
            r"(?<=servers/)[^/]+|(?<=releases/)[^/]+|(?<=requests/)\d+|(?<=tokens/)\d+|(?<=sessions/)\d+|(?<=styles/)\d+|(?<=waivers/)\d+|(?<=rulings/)\d+|(?<=versions/)\d+|(?<=comments/)\d+|(?<=follow-ups/)\d+|(?<=deputies/)\d+|(?<=people/)[^/]+|(?<=known-findings/)\d+|(?<=^kits/)[^/]+|(?<=webhooks/)\d+|(?<=user-notes/)\d+|(?<=deliveries/)[^/]+",
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


@pytest.mark.parametrize("letter", WHO)
def test_each_endpoint_lets_in_whom_the_table_says_with_which_scopes(
    letter, api, submitted, published, monkeypatch, settings
):
    """Role by endpoint by scope: each is called with all scopes that the role can have, and without each of them."""
    monkeypatch.setattr(rate_limit, "SIGN_INS_PER_MINUTE", 100_000)
    submitted()
    published("1.4.1")
    settings.CONFIG = replace(settings.CONFIG, webhook_allow=("http://127.0.0.1:9",))
    make_webhook(history.actor("tomas"), "berths", "http://127.0.0.1:9/hook")
    leave_note(history.actor("edda"), "berth-planner", "1.4.1", "t")
    put_kit(history.actor("tomas"), KIT)
    put_kit(history.actor("tomas"), KIT.replace('"internal"', '"restricted"'), reason="r")
    scopes = {"c": SCOPES[:3], "p": SCOPES}.get(letter, (*SCOPES[:5], "tokens"))
    whole = api(WHO[letter], *scopes)
    without = {
        SCOPE_OF[one]: api(WHO[letter], *(other for other in scopes if other != one)) for one in scopes
    }
    wrong = []
    for endpoint, told in ENDPOINTS.items():
        who, needs = told.split()
        status = _answer(whole, endpoint)
        lacking = {one: _answer(token, endpoint) for one, token in without.items()}
        hidden = endpoint.split(" ")[1].startswith(("requests/1", "webhooks/1"))
        barred = {403, 404} if hidden else {403}
        if letter in who:
            needed = {one for one, other in lacking.items() if other != status}
            holds = status not in barred and needed == set(needs) & set(lacking)
            holds = holds and {lacking[one] for one in needed} <= {403, 404}
        else:
            holds = status in barred and set(lacking.values()) <= {403, 404}
        if not holds:
            wrong.append((endpoint, told, status, lacking))
    assert not wrong, "\n".join(map(str, wrong))


def _answer(token: Api, endpoint: str) -> int:
    """Call, undo what it did, and return how it was answered."""
    method, path = endpoint.split(" ")
    with transaction.atomic():
        status, _ = token.call(method, path + QUERIES.get(endpoint, ""), BODIES.get(endpoint, {}))
        transaction.set_rollback(True)
    return status
