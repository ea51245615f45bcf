"""A tool server that asks for authorization, and its issuer: stand-ins on loopback, which can be made to misbehave."""

from __future__ import annotations

import base64
import hashlib
import json
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

TOOL = {"name": "read_gauge", "description": "Read the gauge.", "inputSchema": {"type": "object"}}


class _Served:
    """Something that answers on a port of its own, and remembers what it was asked."""

    def __init__(self) -> None:
        outer = self

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                outer.serve(self, {})

            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers.get("Content-Length", 0)))
                is_json = "json" in self.headers.get("Content-Type", "")
                outer.serve(
                    self,
                    json.loads(body) if is_json else {k: v[0] for k, v in parse_qs(body.decode()).items()},
                )

            def log_message(self, *_: object) -> None:
                pass

        self._server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.url = f"http://127.0.0.1:{self._server.server_address[1]}"
        self.asked: list[str] = []
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    def serve(self, request: BaseHTTPRequestHandler, body: Any) -> None:
        path = urlsplit(request.path)
        self.asked.append(f"{request.command} {path.path}")
        query = {name: value[0] for name, value in parse_qs(path.query).items()}
        status, headers, answer = self.answer(request, path.path, query, body)
        raw = b"" if answer is None else json.dumps(answer).encode()
        request.send_response(status)
        for name, value in {"Content-Type": "application/json", **headers}.items():
            request.send_header(name, value)
        request.send_header("Content-Length", str(len(raw)))
        request.end_headers()
        request.wfile.write(raw)

    def answer(
        self, request: Any, path: str, query: dict[str, str], body: Any
    ) -> tuple[int, dict[str, str], Any]:
        raise NotImplementedError

    def close(self) -> None:
        self._server.shutdown()
        self._server.server_close()


class Issuer(_Served):
    """Signs in whoever comes; ``says`` changes what it says of itself, ``answers`` where it sends the browser."""

    def __init__(self, **says: Any) -> None:
        super().__init__()
        self.says = {
            "issuer": self.url,
            "authorization_endpoint": f"{self.url}/authorize",
            "token_endpoint": f"{self.url}/token",
            "registration_endpoint": f"{self.url}/register",
            "response_types_supported": ["code"],
            "code_challenge_methods_supported": ["S256"],
            "authorization_response_iss_parameter_supported": True,
            **says,
        }
        self.answers: dict[str, str] = {}
        self.seconds = 3_600
        self.begun: dict[str, str] = {}
        self.tokens: list[str] = []
        self.forms: list[dict[str, str]] = []

    def answer(
        self, request: Any, path: str, query: dict[str, str], body: Any
    ) -> tuple[int, dict[str, str], Any]:
        if path.startswith("/.well-known/oauth-authorization-server"):
            return 200, {}, self.says
        if path == "/register":
            return 201, {}, {**body, "client_id": "registered"}
        if path == "/authorize":
            self.begun = query
            told = {"code": "the-code", "state": query["state"], "iss": self.url, **self.answers}
            told = {name: value for name, value in told.items() if value}
            return 302, {"Location": f"{query['redirect_uri']}?{urlencode(told)}"}, None
        if path == "/token":
            self.forms.append(body)
            return self._token(body)
        return 404, {}, {}

    def _token(self, form: dict[str, str]) -> tuple[int, dict[str, str], Any]:
        if form["grant_type"] == "authorization_code":
            digest = hashlib.sha256(form["code_verifier"].encode()).digest()
            proved = base64.urlsafe_b64encode(digest).decode().rstrip("=") == self.begun["code_challenge"]
            if not proved or form["redirect_uri"] != self.begun["redirect_uri"]:
                return 400, {}, {"error": "invalid_grant"}
        elif form.get("refresh_token") != "refreshing":
            return 400, {}, {"error": "invalid_grant"}
        self.tokens.append(f"token-{len(self.tokens) + 1}")
        found = {"access_token": self.tokens[-1], "token_type": "Bearer", "expires_in": self.seconds}
        return 200, {}, {**found, "refresh_token": "refreshing"}


class Guarded(_Served):
    """A tool server with one tool, for whoever brings the last token of its issuer."""

    def __init__(self, issuer: Issuer, **says: Any) -> None:
        super().__init__()
        self.issuer = issuer
        self.mcp = f"{self.url}/mcp"
        self.says = {"resource": self.mcp, "authorization_servers": [issuer.url], **says}
        self.seen: list[str | None] = []

    def answer(
        self, request: Any, path: str, query: dict[str, str], body: Any
    ) -> tuple[int, dict[str, str], Any]:
        if path == "/.well-known/oauth-protected-resource/mcp":
            return 200, {}, self.says
        if path != "/mcp":
            return 404, {}, {}
        brought = request.headers.get("Authorization")
        self.seen.append(brought)
        if brought not in [f"Bearer {one}" for one in self.issuer.tokens[-1:]]:
            where = f"{self.url}/.well-known/oauth-protected-resource/mcp"
            return 401, {"WWW-Authenticate": f'Bearer resource_metadata="{where}"'}, {}
        if request.command == "GET":
            return 405, {}, {}
        if "id" not in body:
            return 202, {}, None
        results = {
            "initialize": {
                "protocolVersion": "2025-06-18",
                "capabilities": {"tools": {}},
                "serverInfo": {"name": "gauges", "version": "1"},
            },
            "tools/list": {"tools": [TOOL]},
            "tools/call": {"content": [{"type": "text", "text": "4.2"}]},
        }
        if body["method"] not in results:
            return 200, {}, {"jsonrpc": "2.0", "id": body["id"], "error": {"code": -32601, "message": "no"}}
        return 200, {}, {"jsonrpc": "2.0", "id": body["id"], "result": results[body["method"]]}
