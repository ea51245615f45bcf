"""A small company in the database, and a client for each of its people."""

from __future__ import annotations

import copy
import json
import threading
from collections.abc import Callable
from dataclasses import replace
from http.server import ThreadingHTTPServer
from typing import Any

import pytest
from django.conf import settings as django_settings
from django.test import Client

from tallshelf.run.scenario import history, player
from tallshelf.run.scenario.declarations import declared
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import overlap
from tallshelf.service.jobs.actions import run_due
from tallshelf.service.people import actions as people
from tallshelf.service.people.models import Person
from tallshelf.service.review import actions as review
from tallshelf.service.web import rate_limit
from tests.service.post import PORT, SMTP, Hooks, alone_at_the_ports

KIT = """\
name = "berth-helper"
title = "A helper for berths"
team = "berths"
contacts = ["berths@pellam.example"]
purpose = "Finds a berth."
budget = 4000
data_class = "internal"

[[picks]]
server = "berth-planner"
version = "^1.4"
items = ["find_free_berth"]
"""

LAUNCH = {"environment": "production", "transport": "stdio", "command": "berth-planner"}


class Api:
    """One account over HTTP, by token; answers are ``(status, body)``."""

    def __init__(self, username: str, scopes: tuple[str, ...], days: int = 1) -> None:
        actor = history.actor(username)
        made = people.make_token(
            people.SETUP if actor.role == "ci" else actor, "test", scopes, days, username=username
        )
        self.headers = {"Authorization": f"Bearer {made[1]}"}
        self._client = Client()

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        answer = self._client.generic(
            method, f"/api/v1/{path}", json.dumps(body), "application/json", headers=self.headers
        )
        if answer.streaming:
            return answer.status_code, [json.loads(line) for line in b"".join(answer).splitlines()]
        return answer.status_code, json.loads(answer.content) if answer.content else None

    def get(self, path: str) -> tuple[int, Any]:
        return self.call("GET", path)

    def post(self, path: str, body: Any = None) -> tuple[int, Any]:
        return self.call("POST", path, {} if body is None else body)


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """Hash passwords quickly: what is tested is not how slow that is."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def fresh_pace():
    """Let no test wait for the calls of another."""
    rate_limit.forget_all()


@pytest.fixture
def company(db):
    """Teams, desks and accounts of the scenario, and an empty berth-planner."""
    overlap.forget()
    history.add_people()
    catalog.enrol_server(
        history.actor("tomas"),
        "berth-planner",
        title="Berth planner",
        team="berths",
        contact="berths@pellam.example",
        use="open",
    )


@pytest.fixture
def api(company) -> Callable[..., Api]:
    """Return an API for an account, with all the scopes its role can have unless told."""

    def make(username: str, *scopes: str) -> Api:
        role = Person.objects.get(username=username).role
        people = ("read", "check", "submit", "sign", "curate", "tokens")
        most = ("read", "check", "submit") if role == "ci" else people
        return Api(username, scopes or most)

    return make


def submission(version: str = "1.4.2", **more: Any) -> dict[str, Any]:
    """The body of a submission of the berth planner, as of a scenario's release without its safety finding."""
    known = version if version in ("1.4.1", "1.4.2", "1.5.0") else "1.4.2"
    snapshot = copy.deepcopy(declared("berth-planner", known))
    for tool in snapshot["tools"]:
        if tool["name"] == "release_berth":
            tool["annotations"] = {"readOnlyHint": False, "destructiveHint": True}
    return {"snapshot": snapshot, "version": version, "launch": [LAUNCH], **more}


def agree_to(request: dict[str, Any]) -> dict[str, Any]:
    """Return the body that agrees to a request as it was seen, despite the gates that fail there."""
    return {
        "answer": "agree",
        "release_digest": request["release_digest"],
        "assessment_digest": request["assessment"]["digest"],
        "despite": [{"gate": one["gate"], "reason": "r"} for one in request["assessment"]["gates"]],
    }


def altered(body: dict[str, Any], description: str) -> dict[str, Any]:
    """The same submission with one tool's description changed."""
    other = copy.deepcopy(body)
    other["snapshot"]["tools"][0]["description"] = description
    return other


@pytest.fixture
def submitted(company):
    """A request to publish berth-planner 1.4.2, open, by tomas."""

    def make(version: str = "1.4.2") -> Any:
        tomas = history.actor("tomas")
        one = review.read_submission(tomas, *list(submission(version).values())[:3])
        return review.submit(tomas, "berth-planner", one)[0]

    return make


def work() -> None:
    """Do what workers would: the jobs that are due."""
    while run_due():
        pass


def ended(act: str, version: str, reason: str = "r", **more: Any) -> Any:
    """Let a release end: tomas asks for it, and every desk agrees."""
    draft = review.RequestDraft(act, "berth-planner", reason, version, **more)
    return player.agree(review.ask(history.actor("tomas"), draft)[0])


@pytest.fixture
def published(submitted):
    """Publish a version of the berth planner, agreed to by the right people."""

    def make(version: str = "1.4.2") -> Any:
        request = submitted(version)
        player.agree(request)
        return review.publish(history.actor("tomas"), request.pk)

    return make


@pytest.fixture
def reached(settings):
    """Settings by which mail and webhooks go to this test, and to no other that runs in a process forked from here."""
    with alone_at_the_ports():
        settings.CONFIG = replace(
            django_settings.CONFIG,
            mail_host="127.0.0.1",
            mail_port=SMTP,
            mail_security="none",
            mail_sender="Tall Shelf <shelf@pellam.example>",
            webhook_allow=(f"http://127.0.0.1:{PORT}",),
            address="https://shelf.pellam.example",
        )
        yield


@pytest.fixture
def hooks(reached):
    Hooks.came, Hooks.statuses = [], []
    server = ThreadingHTTPServer(("127.0.0.1", PORT), Hooks)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield Hooks
    server.shutdown()
    server.server_close()
