"""The catalog, connection blocks, suspensions, tokens, the ledger, and errors as problems."""

from __future__ import annotations

import json
from datetime import timedelta

import pytest
from django.db import DatabaseError, connection, transaction
from django.test import Client
from django.utils import timezone

from tallshelf.cli.exits import exit_code
from tallshelf.client import ProblemError, error_from
from tallshelf.core import errors
from tallshelf.core.errors import Conflict, Denied, Place, ShelfError
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.history import actor
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import queries
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.models import Entry
from tallshelf.service.ledger.queries import verify_ledger
from tallshelf.service.people import actions as people
from tallshelf.service.people.models import Token
from tallshelf.service.web.problems import STATUS, problem
from tests.service.conftest import ended


def enrol(number: int) -> None:
    catalog.enrol_server(
        actor("tomas"), f"server-{number:03}", title=f"Server {number}", team="berths", contact="c"
    )


@pytest.mark.parametrize("address", ["requests", "ledger", "servers", "waivers", "find?q=x"])
@pytest.mark.parametrize("cursor", ["WzFd", "dHJ1ZQ", "MWU0MDA", "Ilx1ZDgwMCI", "%00", "é", "-"])
def test_a_cursor_that_is_none_is_refused(api, address, cursor):
    mark = "&" if "?" in address else "?"
    status, problem = api("ines").get(f"{address}{mark}cursor={cursor}")
    assert status == 200 or (status, problem["type"]) == (400, "urn:tallshelf:problem:bad-argument")


def test_listing_is_paged_by_cursor_with_a_constant_number_of_queries(api, django_assert_num_queries):
    for number in range(7):
        enrol(number)
    tomas = api("tomas")
    seen, cursor = [], ""
    while cursor is not None:
        _, page = tomas.get(f"servers?limit=3{'&cursor=' + cursor if cursor else ''}")
        seen += [row["slug"] for row in page["results"]]
        cursor = page["next"]
    assert seen == sorted(seen)
    assert len(seen) == 8
    with django_assert_num_queries(4):  # token, person, places, rows
        tomas.get("servers?limit=2")
    with django_assert_num_queries(4):
        tomas.get("servers?limit=200")
    assert tomas.get("servers?limit=0")[0] == tomas.get("servers?cursor=%25")[0] == 400


def test_enrolling_is_idempotent_and_a_taken_slug_is_a_conflict(api):
    body = {"slug": "tide-tables", "title": "Tides", "team": "berths", "contact": "c"}
    tomas = api("tomas")
    assert [tomas.post("servers", body)[0] for _ in range(2)] == [201, 200]
    assert api("ines").post("servers", {**body, "team": "crew"})[0] == 409
    for bad in (
        {**body, "slug": "Bad Slug"},
        {**body, "data_class": "x"},
        {**body, "source_link": "javascript:1"},
    ):
        assert tomas.post("servers", bad)[0] == 400
    assert tomas.post("servers", {**body, "slug": "x2", "team": "nowhere"})[0] in (403, 404)


def test_connection_blocks_by_state(published):
    who = actor("runa")
    published("1.4.1")
    found = queries.connection(who, queries.release(who, "berth-planner", "current"), "")
    assert found["block"] == {"mcpServers": {"berth-planner": {"command": "berth-planner", "args": []}}}
    ended("deprecate", "1.4.1", "use 1.4.2")
    assert (
        "use 1.4.2" in queries.connection(who, queries.release(who, "berth-planner", "1.4.1"), "")["warning"]
    )
    ended("withdraw", "1.4.1", "harmful")
    with pytest.raises(Conflict, match="withdrawn"):
        queries.connection(who, queries.release(who, "berth-planner", "1.4.1"), "")
    published("1.4.2")
    catalog.suspend(actor("ines"), "berth-planner", "double bookings")
    with pytest.raises(Conflict, match="double bookings"):
        queries.connection(who, queries.release(who, "berth-planner", "current"), "")
    assert catalog.suspend(actor("ines"), "berth-planner", "again")[1] is False


