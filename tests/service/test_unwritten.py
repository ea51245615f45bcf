"""A database that cannot be written: what is read is answered, what writes is refused with 503, and ready says why."""

from __future__ import annotations

import dataclasses
import shutil
import sqlite3
from contextlib import contextmanager

import pytest
from django.db import OperationalError, connection
from django.test import Client

from tallshelf.core.errors import Unavailable
from tallshelf.service import unwritten
from tallshelf.service.web import rate_limit
from tests.service.conftest import submission
from tests.service.test_contract import calls, document, filled  # noqa: F401 - a fixture


@contextmanager
def read_only():
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA query_only = on")
        try:
            yield
        finally:
            cursor.execute("PRAGMA query_only = off")


def test_every_reading_call_is_answered_where_nothing_can_be_written(document, api, published):  # noqa: F811
    published()
    asks = api("ines")
    read, failed = 0, []
    with read_only():
        for path, _ in calls(document, "get"):
            status, problem = asks.get(filled(path))
            read += status == 200
            if status >= 500:
                failed.append((path, problem))
    assert failed == []
    assert read > 25


def test_what_writes_is_refused_with_a_reason_and_when_to_try_again(api, published):
    published()
    tomas, client = api("tomas"), Client(raise_request_exception=False)
    with read_only():
        status, problem = tomas.post("servers/berth-planner/releases", submission("1.5.0"))
        assert (status, problem["type"]) == (503, "urn:tallshelf:problem:unavailable")
        assert "read-only" in problem["detail"]
        answer = client.post(
            "/api/v1/session", {"username": "ines", "password": "x"}, content_type="application/json"
        )
        assert answer.status_code in (401, 503)
    answer = tomas._client.post(
        "/api/v1/suspensions", {}, content_type="application/json", headers=tomas.headers
    )
    assert answer.status_code == 400


@pytest.mark.parametrize(
    ("said", "told"),
    [
        ("database or disk is full", "the disk of the data directory is full"),
        ("database is locked", "locked by another process"),
        ("attempt to write a readonly database", "read-only"),
        ("unable to open database file", "cannot be opened"),
        ("disk I/O error", "its disk fails or is full"),
        ("database disk image is malformed", "damaged"),
        ("file is not a database", "damaged"),
        ("something new", "does not answer"),
    ],
)
def test_a_fault_of_the_database_is_said_in_words_by_every_way_out(api, monkeypatch, said, told):
    from tallshelf.service.catalog import shelf
    from tallshelf.service.web import console

    def fails(*_, **__):
        raise OperationalError(said)

    monkeypatch.setattr(shelf, "servers", fails)
    asks = api("ines")
    answer = asks._client.get("/api/v1/servers", headers=asks.headers)
    assert (answer.status_code, answer["Retry-After"]) == (503, "5")
    assert told in answer.json()["detail"]
    # Outside of the API's views, too: no page of Django's.
    monkeypatch.setattr(console, "settings", None)
    client = Client(raise_request_exception=False)
    answer = client.get("/shelf")
    assert (answer.status_code, answer["Content-Type"]) == (500, "application/problem+json")
    monkeypatch.setattr("tallshelf.service.web.problem_pages._page", fails)
    answer = client.get("/problems")
    assert (answer.status_code, told in answer.json()["detail"]) == (503, True)


def test_where_calls_cannot_be_counted_they_are_made_and_signing_in_is_refused(api, monkeypatch):
    def fails(*_):
        raise sqlite3.OperationalError("database or disk is full")

    monkeypatch.setattr(rate_limit, "take", fails)
    asks = api("ines")
    assert asks.get("servers")[0] == 200
    status, problem = asks.post("session", {"username": "ines", "password": "wrong wrong"})
    assert (status, "disk of the data directory is full" in problem["detail"]) == (503, True)


def test_ready_says_why_nothing_can_be_written(db, settings, tmp_path, monkeypatch):
    assert unwritten.why_not_writable() == ""
    monkeypatch.setitem(connection.settings_dict, "NAME", tmp_path / "gone.sqlite3")
    assert "gone from the data directory" in unwritten.why_not_writable()
    with pytest.raises(Unavailable, match="gone from the data directory"):
        unwritten.refuse_if_gone()
    monkeypatch.undo()
    monkeypatch.setattr(settings, "CONFIG", dataclasses.replace(settings.CONFIG, data=tmp_path / "no-such"))
    monkeypatch.setattr(unwritten.shutil, "disk_usage", lambda _: shutil._ntuple_diskusage(1, 0, 1 << 40))
    assert "cannot be written: No such file or directory" in unwritten.why_not_writable()
    monkeypatch.undo()
    monkeypatch.setattr(unwritten, "LEAST_FREE_BYTES", 1 << 60)
    assert "the disk of the data directory is full" in unwritten.why_not_writable()
