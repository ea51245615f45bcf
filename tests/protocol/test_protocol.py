"""Capture and try, against servers that behave and servers that do not."""

from __future__ import annotations

import contextlib
import http.server
import os
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from tallshelf.core.errors import BadArgument, Denied, Misbehaved, NotFound, TookTooLong, Unreachable
from tallshelf.core.snapshot import snapshot_from
from tallshelf.protocol import AddressPolicy, Bounds, HttpEndpoint, StdioEndpoint, capture, try_tool
from tallshelf.run.ports import free_ports
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.tool_servers import ToolServers

ODD = str(Path(__file__).with_name("odd_server.py"))
BOUNDS = Bounds(request_seconds=20, total_seconds=60, bytes=3_000_000, attempts=1)


def odd(mode: str, **env: str) -> StdioEndpoint:
    return StdioEndpoint(sys.executable, (ODD, mode), env)


def scenario(name: str, version: str) -> StdioEndpoint:
    return StdioEndpoint(sys.executable, ("-m", "tallshelf.run.scenario.tool_server", name, version))


@pytest.fixture(scope="module")
def fare_desk():
    (port,) = free_ports(1)
    with ToolServers() as servers:
        servers.start("fare-desk", "1.0.0", port)
        yield f"http://127.0.0.1:{port}/mcp"


def test_stdio_and_http_captures_are_what_the_server_declares(fare_desk):
    local = capture(scenario("berth-planner", "1.4.2"), bounds=BOUNDS)
    assert local.snapshot.digest == snapshot_from(declared("berth-planner", "1.4.2")).digest
    assert local.snapshot.captured["transport"] == "stdio"
    remote = capture(HttpEndpoint(fare_desk), credential="FARES", bounds=BOUNDS)
    assert remote.snapshot.digest == snapshot_from(declared("fare-desk", "1.0.0")).digest
    assert remote.snapshot.captured["as"] == "FARES"


def test_odd_declarations_and_unknown_fields_survive_and_stray_lines_are_reported():
    found = capture(odd("chatty"), bounds=BOUNDS)
    bodies = [item.body for item in found.snapshot.items]
    assert {"name": "t", "inputSchema": {"type": "objekt"}, "x-vendor": {"k": 2**60}} in bodies
    assert {"title": 1} in bodies
    assert (found.stray_count, found.stray_lines) == (1, ("starting up…",))
    assert found.protocol_version == "2025-06-18"


@pytest.mark.parametrize(
    ("mode", "error", "words"),
    [
        ("endless", Misbehaved, "more than 100 pages"),
        ("circle", Misbehaved, "in a circle"),
        ("flood", Misbehaved, "more than 3,000,000 bytes"),
        ("nonsense", Misbehaved, "no list of tools"),
        ("crash", Unreachable, "ended before it answered .exit code 1"),
        ("hang", TookTooLong, "did not answer within 1 seconds"),
    ],
)
def test_servers_that_misbehave_are_told_apart(mode, error, words):
    seconds = 1 if mode == "hang" else 20
    bounds = Bounds(request_seconds=seconds, total_seconds=60, bytes=3_000_000)
    with pytest.raises(error, match=words):
        capture(odd(mode), bounds=bounds)


def test_stderr_is_shown_with_passed_values_masked_and_nothing_else_is_passed():
    os.environ["ODD_SECRET"] = "must not leak"
    try:
        with pytest.raises(Unreachable) as bare:
            capture(odd("crash"), bounds=BOUNDS)
        with pytest.raises(Unreachable) as passed:
            capture(odd("crash", ODD_SECRET="hunter-22"), bounds=BOUNDS)
    finally:
        del os.environ["ODD_SECRET"]
    assert "database with None" in bare.value.remedy
    assert "database with [ODD_SECRET]" in passed.value.remedy


