"""One's own sign-ins and password."""

from __future__ import annotations

import json
from typing import Any

from django.test import Client

from tallshelf.run.scenario.people import PASSWORD


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
