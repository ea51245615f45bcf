"""Where the browser comes back to after a sign-in: an address of this machine, as RFC 8252 says for native programs."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from contextlib import suppress
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from secrets import compare_digest
from urllib.parse import parse_qs, urlsplit

from tallshelf.core.errors import BadArgument, TookTooLong

_PAGE = b"""<!doctype html><html lang="en"><meta charset="utf-8"><title>Tall Shelf</title>
<p>That is all: you may close this page and go back to the terminal.</p></html>"""


class Callback:
    """Listens on 127.0.0.1 until a browser brings the answer to a sign-in that was begun.

    Where the ``port`` is taken it listens on another, unless it is to be that one ``only``: `BadArgument`.
    """

    def __init__(self, port: int = 0, *, only: bool = False) -> None:
        self._answers: queue.Queue[dict[str, str]] = queue.Queue()
        self._state = ""
        try:
            self._server = ThreadingHTTPServer(("127.0.0.1", port), self._handler())
        except OSError as fault:
            if only:
                raise BadArgument(f"port {port} cannot be listened on: {fault.strerror}") from None
            self._server = ThreadingHTTPServer(("127.0.0.1", 0), self._handler())
        self._server.daemon_threads = True
        self._listening = False

    @property
    def port(self) -> int:
        return int(self._server.server_address[1])

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}/callback"

    def begin(self, state: str, paste: Callable[[], str] | None = None) -> None:
        """Listen for the answer that bears a state; with ``paste`` a person may bring it by hand as well."""
        self._state = state
        self._listening = True
        threading.Thread(target=self._server.serve_forever, daemon=True).start()
        if paste is not None:
            threading.Thread(target=self._take_pasted, args=(paste,), daemon=True).start()

    def wait(self, seconds: float) -> dict[str, str]:
        """Return the members of the answer; raise `TookTooLong` when none comes."""
        try:
            return self._answers.get(timeout=seconds)
        except queue.Empty:
            raise TookTooLong(f"nobody signed in within {seconds:g} seconds") from None

    def close(self) -> None:
        if self._listening:
            self._server.shutdown()
        self._server.server_close()

    def take(self, address: str) -> bool:
        """Take the address that a browser was sent to; return whether it answers the sign-in that was begun."""
        parts = urlsplit(address)
        found = {name: values[0] for name, values in parse_qs(parts.query).items()}
        mine = parts.path == "/callback" and bool(self._state)
        if not mine or not compare_digest(found.get("state", "").encode(), self._state.encode()):
            return False
        self._answers.put(found)
        return True

    def _take_pasted(self, paste: Callable[[], str]) -> None:
        while line := paste():
            with suppress(ValueError):
                if self.take(line.strip()):
                    return

    def _handler(self) -> type[BaseHTTPRequestHandler]:
        take = self.take

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                taken = take(self.path)
                self.send_response(200 if taken else 404)
                self.send_header("Content-Type", "text/html; charset=utf-8")
                self.send_header("Content-Security-Policy", "default-src 'none'")
                self.send_header("Referrer-Policy", "no-referrer")
                self.end_headers()
                self.wfile.write(_PAGE if taken else b"Nothing is here.")

            def log_message(self, *_: object) -> None:
                """Write nothing: an address would hold the code."""

        return Handler