def test_the_process_group_ends_with_the_session():
    marker = f"sleeper-{os.getpid()}"
    child = f"[sys.executable, '-c', 'import time; time.sleep(60)', '{marker}']"
    script = f"import subprocess, sys; subprocess.Popen({child})"
    with pytest.raises(Unreachable):
        capture(StdioEndpoint(sys.executable, ("-c", script)), bounds=Bounds(total_seconds=2))

    def left() -> bool:
        listed = subprocess.run(["ps", "-eo", "args"], capture_output=True, text=True, check=True).stdout
        return marker in [line.rpartition(" ")[2] for line in listed.splitlines()]

    until = time.monotonic() + 10  # it is killed by now, and listed until the system has cleared it away
    while left() and time.monotonic() < until:
        time.sleep(0.05)
    assert not left()


def test_commands_and_addresses_that_lead_nowhere():
    with pytest.raises(Unreachable, match="could not start"):
        capture(StdioEndpoint("/no/such/program"), bounds=BOUNDS)
    (port,) = free_ports(1)
    with pytest.raises(Unreachable, match="is not known by name"):
        capture(HttpEndpoint("http://no-such-host.invalid/mcp"), bounds=BOUNDS)
    with pytest.raises(Unreachable, match="could not connect"):
        capture(HttpEndpoint(f"http://127.0.0.1:{port}/mcp"), bounds=BOUNDS)


def test_a_refused_first_connection_is_tried_again():
    (port,) = free_ports(1)
    with ToolServers() as servers:
        starting = threading.Timer(0.1, servers.start, ("tide-tables", "1.1.0", port))
        starting.start()
        patient = Bounds(request_seconds=20, total_seconds=60, attempts=7)
        found = capture(HttpEndpoint(f"http://127.0.0.1:{port}/mcp"), bounds=patient)
        starting.join()
    assert found.snapshot.server_name == "tide-tables"


class _Strange(http.server.BaseHTTPRequestHandler):
    def do_HEAD(self):
        self.send_response(405)
        self.end_headers()

    def do_POST(self):
        self.rfile.read(int(self.headers["content-length"]))
        codes = {"/locked": 401, "/moved": 302, "/stream": 405, "/busy": 429, "/resting": 503, "/gone": 404}
        self.send_response(codes.get(self.path, 200))
        if self.path == "/locked":
            self.send_header("www-authenticate", 'Bearer resource_metadata="https://id.example/x"')
        if self.path == "/busy":
            self.send_header("retry-after", "17")
        self.send_header("location", "http://169.254.1.1/")
        self.send_header("content-type", "application/json")
        self.end_headers()
        body = b"x" * 4_000_000 if self.path == "/flood" else b"<html>"
        with contextlib.suppress(OSError):
            self.wfile.write(body)

    def log_message(self, *_):
        pass


@pytest.fixture(scope="module")
def strange():
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), _Strange)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()
    server.server_close()


@pytest.mark.parametrize(
    ("path", "error", "words"),
    [
        ("/locked", Unreachable, "refused the credentials .HTTP 401.; it asks for Bearer resource_metadata"),
        ("/stream", Unreachable, "takes no requests of Streamable HTTP .HTTP 405"),
        ("/busy", Unreachable, "cannot answer now .HTTP 429"),
        ("/resting", Unreachable, "cannot answer now .HTTP 503"),
        ("/gone", Unreachable, "answered with HTTP 404"),
        ("/flood", Misbehaved, "more than 3,000,000 bytes"),
        ("/page", Misbehaved, "answered with an error"),
        ("/moved", (Unreachable, Misbehaved), "Redirect"),
    ],
)
def test_addresses_that_are_no_tool_server(strange, path, error, words):
    with pytest.raises(error, match=words):
        capture(HttpEndpoint(strange + path), bounds=BOUNDS)


