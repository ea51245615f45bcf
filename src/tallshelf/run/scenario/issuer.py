"""A stand-in issuer of OpenID Connect for the demo: it believes whom one says one is.

Run as ``python -m tallshelf.run.scenario.issuer --port PORT``. It keeps nothing, and its key is new at
every start.
"""

from __future__ import annotations

import argparse
import json
import secrets
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

from authlib.oauth2.rfc7636 import create_s256_code_challenge
from joserfc import jwt
from joserfc.jwk import ECKey

from tallshelf.run.scenario.people import ACCOUNTS

CLIENT = "tall-shelf"
_LASTS_SECONDS = 300
_KEY = ECKey.generate_key("P-256", {"kid": "stand-in", "use": "sig", "alg": "ES256"})
_codes: dict[str, dict[str, str]] = {}


class Issuer(BaseHTTPRequestHandler):
    """Authorization, token and key endpoints."""

    def do_GET(self) -> None:
        place = urlsplit(self.path)
        asked = {name: values[0] for name, values in parse_qs(place.query).items()}
        if place.path == "/keys":
            self._json({"keys": [_KEY.as_dict(private=False)]})
        elif place.path == "/authorize" and "as" in asked:
            code = secrets.token_urlsafe(16)
            _codes[code] = asked
            back = urlencode({"code": code, "state": asked["state"]})
            self._send(302, b"", "text/plain", Location=f"{asked['redirect_uri']}?{back}")
        elif place.path == "/authorize":
            self._send(200, _page(place.query).encode(), "text/html; charset=utf-8")
        else:
            self._send(404, b"", "text/plain")

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers.get("Content-Length", 0))).decode()
        asked = {name: values[0] for name, values in parse_qs(body).items()}
        known = _codes.pop(asked.get("code", ""), None)
        if known is None or _challenge(asked.get("code_verifier", "")) != known["code_challenge"]:
            self._json({"error": "invalid_grant"}, 400)
            return
        now = int(time.time())
        claims = {
            "iss": f"http://{self.headers['Host']}",
            "aud": known["client_id"],
            "sub": known["as"],
            "preferred_username": known["as"],
            "nonce": known["nonce"],
            "iat": now,
            "exp": now + _LASTS_SECONDS,
        }
        token = jwt.encode({"alg": "ES256", "kid": "stand-in"}, claims, _KEY, algorithms=["ES256"])
        self._json({"access_token": secrets.token_urlsafe(8), "token_type": "Bearer", "id_token": token})

    def log_message(self, *_: Any) -> None:
        """Say nothing: the demo's terminal is for the service."""

    def _json(self, value: Any, status: int = 200) -> None:
        self._send(status, json.dumps(value).encode(), "application/json")

    def _send(self, status: int, body: bytes, kind: str, **headers: str) -> None:
        self.send_response(status)
        for name, value in {"Content-Type": kind, "Content-Length": str(len(body)), **headers}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)


def _challenge(verifier: str) -> str:
    return str(create_s256_code_challenge(verifier))  # type: ignore[no-untyped-call]


def _page(query: str) -> str:
    rows = "".join(
        f'<li><a href="/authorize?{query.replace("&", "&amp;")}&amp;as={account.username}">{account.name}</a></li>'
        for account in ACCOUNTS
        if account.role != "ci"
    )
    return (
        "<!doctype html><html lang='en'><title>Pellam Sound Ferries</title><style>body{font:18px/1.7 serif;"
        "margin:3rem auto;max-width:28rem;background:#f5f0e6;color:#222}</style><h1>Who are you?</h1>"
        f"<p>The stand-in for the company's sign-in believes you.</p><ul>{rows}</ul></html>"
    )


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    ThreadingHTTPServer(("127.0.0.1", parser.parse_args().port), Issuer).serve_forever()


if __name__ == "__main__":
    main()
