"""One's own sign-ins and password."""

from __future__ import annotations

import gzip
import json
from typing import Any

from django.test import Client

from tallshelf.run.scenario.people import PASSWORD
from tallshelf.service.people.models import ConsoleSession


class Browser:
    """A console session, with its CSRF token on what changes something."""

    def __init__(self, username: str, password: str = PASSWORD, agent: str = "Firefox/1") -> None:
        self.http = Client(enforce_csrf_checks=True, headers={"User-Agent": agent})
        self.http.get("/")
        self.status = self.call("POST", "session", {"username": username, "password": password})[0]

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        cookie = self.http.cookies.get("tallshelf_csrf")
        answer = self.http.generic(
            method,
            f"/api/v1/{path}",
            json.dumps(body or {}),
            "application/json",
            headers={"X-CSRFToken": cookie.value if cookie else ""},
        )
        return answer.status_code, json.loads(answer.content) if answer.content else None


def test_sessions_are_listed_and_ended(company):
    laptop, phone = Browser("runa"), Browser("runa", agent="Phone/2")
    other = Browser("tomas")
    _, page = laptop.call("GET", "sessions")
    assert [(row["browser"], row["own"]) for row in page["results"]] == [
        ("Phone/2", False),
        ("Firefox/1", True),
    ]
    number = page["results"][0]["id"]
    assert other.call("DELETE", f"sessions/{number}")[0] == 404
    assert laptop.call("DELETE", f"sessions/{number}")[0] == 204
    assert phone.call("GET", "tokens")[0] == 401
    assert len(laptop.call("GET", "sessions")[1]["results"]) == 1
    laptop.call("DELETE", "session")
    assert laptop.call("GET", "sessions")[0] == 401


def test_a_new_password_ends_the_other_sessions_and_keeps_this_one(company):
    here, there = Browser("runa"), Browser("runa")
    assert here.call("POST", "password", {"old": "wrong", "new": "quite another one"})[0] == 403
    assert here.call("POST", "password", {"old": PASSWORD, "new": "short"})[0] == 400
    assert here.call("POST", "password", {"old": PASSWORD, "new": "quite another one"})[0] == 204
    assert here.call("GET", "tokens")[0] == 200
    assert [row["own"] for row in here.call("GET", "sessions")[1]["results"]] == [True]
    assert there.call("GET", "tokens")[0] == 401
    assert Browser("runa").status == 401
    assert Browser("runa", "quite another one").status == 200


def test_two_people_on_two_tabs_of_one_browser_each_stay_signed_in_until_the_other_signs_in(company):
    browser = Client()
    for username in ("ines", "tomas", "ines"):
        body = {"username": username, "password": PASSWORD}
        assert browser.post("/api/v1/session", body, content_type="application/json").status_code == 200
        told = browser.get("/api/v1/session").json()["person"]
        assert told is not None and told["username"] == username
    assert not ConsoleSession.objects.filter(key="").exists()


def test_answers_are_compressed_unless_they_may_hold_a_secret(api):
    asks = api("ines")
    headers = {**asks.headers, "Accept-Encoding": "gzip"}
    plain = asks._client.get("/api/v1/rules", headers=asks.headers)
    small = asks._client.get("/api/v1/rules", headers=headers)
    assert small["Content-Encoding"] == "gzip" and "Accept-Encoding" in small["Vary"]
    assert len(small.content) * 3 < len(plain.content) and gzip.decompress(small.content) == plain.content
    again = asks._client.get("/api/v1/rules", headers={**headers, "If-None-Match": small["ETag"]})
    assert again.status_code == 304
    for path in ("session", "tokens"):
        assert "Content-Encoding" not in asks._client.get(f"/api/v1/{path}", headers=headers)
