"""Starting and stopping what runs beside the demo: its HTTP tool servers, and its stand-ins."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Mapping
from types import TracebackType

from tallshelf.run.ports import wait_for
from tallshelf.run.scenario.post_office import SECRETS_VARIABLE
from tallshelf.run.scenario.servers import SERVERS


def address(name: str, port: int) -> str:
    """Return where a server answers when it runs on a port."""
    return f"http://127.0.0.1:{port}/{'sse' if SERVERS[name].transport == 'http+sse' else 'mcp'}"


class ToolServers:
    """The tool servers that run over HTTP, as child processes that end with us."""

    def __init__(self) -> None:
        self._processes: dict[str, subprocess.Popen[bytes]] = {}
        self._runs: dict[str, tuple[list[str], int]] = {}

    def start(self, name: str, version: str, port: int) -> None:
        """Run a server, as `begin`, and wait until it listens."""
        self.begin(name, version, port)
        wait_for(port)

    def begin(self, name: str, version: str, port: int) -> None:
        """Run a server over the transport of its launch record, in the place of the one of that name."""
        old = ["--old"] if SERVERS[name].transport == "http+sse" else []
        self._begin(name, ["tallshelf.run.scenario.tool_server", name, version, *old], port)

    def begin_issuer(self, port: int) -> None:
        """Run the stand-in issuer of OpenID Connect."""
        self._begin("issuer", ["tallshelf.run.scenario.issuer"], port)

    def begin_post(self, port: int, smtp: int, secrets: list[str]) -> None:
        """Run the stand-ins for a mail server and a receiver of webhooks, which knows these secrets."""
        env = {**os.environ, SECRETS_VARIABLE: " ".join(secrets)}
        self._begin("post", ["tallshelf.run.scenario.post_office", "--smtp", str(smtp)], port, env)

    def wait(self) -> None:
        """Wait until all that runs listens: each takes a second to load, and all of them together little more."""
        for _, port in self._runs.values():
            wait_for(port)

    def _begin(self, name: str, words: list[str], port: int, env: Mapping[str, str] | None = None) -> None:
        if self._runs.get(name) == (words, port):
            return
        self.stop(name)
        self._processes[name] = subprocess.Popen(
            [sys.executable, "-m", *words, "--port", str(port)],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            env=env,
        )
        self._runs[name] = words, port

    def stop(self, name: str) -> None:
        """Stop a server, if it runs."""
        self._runs.pop(name, None)
        process = self._processes.pop(name, None)
        if process is not None:
            process.terminate()
            try:
                process.wait(5)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()

    def __enter__(self) -> ToolServers:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        for name in list(self._processes):
            self.stop(name)
