"""Signing in at an issuer: the stand-in of the demo, and issuers that lie."""

from __future__ import annotations

import dataclasses
import json
import subprocess
import sys
import time
from urllib.parse import parse_qs, urlsplit

import httpx
import pytest
from django.test import Client
from joserfc import jwt
from joserfc.jwk import ECKey

from tallshelf.run.ports import free_ports, wait_for
from tallshelf.run.scenario.player import actor
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people import accounts, oidc
from tallshelf.service.people.models import Person

KEY = ECKey.generate_key("P-256", {"kid": "k"})


@pytest.fixture(scope="module")
def issuer():
    (port,) = free_ports(1)
    words = [sys.executable, "-m", "tallshelf.run.scenario.issuer", "--port", str(port)]
    process = subprocess.Popen(words)
    wait_for(port)
    yield f"http://127.0.0.1:{port}"
    process.terminate()
    process.wait()


@pytest.fixture(autouse=True)
def configured(settings, issuer):
    settings.CONFIG = dataclasses.replace(
        settings.CONFIG,
        fetch_allow=(issuer,),
        oidc_issuer=issuer,
        oidc_client_id="tall-shelf",
        oidc_authorization_endpoint=f"{issuer}/authorize",
        oidc_token_endpoint=f"{issuer}/token",
        oidc_jwks_uri=f"{issuer}/keys",
    )
    return settings


def come_back(browser: Client, username: str) -> str:
    """Begin, say at the issuer who one is, and return where it sends the browser."""
    begun = browser.get("/oidc/begin")
    assert begun.status_code == 302
    answer = httpx.get(f"{begun.headers['Location']}&as={username}")
    place = urlsplit(answer.headers["location"])
    return f"{place.path}?{place.query}"


def test_whom_the_issuer_vouches_for_is_signed_in(company):
    browser = Client()
    assert browser.get(come_back(browser, "ines")).headers["Location"] == "/"
    session = browser.get("/api/v1/session").json()
    assert (session["person"]["username"], session["elsewhere"]) == ("ines", "the company's sign-in")
    assert len(browser.get("/api/v1/sessions").json()["results"]) == 1


@pytest.mark.parametrize("username", ["nobody", "ci-berths", "edda"])
def test_an_account_must_be_here_and_be_used_by_people(company, username):
    Person.objects.filter(username="edda").update(is_active=False)
    browser = Client()
    answer = browser.get(come_back(browser, username))
    assert answer.status_code == 403 and b"there is no account" in answer.content
    assert browser.get("/api/v1/session").json()["person"] is None


def test_an_answer_to_another_attempt_or_used_twice_is_refused(company):
    mine, other = Client(), Client()
    back = come_back(mine, "ines")
    assert other.get(back).status_code == 403
    assert mine.get(back.replace("state=", "state=x")).status_code == 403
    assert mine.get(back).status_code == 403  # the attempt is over
    again = come_back(mine, "ines")
    assert mine.get(again).status_code == 302
    assert mine.get(again).status_code == 403
    assert "code" in parse_qs(urlsplit(again).query)


CLAIMS = {"aud": "tall-shelf", "sub": "ines", "preferred_username": "ines", "nonce": "n"}


def test_attempts_are_counted(company):
    assert [Client().get("/oidc/begin").status_code for _ in range(21)] == [302] * 20 + [429]


def test_a_user_name_is_its_first_owners_until_the_account_was_switched_off(company, issuer, monkeypatch):
    assert sign_in_as(issuer, monkeypatch, {"sub": "first"}).username == "ines"
    assert sign_in_as(issuer, monkeypatch, {"sub": "first"}).username == "ines"
    with pytest.raises(oidc.Denied, match="somebody else before"):
        sign_in_as(issuer, monkeypatch, {"sub": "second"})
    for active in (False, True):
        accounts.change_account(actor("pell"), "ines", {"active": active})
    assert sign_in_as(issuer, monkeypatch, {"sub": "second"}).username == "ines"
    entries = [
        json.loads(body) for body in Entry.objects.filter(event="issuer-known").values_list("body", flat=True)
    ]
    assert [one["subject"] for one in entries] == ["first", "second"]


def test_a_second_factor_can_be_asked_of_the_issuer(company, issuer, monkeypatch, settings):
    settings.CONFIG = dataclasses.replace(settings.CONFIG, oidc_acr=("two-factors", "card"))
    assert "acr_values=two-factors+card" in Client().get("/oidc/begin").headers["Location"]
    for given in ({}, {"acr": "one-factor"}):
        with pytest.raises(oidc.Denied, match="does not hold"):
            sign_in_as(issuer, monkeypatch, given)
    assert sign_in_as(issuer, monkeypatch, {"acr": "card"}).username == "ines"


@pytest.mark.parametrize(
    ("wrong", "key"),
    [
        ({"iss": "https://elsewhere.example"}, KEY),
        ({"aud": "another-client"}, KEY),
        ({"nonce": "other"}, KEY),
        ({"exp": 1}, KEY),
        ({}, ECKey.generate_key("P-256", {"kid": "k"})),
    ],
)
def test_an_answer_that_does_not_hold_is_refused(company, issuer, monkeypatch, wrong, key):
    with pytest.raises(oidc.Denied, match="does not hold"):
        sign_in_as(issuer, monkeypatch, wrong, key)


def sign_in_as(issuer, monkeypatch, more, key=KEY) -> Person:
    """Come back from an issuer that says more, or something else, in its token."""
    now = int(time.time())
    claims = {"iss": issuer, **CLAIMS, "iat": now, "exp": now + 60, **more}
    token = jwt.encode({"alg": "ES256", "kid": "k"}, claims, key, algorithms=["ES256"])
    answers = iter([{"id_token": token}, {"keys": [KEY.as_dict(private=False)]}])
    monkeypatch.setattr(oidc, "ask_json", lambda *_: next(answers))
    attempt = {"state": "s", "nonce": "n", "verifier": "v", "at": now}
    return oidc.finish(attempt, "s", "code", "http://testserver/oidc/back")


def test_the_issuer_is_fetched_only_where_the_settings_allow(company, settings):
    browser = Client()
    back = come_back(browser, "ines")
    settings.CONFIG = dataclasses.replace(settings.CONFIG, fetch_allow=())
    answer = browser.get(back)
    assert answer.status_code == 403 and b"may not fetch" in answer.content


def test_without_an_issuer_there_is_no_such_door(company, settings):
    settings.CONFIG = dataclasses.replace(settings.CONFIG, oidc_issuer="")
    assert Client().get("/oidc/begin").status_code == 403
    assert Client().get("/api/v1/session").json()["elsewhere"] is None
