"""The demo, really running: started by its own command, stopped by Ctrl-C."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx
import pytest

from tallshelf.client import Shelf
from tallshelf.run.scenario.people import PASSWORD

CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


COUNT_FETCHES = """
window.__fetching = 0;
const fetched = window.fetch;
window.fetch = (...asked) => {
  window.__fetching += 1;
  return fetched(...asked).finally(() => setTimeout(() => { window.__fetching -= 1; }, 80));
};
"""
"""Counts what a page asks for, until a moment after the answer: by then it has asked for what follows from it."""


@dataclass
class Demo:
    """A running demo: its address, its directory, and ways in."""

    url: str
    data: Path
    process: subprocess.Popen[str]
    tokens: dict[str, str] = field(default_factory=dict)

    def token(self, username: str) -> str:
        """Return a token of that person, made by session as the console would, the first time."""
        if username not in self.tokens:
            self.tokens[username] = self._make_token(username)
        return self.tokens[username]

    def _make_token(self, username: str) -> str:
        with httpx.Client(base_url=self.url, timeout=60) as http:
            http.get("/")
            body = {"username": username, "password": PASSWORD}
            http.post("/api/v1/session", json=body).raise_for_status()
            headers = {"X-CSRFToken": http.cookies["tallshelf_csrf"]}
            wanted = ["read", "check", "submit", "sign", "curate"]
            made = http.post("/api/v1/tokens", json={"name": "e2e", "scopes": wanted}, headers=headers)
            return str(made.raise_for_status().json()["secret"])

    def shelf(self, username: str) -> Shelf:
        return Shelf(self.url, self.token(username))

    def run(
        self, *words: str, by: str = "", stdin: str = "", at: Path | None = None, **env: str
    ) -> subprocess.CompletedProcess[str]:
        """Run the command line as one of the people, from the demo's directory or another."""
        names = {"PATH": os.environ["PATH"], "HOME": str(self.data), "TALLSHELF_DATA": str(self.data)}
        if by:
            names |= {"TALLSHELF_URL": self.url, "TALLSHELF_TOKEN": self.token(by)}
        return subprocess.run(
            [sys.executable, "-m", "tallshelf", *words],
            cwd=at or self.data,
            env=names | env,
            input=stdin,
            capture_output=True,
            text=True,
            timeout=300,
            check=False,
        )


def free_ports_in_a_row() -> int:
    """Return the first of seven free ports in a row; each worker looks where no other does, since a demo loads long."""
    worker = int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw"))
    lowest = 10_000 + 5_000 * (worker % 4)
    for first in range(lowest + os.getpid() % 3_000, lowest + 4_990, 7):
        if all(_is_free(first + step) for step in range(7)):
            return first
    raise AssertionError("no free ports")


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) != 0


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Demo]:
    data = tmp_path_factory.mktemp("demo") / "data"
    port = free_ports_in_a_row()
    words = ["-m", "tallshelf", "demo", "--data", str(data), "--port", str(port)]
    env = {name: value for name, value in os.environ.items() if not name.startswith(("TALLSHELF", "DJANGO"))}
    process = subprocess.Popen(
        [sys.executable, *words],
        env=env,
        cwd=data.parent,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    url = f"http://127.0.0.1:{port}"
    until = time.monotonic() + 120
    while time.monotonic() < until and process.poll() is None:
        try:
            if httpx.get(f"{url}/health/ready").status_code == 200:
                break
        except httpx.TransportError:
            time.sleep(0.2)
    else:
        process.kill()
        raise AssertionError(f"the demo did not come up: {process.communicate()[0]}")
    yield Demo(url, data, process)
    process.send_signal(signal.SIGINT)
    output, _ = process.communicate(timeout=30)
    assert process.returncode == 0, output
    assert PASSWORD in output
    assert url in output
    assert sorted(one.name for one in data.parent.iterdir()) == ["data"]


@pytest.fixture(scope="module")
def browser() -> Iterator[Any]:
    """A browser for one module: while its driver runs, no other test of the process can run an event loop."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield chromium
        chromium.close()


@pytest.fixture(scope="session")
def cookies() -> dict[str, Any]:
    """The cookies of people who have signed in, by user name."""
    return {}


@pytest.fixture
def sign_ins(browser, demo, cookies):
    """Return the cookies of one of the people, signed in through the page once."""

    def of(username: str) -> Any:
        if username not in cookies:
            context = browser.new_context(base_url=demo.url)
            page = context.new_page()
            page.goto("/")
            page.get_by_label("Name", exact=True).fill(username)
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            page.get_by_role("navigation").first.wait_for()
            cookies[username] = context.storage_state()
            context.close()
        return cookies[username]

    return of


@pytest.fixture
def pages(browser, demo, sign_ins):
    """Open a page as one of the people; an error on its console that was not expected fails the test.

    Questions that the page asks (`page.dialogs`) are answered with no.
    """
    opened: list[tuple[Any, list[str], list[int]]] = []

    def make(username: str, **options: Any) -> Any:
        options = {"viewport": {"width": 1280, "height": 800}, **options}
        context = browser.new_context(base_url=demo.url, storage_state=sign_ins(username), **options)
        page, errors, statuses = context.new_page(), [], []
        page.add_init_script(COUNT_FETCHES)
        page.dialogs = []
        page.on("dialog", lambda dialog: (page.dialogs.append(dialog.message), dialog.dismiss()))
        page.on("console", lambda one: errors.append(one.text) if one.type == "error" else None)
        page.on("pageerror", lambda one: errors.append(str(one)))
        page.expected_error = statuses.append
        opened.append((context, errors, statuses))
        return page

    yield make
    for context, errors, statuses in opened:
        context.close()
        assert [one for one in errors if not any(_expected(one, status) for status in statuses)] == []


def _expected(message: str, status: int) -> bool:
    """Whether the browser only reports an answer of that status (0: none came)."""
    return (f"status of {status}" in message) if status else ("net::ERR" in message or "import" in message)