def test_blocks_have_placeholders_for_secrets():
    stdio = {"environment": "p", "transport": "stdio", "command": "x", "env": ["TOKEN"]}
    assert queries._block(stdio)["env"] == {"TOKEN": "${TOKEN}"}
    remote = {
        "environment": "p",
        "transport": "streamable-http",
        "url": "https://x.example/",
        "headers": ["X-Key"],
    }
    assert queries._block(remote) == {
        "type": "http",
        "url": "https://x.example/",
        "headers": {"X-Key": "${X_KEY}"},
    }


def test_unpublished_releases_are_hidden_from_those_without_a_part(submitted, api):
    submitted()
    address = "servers/berth-planner/releases/1.4.2"
    statuses = {who: api(who).get(address)[0] for who in ("tomas", "ci-berths", "ines", "runa", "jonas")}
    assert statuses == {"tomas": 200, "ci-berths": 200, "ines": 200, "runa": 200, "jonas": 404}
    assert api("jonas").get("servers/berth-planner")[1]["releases"] == []


def test_tokens_are_hashed_limited_and_ended_at_once(api, company):
    token, secret = people.make_token(actor("tomas"), "ci", ["read"], 1)
    assert secret not in json.dumps(list(Token.objects.values()), default=str)
    assert people.actor_by_token(secret).scopes == {"read"}
    Token.objects.filter(pk=token.pk).update(expires_at=timezone.now() - timedelta(seconds=1))
    assert people.actor_by_token(secret) is None
    mine = api("tomas")
    _, made = mine.post("tokens", {"name": "mine", "scopes": ["read"], "days": 2})
    assert api("jonas").call("DELETE", f"tokens/{made['id']}")[0] == 404
    assert mine.call("DELETE", f"tokens/{made['id']}")[0] == 204
    assert people.actor_by_token(made["secret"]) is None
    with pytest.raises(Denied, match="its maker lacks"):
        people.make_token(
            people.actor_by_token(api("tomas", "tokens").headers["Authorization"][7:]), "x", ["submit"], 1
        )
    with pytest.raises(Denied, match="may read, check and submit"):
        people.make_token(people.SETUP, "x", ["sign"], 1, username="ci-berths")


def test_sessions_need_a_csrf_token_to_write(company):
    client = Client(enforce_csrf_checks=True)
    signed = client.post("/api/v1/session", {"username": "ines", "password": PASSWORD}, "application/json")
    assert signed.json()["person"]["role"] == "curator"
    body = {"server": "berth-planner", "reason": "r"}
    refused = client.post("/api/v1/suspensions", body, "application/json")
    assert (refused.status_code, refused.json()["detail"][:4]) == (403, "CSRF")
    token = client.cookies["tallshelf_csrf"].value
    headers = {"X-CSRFToken": token}
    assert client.post("/api/v1/suspensions", body, "application/json", headers=headers).status_code == 201
    wrong = client.post("/api/v1/session", {"username": "ines", "password": "no"}, "application/json")
    assert wrong.status_code == 401


def test_the_ledger_is_append_only_and_finds_every_edit(company):
    assert verify_ledger().fault == ""
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        Entry.objects.filter(number=2).update(actor="someone")
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        Entry.objects.filter(number=2).delete()
    with connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER ledger_entry_no_UPDATE")
        cursor.execute("DROP TRIGGER ledger_entry_no_DELETE")
    for damage, words in (
        (lambda: Entry.objects.filter(number=2).update(actor="someone"), "entry 2 was edited"),
        (lambda: Entry.objects.filter(number=3).delete(), "entry 3 is missing"),
        (lambda: _swap(3, 4), "entry 3"),
    ):
        mark = transaction.savepoint()
        damage()
        assert words in verify_ledger().fault
        transaction.savepoint_rollback(mark)
    assert verify_ledger().fault == ""


