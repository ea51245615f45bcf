"""What stands between a stranger and the service: pace, headers, cookies, sessions and passwords."""

from __future__ import annotations

import dataclasses
import json
import logging
import subprocess
import sys
import threading
import time
from datetime import timedelta
from pathlib import Path

import pytest
from django.contrib.sessions.models import Session
from django.test import Client

from tallshelf.core.errors import BadArgument
from tallshelf.run.scenario.people import PASSWORD
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock, scheduler
from tallshelf.service.catalog import comparing, linting, queries
from tallshelf.service.people import accounts
from tallshelf.service.people.models import ConsoleSession, IdempotencyRecord, Person
from tallshelf.service.people.passwords import choose
from tallshelf.service.purging import purge
from tallshelf.service.web import rate_limit

SIGN_IN = "/api/v1/session"


@pytest.fixture
def set_to(settings):
    def change(**values):
        settings.CONFIG = dataclasses.replace(settings.CONFIG, **values)

    return change


def sign_in(browser: Client, username: str, password: str = PASSWORD, **headers: str) -> int:
    body = {"username": username, "password": password}
    return browser.post(SIGN_IN, body, "application/json", headers=headers).status_code


def in_a_service_of_its_own(data: Path, code: str) -> subprocess.CompletedProcess[str]:
    """Run some lines under the settings of a data directory, which are read but once in a process."""
    first = "import pathlib; from tallshelf.run.service_setup import migrate, prepare\n"
    words = [sys.executable, "-c", f"{first}prepare(pathlib.Path({str(data)!r})); migrate()\n{code}"]
    environ = {"PATH": "/usr/bin:/bin", "HOME": str(data)}
    return subprocess.run(words, env=environ, capture_output=True, text=True, timeout=120, check=False)


def test_a_minutes_calls_may_come_at_once_and_then_as_many_a_minute(monkeypatch):
    now = time.time()
    monkeypatch.setattr(time, "time", lambda: now)
    assert [rate_limit.take("a", 4) for _ in range(5)] == [0, 0, 0, 0, 15.0]
    now += 15
    assert (rate_limit.take("a", 4), rate_limit.take("a", 4)) == (0, 15.0)
    assert rate_limit.take("b", 4) == 0  # others are not kept waiting
    now -= 3600  # the clock is set back: nobody waits for an hour
    assert rate_limit.take("a", 4) == 0
    now += 7200
    rate_limit.forget_past()
    assert rate_limit._file().execute("select count(*) from pace").fetchone() == (0,)


