"""A service of a test's own, set up by the commands of the README, that may be killed and started again."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from dataclasses import dataclass, field
from pathlib import Path

import httpx

from tallshelf.client import Shelf
from tests.e2e.conftest import free_ports_in_a_row

_PEOPLE = (
    ("tomas", "submitter", ["--team", "berths"], ["read", "check", "submit", "sign"]),
    ("ines", "curator", ["--desk", "curators"], ["read", "submit", "sign", "curate"]),
    ("runa", "reader", ["--desk", "security"], ["read", "sign"]),
)


@dataclass
class OwnService:
    """Where it runs, and tokens of its people."""

    data: Path
    port: int
    tokens: dict[str, str] = field(default_factory=dict)
    process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def run(self, *words: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "tallshelf", *words],
            env=self._environment(),
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )
        assert done.returncode == 0, (words, done.stdout, done.stderr)
        return done.stdout

    def set_up(self) -> None:
        """Run the commands of the README, in one process: each by itself takes a second to start."""
        commands = [["init", "--steward", "pell"], ["add-team", "berths", "--title", "Berths"]]
        for username, role, more, scopes in _PEOPLE:
            commands.append(["add-user", username, "--name", username.title(), "--role", role, *more])
            commands.append(["token", username, *(word for one in scopes for word in ("--scope", one))])
        program = (
            "import json, sys\nfrom tallshelf.run.main import main\n"
            "sys.exit(max(main(['admin', *words]) for words in json.loads(sys.argv[1])))"
        )
        done = subprocess.run(
            [sys.executable, "-c", program, json.dumps(commands)],
            env=self._environment(),
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )
        assert done.returncode == 0, (done.stdout, done.stderr)
        secrets = [line for line in done.stdout.splitlines() if line.startswith("tls_")]
        self.tokens = dict(zip((username for username, *_ in _PEOPLE), secrets, strict=True))

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tallshelf", "serve", "--port", str(self.port)],
            env=self._environment(),
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        until = time.monotonic() + 60
        while time.monotonic() < until:
            try:
                if httpx.get(f"{self.url}/health/ready", timeout=5).status_code == 200:
                    return
            except httpx.TransportError:
                time.sleep(0.1)
        raise AssertionError("the service did not come up")

    def kill(self, how: int = signal.SIGKILL) -> None:
        """End every process of it at once; with SIGKILL none has a moment to tidy up."""
        if self.process is not None and self.process.poll() is None:
            os.killpg(self.process.pid, how)
            self.process.wait(timeout=30)
            until = time.monotonic() + 20
            while _listens(self.url) and time.monotonic() < until:
                time.sleep(0.05)

    def shelf(self, username: str) -> Shelf:
        return Shelf(self.url, self.tokens[username], timeout=20)

    def _environment(self) -> dict[str, str]:
        kept = {
            name: value for name, value in os.environ.items() if not name.startswith(("TALLSHELF", "DJANGO"))
        }
        return kept | {"TALLSHELF_DATA": str(self.data)}


def _listens(url: str) -> bool:
    try:
        httpx.get(f"{url}/health/live", timeout=1)
    except httpx.TransportError:
        return False
    return True


def own_service(data: Path) -> OwnService:
    """Return a service that is set up and runs."""
    found = OwnService(data, free_ports_in_a_row() + 3)
    found.set_up()
    found.start()
    return found
