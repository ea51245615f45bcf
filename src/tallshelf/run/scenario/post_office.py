"""Stand-ins for a mail server (SMTP) and for a receiver of webhooks: they keep what arrives, and show it.

Run as ``python -m tallshelf.run.scenario.post_office --port PORT --smtp PORT``. Mail is taken for whomever. Events are
taken at ``/hooks``, and their signatures held against the secrets (by spaces) in ``TALLSHELF_STAND_IN_SECRETS``;
``/broken`` answers 503 to whatever comes. ``/`` is a page of what arrived, ``/arrived.json`` the same for programs.
Nothing outlives it.
"""

from __future__ import annotations

import argparse
import json
import os
import time
from collections import deque
from datetime import UTC, datetime
from email import message_from_bytes, policy
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from aiosmtpd.controller import Controller

from tallshelf.core.telling import holds

SECRETS_VARIABLE = "TALLSHELF_STAND_IN_SECRETS"
_KEPT = 500
_MOST_BYTES = 1_000_000
arrived: deque[dict[str, Any]] = deque(maxlen=_KEPT)


class Mailbox:
    """What an SMTP server hands a message to."""

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:
        message = message_from_bytes(envelope.content, policy=policy.default)
        body = message.get_body(("plain",))
        keep(
            "mail",
            key=str(message["Message-ID"]),
            to=", ".join(envelope.rcpt_tos),
            title=str(message["Subject"]),
            text=str(body.get_content()) if body is not None else "",
        )
        return "250 kept"


class Receiver(BaseHTTPRequestHandler):
    """Takes events, and shows what arrived."""

    def do_GET(self) -> None:
        if self.path == "/arrived.json":
            self._send(200, json.dumps(list(arrived)), "application/json")
        elif self.path == "/":
            self._send(200, page(), "text/html; charset=utf-8")
        else:
            self._send(404, "", "text/plain")

    def do_POST(self) -> None:
        body = self.rfile.read(min(int(self.headers.get("Content-Length", 0)), _MOST_BYTES))
        if self.path != "/hooks":
            self._send(503, "out of order\n", "text/plain")
            return
        key, moment, signature = (
            self.headers.get(f"webhook-{one}", "") for one in ("id", "timestamp", "signature")
        )
        secrets = os.environ.get(SECRETS_VARIABLE, "")
        now = int(time.time())
        signed = any(holds(secret, key, moment, signature, body, now=now) for secret in secrets.split())
        event = json.loads(body)
        keep(
            "webhook",
            key=key,
            to=self.path,
            title=f"{event['type']} {event.get('subject', '')}",
            text=f"{event['data']['words']}\n{event['data'].get('because', '')}".strip(),
            signed=signed,
            event=event,
        )
        self._send(204, "", "text/plain")

    def log_message(self, *_: Any) -> None:
        """Say nothing: the demo's terminal is for the service."""

    def _send(self, status: int, body: str, kind: str) -> None:
        data = body.encode()
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)


def keep(how: str, **about: Any) -> None:
    """Keep what arrived, with its moment."""
    at = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    arrived.appendleft({"how": how, "at": at, **about})


def page() -> str:
    """Return the page of what arrived, newest first."""
    rows = "".join(
        f"<article><h2>{escape(one['title'])}</h2><p>{_by(one)}, {escape(one['at'])}</p>"
        f"<pre>{escape(one['text'])}</pre></article>"
        for one in arrived
    )
    return (
        "<!doctype html><html lang='en'><meta name='viewport' content='width=device-width'><title>What arrived</title>"
        "<style>body{font:16px/1.6 serif;margin:2rem auto;max-width:46rem;padding:0 1rem;background:#f5f0e6;color:#222}"
        "h1{font-size:2rem}h2{font-size:1.1rem;margin:0}article{border-top:1px solid #bbb;padding:.9rem 0}"
        "article p{margin:0;color:#555}pre{white-space:pre-wrap;margin:.4rem 0 0}</style><h1>What arrived</h1>"
        "<p>The stand-in for the company's mail server, and for a receiver of webhooks.</p>"
        f"{rows or '<p>Nothing yet.</p>'}</html>"
    )


def _by(one: dict[str, Any]) -> str:
    if one["how"] == "mail":
        return f"mail to {escape(one['to'])}"
    return (
        f"event at {escape(one['to'])}, {'signature holds' if one['signed'] else 'signature does not hold'}"
    )


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--smtp", type=int, required=True)
    args = parser.parse_args()
    Controller(Mailbox(), hostname="127.0.0.1", port=args.smtp).start()
    ThreadingHTTPServer(("127.0.0.1", args.port), Receiver).serve_forever()


if __name__ == "__main__":
    main()