def test_however_many_threads_count_together_no_more_get_through():
    """Each thread has a connection of its own to the file, as each worker process has."""
    through = []

    def call():
        for _ in range(40):
            if not rate_limit.take("a", 100):
                through.append(1)

    threads = [threading.Thread(target=call) for _ in range(6)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert 100 <= len(through) <= 105  # a few are free again by then


def test_an_address_cannot_be_made_up(company, settings):
    tries = [sign_in(Client(), "ines", "wrong", X_Forwarded_For=f"10.0.0.{n}") for n in range(22)]
    assert tries == [401] * rate_limit.SIGN_INS_PER_MINUTE + [429] * 2
    settings.REST_FRAMEWORK = {**settings.REST_FRAMEWORK, "NUM_PROXIES": 1}
    behind = [sign_in(Client(), "ines", "wrong", X_Forwarded_For=f"{n}, 10.0.0.9") for n in range(21)]
    assert behind[-2:] == [401, 429]  # the proxy's word is the last
    assert sign_in(Client(), "ines", X_Forwarded_For="10.0.0.9, 10.0.0.8") == 200


def test_a_session_that_lies_idle_ends_and_an_open_page_does_not_keep_it(company, set_to):
    set_to(idle_minutes=30)
    browser, start = Client(), clock.now()
    sign_in(browser, "runa")
    for minutes, path, status in (
        (20, "teams", 200),
        (45, "teams", 200),
        (60, "inbox", 200),
        (74, "inbox", 200),
        (76, "teams", 401),
    ):
        with clock.at(start + timedelta(minutes=minutes)):
            assert browser.get(f"/api/v1/{path}").status_code == status, minutes
    assert browser.get("/api/v1/teams").status_code == 401
    assert not ConsoleSession.objects.exists()


def test_a_session_in_use_stands_however_short_idleness_may_last(company, set_to):
    set_to(idle_minutes=5)
    browser, start = Client(), clock.now()
    sign_in(browser, "runa")
    for minutes in (1, 4, 8, 12, 16):
        with clock.at(start + timedelta(minutes=minutes, seconds=30)):
            assert browser.get("/api/v1/teams").status_code == 200, minutes


def test_sessions_that_stand_no_more_are_not_listed_and_then_forgotten(company, api, set_to):
    set_to(idle_minutes=30)
    sign_in(Client(), "runa")
    pell = api("pell", "read", "administer")
    runas = lambda: next(row for row in pell.get("people")[1]["results"] if row["username"] == "runa")  # noqa: E731
    assert runas()["sessions"] == 1
    with clock.at(clock.now() + timedelta(minutes=40)):
        assert runas()["sessions"] == 0
        scheduler.tick()
        assert not ConsoleSession.objects.exists()
    Session.objects.update(expire_date=clock.now())
    IdempotencyRecord.objects.create(
        person_id=actor("runa").id, key="k", fingerprint="f", status=200, body="{}", at=clock.now()
    )
    with clock.at(clock.now() + timedelta(hours=25)):
        scheduler.tick()
    assert not Session.objects.exists() and not IdempotencyRecord.objects.exists()


def test_a_worker_forgets_what_another_process_purged(published):
    first, second = (published(version).release for version in ("1.4.1", "1.4.2"))
    scheduler.tick()
    before = queries.comparison(first, second)
    assert before.changes and linting.findings_of(second)
    counted = comparing._releases.cache_info().currsize, linting._found.cache_info().currsize
    scheduler.tick()
    assert (comparing._releases.cache_info().currsize, linting._found.cache_info().currsize) == counted
    purge(actor("pell"), "berth-planner", "1.4.2", "tool:book_berth", "leaked")
    scheduler.tick()
    assert linting._found.cache_info().currsize == 0
    assert queries.comparison(first, second).new_digest != before.new_digest, (
        "read anew, without what is gone"
    )


def test_answers_carry_the_headers(api):
    page, people = Client().get("/"), Client().get("/api/v1/tokens", headers=api("runa").headers)
    policy = page.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy and "frame-ancestors 'none'" in policy
    wanted = {
        "X-Content-Type-Options": "nosniff",
        "Referrer-Policy": "same-origin",
        "Cross-Origin-Opener-Policy": "same-origin",
    }
    assert wanted.items() <= dict(page.headers).items() and wanted.items() <= dict(people.headers).items()
    assert people.headers["Cache-Control"] == "no-store"
    catalog = Client().get("/api/v1/teams", headers=api("runa").headers)
    assert catalog.headers["Cache-Control"] == "private, no-cache"


def test_a_write_of_another_site_is_refused_with_a_problem_document_where_no_view_sees_it_too():
    browser = Client(enforce_csrf_checks=True)
    browser.get("/")
    for path in ("/", "/servers/tide-tables"):
        found = browser.post(path, {"a": "b"})
        assert (found.status_code, found.headers["Content-Type"]) == (403, "application/problem+json")
        assert "CSRF" in found.json()["detail"]


def test_behind_a_proxy_that_ends_tls_cookies_are_of_this_host_and_tls_is_kept_to(tmp_path):
    (tmp_path / "tallshelf.toml").write_text("[service]\nhttps = true\nproxies = 1\n", "utf-8")
    code = """
import json
from django.test import Client
found = Client().get("/", headers={"X-Forwarded-Proto": "https"}, HTTP_HOST="localhost")
cookie = found.cookies["__Host-tallshelf_csrf"]
print(json.dumps([found.headers["Strict-Transport-Security"], cookie["secure"], cookie["path"], cookie["domain"]]))
"""
    done = in_a_service_of_its_own(tmp_path, code)
    assert json.loads(done.stdout) == ["max-age=31536000; includeSubDomains", True, "/", ""]


@pytest.mark.parametrize(
    ("password", "words"),
    [
        ("short", "too short"),
        ("password1234", "too common"),
        ("ines-fjord", "too similar"),
        ("TallShelf-2026", "name of this service"),
        ("tall.shelf.pellam.1", "name of this service"),
    ],
)
def test_a_password_that_is_easily_guessed_is_refused(set_to, password, words):
    set_to(allowed_hosts=("shelf.pellam.example",))
    person = Person(username="ines", name="Ines Fjordheim")
    with pytest.raises(BadArgument, match=words):
        choose(person, password)
    assert not person.password


@pytest.mark.parametrize(
    "password", ["basalt-lantern", "a b c d e f g h", "ü" * 5 + "x" * 195, "tall basalt lantern"]
)
def test_a_password_that_is_long_and_unusual_may_be_anything(password):
    person = Person(username="ines", name="Ines Fjordheim")
    choose(person, password)
    assert person.check_password(password) and not person.check_password(password[:-1])


def test_a_list_of_known_passwords_is_refused_as_well(tmp_path):
    (tmp_path / "known.txt").write_text("basalt-lantern\n", "utf-8")
    (tmp_path / "tallshelf.toml").write_text(
        f'[service]\nrefused_passwords = "{tmp_path}/known.txt"\n', "utf-8"
    )
    code = """
from tallshelf.service.people.passwords import choose
from tallshelf.service.people.models import Person
choose(Person(username="ines"), "Basalt-Lantern")
"""
    done = in_a_service_of_its_own(tmp_path, code)
    assert done.returncode == 1 and "BadArgument: This password is too common" in done.stderr


def test_where_the_issuer_alone_vouches_nobody_has_a_password(company, api, set_to):
    set_to(passwords=False, oidc_issuer="https://id.pellam.example")
    pell = api("pell", "read", "administer")
    assert sign_in(Client(), "ines") == 403
    assert Client().get(SIGN_IN).json()["passwords"] is False
    assert pell.post("people/ines/invitation")[0] == 403
    _, made = pell.post("people", {"username": "odd", "name": "Odd Berg", "role": "reader"})
    assert made == {"username": "odd", "code": ""}
    with pytest.raises(accounts.Denied, match="nobody has a password here"):
        accounts.accept_invite("code", "basalt-lantern")


def test_the_log_says_who_tried_from_where_and_why_not(company, caplog):
    with caplog.at_level(logging.INFO, "tallshelf.request"):
        sign_in(Client(), "ines", "wrong")
        sign_in(Client(), "not-a-name-but-a-secret", "wrong")
        sign_in(Client(), "ines")
    told = [record.msg for record in caplog.records if record.name == "tallshelf.request"]
    kept = [
        {name: line.get(name) for name in ("status", "tried", "by", "problem", "address")} for line in told
    ]
    refused = {"status": 401, "problem": "sign-in-needed", "by": "", "address": "127.0.0.1"}
    assert kept[:2] == [{**refused, "tried": "ines"}, {**refused, "tried": None}]
    assert (kept[2]["status"], kept[2]["by"], kept[2]["problem"]) == (200, "ines", None)
    assert "secret" not in str(told) and "wrong" not in str(told)


def test_what_somebody_asks_for_cannot_write_lines_of_its_own(db, caplog):
    with caplog.at_level(logging.INFO, "tallshelf.request"):
        Client().get("/api/v1/x%0A%1B%5B2Jforged/tls_0123456789abcdef")
    (line,) = [record.msg for record in caplog.records if record.name == "tallshelf.request"]
    assert line["path"] == "/api/v1/x \\u{001b}[2Jforged/tls_…"


@pytest.mark.parametrize("path", ["/", "/health/live", "/oidc/begin", "/api/v1/teams"])
def test_no_other_method_is_answered(db, path):
    assert Client().generic("TRACE", path).status_code in (401, 405)
