"""Takes the pictures of docs/screenshots from a fresh demo: ``make screenshots``."""

from __future__ import annotations

import html
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import httpx
from playwright.sync_api import sync_playwright

from tallshelf.run.scenario.people import PASSWORD

PORT = 8490
URL = f"http://127.0.0.1:{PORT}"
SERVER = "-m tallshelf.run.scenario.tool_server"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]

COMPARE = "/compare?old=berth-planner@1.4.2&new=berth-planner@1.5.0"
PAGES = {
    "shelf": ("/", "light", 1280),
    "find": ("/find?q=free+brth", "light", 1280),
    "server": ("/servers/berth-planner", "light", 1280),
    "release": ("/servers/crew-certificates/0.3.0", "light", 1280),
    "compare": (COMPARE, "light", 1280),
    "kit": ("/kits/dock-planner", "light", 1280),
    "overlaps": ("/overlaps", "light", 1280),
    "overlap-map": ("/overlap-map", "dark", 1280),
    "style": ("/style", "light", 1280),
    "webhooks": ("/webhooks?of=2", "light", 1280),
    "queue": ("/requests", "light", 1280),
    "request": ("/requests/55", "light", 1280),
    "ledger": ("/ledger", "light", 1280),
}
COMMANDS = {
    "cli-compare": "compare berth-planner@1.4.2 berth-planner@1.5.0",
    "cli-check": "check next.json --base published.json",
    "cli-lint": "lint certificates.json",
    "cli-kit": "kit show berth-assistant",
    "cli-find": "find free brth",
    "cli-inbox": "inbox",
}


def main(target: Path) -> None:
    target.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as scratch:
        words = [sys.executable, "-m", "tallshelf", "demo", "--data", f"{scratch}/data", "--port", str(PORT)]
        env = {name: value for name, value in os.environ.items() if not name.startswith("TALLSHELF")}
        demo = subprocess.Popen(words, stdout=subprocess.DEVNULL, env=env)
        try:
            _wait()
            _shoot(target, Path(scratch), env)
        finally:
            demo.send_signal(signal.SIGINT)
            demo.wait(20)


def _wait() -> None:
    for _ in range(300):
        try:
            if httpx.get(f"{URL}/health/ready").status_code == 200:
                return
        except httpx.TransportError:
            time.sleep(0.2)
    raise SystemExit("the demo did not come up")


def _shoot(target: Path, scratch: Path, env: dict[str, str]) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        first = browser.new_page(base_url=URL)
        _sign_in(first, "ines")
        token, kept = _token(first), first.context.storage_state()
        for name, (path, scheme, width) in PAGES.items():
            size = {"width": width, "height": 800}
            page = browser.new_page(base_url=URL, viewport=size, color_scheme=scheme, storage_state=kept)
            page.goto(path)
            page.wait_for_load_state("networkidle")
            page.screenshot(path=target / f"{name}.png")
            page.close()
        _shoot_commands(browser, target, scratch, {**env, "TALLSHELF_URL": URL, "TALLSHELF_TOKEN": token})
        browser.close()


def _sign_in(page: Any, username: str) -> None:
    page.goto("/")
    page.get_by_label("Name", exact=True).fill(username)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation").first.wait_for()


def _token(page: Any) -> str:
    made = page.evaluate(
        """async () => {
          const csrf = /tallshelf_csrf=([^;]*)/.exec(document.cookie)[1];
          const answer = await fetch("/api/v1/tokens", {
            method: "POST",
            headers: { "Content-Type": "application/json", "X-CSRFToken": csrf },
            body: JSON.stringify({ name: "pictures", scopes: ["read", "check", "sign"] }),
          });
          return (await answer.json()).secret;
        }"""
    )
    return str(made)


def _shoot_commands(browser: Any, target: Path, scratch: Path, env: dict[str, str]) -> None:
    """Run each command and draw what it prints as a terminal would, in one colour."""
    for name, version, file in (
        ("berth-planner", "1.4.2", "published.json"),
        ("berth-planner", "1.5.0", "next.json"),
        ("crew-certificates", "0.3.0", "certificates.json"),
    ):
        command = f"{sys.executable} {SERVER} {name} {version}"
        _run(["capture", "--stdio", command, "-o", file], scratch, env)
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    for name, words in COMMANDS.items():
        text = f"$ tallshelf {words}\n" + _run(words.split(), scratch, env)
        page.set_content(
            "<body style='margin:0;background:#191b1d'><pre style='margin:0;padding:20px 28px;color:#ece6d9;"
            f"font:14.5px/1.42 monospace'>{html.escape(text)}</pre></body>"
        )
        page.screenshot(path=target / f"{name}.png")


def _run(words: list[str], scratch: Path, env: dict[str, str]) -> str:
    done = subprocess.run(
        [sys.executable, "-m", "tallshelf", *words],
        cwd=scratch,
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    return done.stdout


if __name__ == "__main__":
    main(Path(sys.argv[1]))