def _swap(first: int, second: int) -> None:
    Entry.objects.filter(number=first).update(number=10_000)
    Entry.objects.filter(number=second).update(number=first)
    Entry.objects.filter(number=10_000).update(number=second)


def test_events_are_registered_with_their_payload(company):
    with pytest.raises(ValueError, match="is not a valid Event"):
        record(people.SETUP, "made-up", {})
    with pytest.raises(ValueError, match="exactly"):
        record(people.SETUP, "team-added", {"team": "x"})


@pytest.mark.parametrize("name", [name for name in errors.__all__ if name != "Place"])
def test_every_error_becomes_a_problem_and_an_exit_code_and_comes_back(name):
    cls = getattr(errors, name)
    error = cls("a reason", remedy="a remedy", places=[Place("/a", "is wrong")])
    document = problem(error)
    assert document["status"] in STATUS.values()
    assert document["type"].endswith(cls.code)
    assert document["errors"] == [{"pointer": "/a", "detail": "is wrong"}]
    back = error_from(document, document["status"])
    assert isinstance(back, cls)
    assert isinstance(back, ProblemError)
    assert (back.reason, back.remedy, back.problem) == ("a reason", "a remedy", document)
    assert exit_code(error) in (2, 3)
    assert str(error) == "a reason"


def test_error_codes_are_unique():
    classes = [getattr(errors, name) for name in errors.__all__ if name != "Place"]
    assert all(issubclass(cls, ShelfError) for cls in classes)
    assert len({cls.code for cls in classes}) == len(classes)


def test_pages_health_headers_and_openapi(db):
    client = Client()
    assert client.get("/health/live").json() == {"live": True}
    assert client.get("/health/ready").json() == {"ready": True}
    document = client.get("/api/v1/openapi.json").json()
    assert document["openapi"].startswith("3.1")
    assert "/api/v1/requests/{number}/sign-offs" in document["paths"]
    missing = client.get("/api/v1/nowhere")
    assert (missing.status_code, missing.json()["status"]) == (404, 404)
    missing = client.get("/feeds/catalog")
    assert missing.status_code == 404 and "/feeds/catalog.atom" in missing.json()["remedy"]
    page = client.get("/servers/anything")
    assert "default-src 'none'" in page.headers["content-security-policy"]
    assert page.headers["x-content-type-options"] == "nosniff"


def test_the_openapi_document_is_written_without_a_warning(db, tmp_path):
    from django.core.management import call_command

    target = tmp_path / "openapi.yml"
    call_command("spectacular", "--validate", "--fail-on-warn", file=str(target))
    assert "bearer" in target.read_text("utf-8")


def test_two_releases_a_release_and_an_upload_and_two_tools_are_compared(published, api):
    published("1.4.1")
    published("1.4.2")
    runa = api("runa")
    _, whole = runa.get("comparison?old=berth-planner@1.4.1&new=berth-planner@1.4.2")
    body = {"old": "berth-planner@1.4.1", "snapshot": declared("berth-planner", "1.4.2"), "version": "1.5.0"}
    status, uploaded = runa.post("comparison", body)
    assert (status, uploaded["changes"]) == (200, whole["changes"])
    assert uploaded["next_version"] == {**whole["next_version"], "declared": "1.5.0", "is_honest": True}
    assert runa.post("comparison", {**body, "snapshot": {"tools": 1}})[0] == 422
    address = "stand-in?a=berth-planner@1.4.1%23find_free_berth&b=berth-planner%23find_free_berth"
    assert runa.get(address)[1]["stands_in"] is True
    assert runa.get("stand-in?a=berth-planner&b=berth-planner%23x")[0] == 400
    assert runa.get("stand-in?a=berth-planner%23x&b=berth-planner%23x")[0] == 404
    steps = runa.get("servers/berth-planner/timeline")[1]["steps"]
    assert [(one["version"], one["since"], one["impact"]) for one in steps] == [
        ("1.4.1", None, None),
        ("1.4.2", "1.4.1", "caution"),
    ]