def test_the_address_policy_is_checked_before_and_on_the_socket(fare_desk):
    origin = fare_desk.removesuffix("/mcp")
    with pytest.raises(Denied, match="may not fetch"):
        capture(HttpEndpoint(fare_desk, policy=AddressPolicy(frozenset())), bounds=BOUNDS)
    allowed = HttpEndpoint(fare_desk, policy=AddressPolicy(frozenset({origin})))
    assert capture(allowed, bounds=BOUNDS).snapshot.items
    named = fare_desk.replace("127.0.0.1", "localhost")
    policy = AddressPolicy(frozenset({origin.replace("127.0.0.1", "localhost")}))
    with pytest.raises(Denied, match="private address"):
        capture(HttpEndpoint(named, policy=policy), bounds=BOUNDS)
    open_policy = AddressPolicy(policy.origins, ("127.0.0.0/8", "::1/128"))
    assert capture(HttpEndpoint(named, policy=open_policy), bounds=BOUNDS).snapshot.items


def test_try_makes_one_call_and_holds_the_answer_against_the_promise(fare_desk):
    arguments = {"vessel_length": 84, "from": "2026-06-01T06:00:00Z", "until": "2026-06-01T09:00:00Z"}
    good = try_tool(scenario("berth-planner", "1.4.2"), "find_free_berth", arguments, bounds=BOUNDS)
    assert (good.fits, good.is_error) == (True, False)
    assert good.answer["structuredContent"]["berths"]
    bad = try_tool(HttpEndpoint(fare_desk), "quote_fare", {}, bounds=BOUNDS)
    assert bad.fits is False
    assert "18.50" in bad.fault
    with pytest.raises(NotFound, match="no tool 'nope'"):
        try_tool(HttpEndpoint(fare_desk), "nope", {}, bounds=BOUNDS)


def test_arguments_that_do_not_fit_are_not_sent(fare_desk):
    with pytest.raises(BadArgument, match="do not fit the input schema") as raised:
        try_tool(HttpEndpoint(fare_desk), "quote_fare", {}, bounds=BOUNDS, checked=True)
    assert raised.value.places and "--unchecked" in raised.value.remedy
    arguments = {"vessel_length": "long", "from": "2026-06-01T06:00:00Z", "until": "2026-06-01T09:00:00Z"}
    with pytest.raises(BadArgument) as raised:
        try_tool(
            scenario("berth-planner", "1.4.2"), "find_free_berth", arguments, bounds=BOUNDS, checked=True
        )
    assert [one.pointer for one in raised.value.places] == ["/vessel_length"]


def test_the_old_event_stream_transport_declares_the_same():
    from tallshelf.run.tool_servers import address

    (port,) = free_ports(1)
    with ToolServers() as servers:
        servers.start("yard-slots", "1.1.0", port)
        endpoint = HttpEndpoint(address("yard-slots", port), transport="http+sse")
        found = capture(endpoint).snapshot
        answer = try_tool(endpoint, "find_trailer", {"trailer": "T-1"})
    assert found.captured["transport"] == "http+sse"
    assert found.digest == snapshot_from(declared("yard-slots", "1.1.0")).digest
    assert answer.is_error


class _Redirects(http.server.BaseHTTPRequestHandler):
    """Sends everyone elsewhere on the same origin."""

    def do_GET(self) -> None:
        self.send_response(307)
        self.send_header("Location", "/elsewhere")
        self.end_headers()

    do_HEAD = do_POST = do_GET

    def log_message(self, *_: object) -> None:
        pass


@pytest.mark.parametrize("transport", ["streamable-http", "http+sse"])
def test_the_service_follows_no_redirect(transport):
    with http.server.ThreadingHTTPServer(("127.0.0.1", 0), _Redirects) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        origin = f"http://127.0.0.1:{server.server_port}"
        policy = AddressPolicy(frozenset({origin}))
        with pytest.raises(Denied, match="redirects, which is not followed"):
            capture(HttpEndpoint(f"{origin}/mcp", policy=policy, transport=transport))
        server.shutdown()
