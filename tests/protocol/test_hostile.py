"""Peers that mean harm: compressed floods, keys named twice, processes that outlive their session."""

from __future__ import annotations

import contextlib
import gzip
import http.server
import json
import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpcore2
import httpx2
import pytest

from tallshelf.core.errors import Denied, Misbehaved, ShelfError
from tallshelf.protocol import AddressPolicy, Bounds, HttpEndpoint, StdioEndpoint, _http, capture
from tallshelf.protocol._http import http_client
from tallshelf.protocol._raw import RawAnswers

BOUNDS = Bounds(request_seconds=10, total_seconds=30, bytes=3_000_000)
RESULT = '{"protocolVersion":"2025-06-18","capabilities":{},"serverInfo":{"name":"a","version":"1"}%s}'
ODD = Path(__file__).with_name("odd_server.py")


class Peer(http.server.BaseHTTPRequestHandler):
    seen: list[str] = []

    def do_POST(self):
        asked = json.loads(self.rfile.read(int(self.headers["content-length"])))
        self.seen.append(f"POST {self.headers['accept-encoding']}")
        twice = ',"instructions":"a","instructions":"b"' if self.path in ("/twice", "/twice-told") else ""
        body = f'{{"jsonrpc":"2.0","id":{json.dumps(asked.get("id"))},"result":{RESULT % twice}}}'.encode()
        kind = "application/json"
        if self.path == "/twice-told":
            body, kind = b"event: message\ndata: " + body + b"\n\n", "text/event-stream"
        self.send_response(202 if "id" not in asked else 200)
        self.send_header("content-type", kind)
        if self.path == "/bomb":
            self.send_header("content-encoding", "gzip")
            body = gzip.compress(b" " * 50_000_000)
        self.send_header("content-length", str(len(body)))
        self.end_headers()
        with contextlib.suppress(OSError):
            self.wfile.write(body)

    def do_HEAD(self):
        self.seen.append("HEAD")
        self.send_error(500)

    def do_GET(self):
        self.seen.append("GET")
        self.send_response(405)
        self.send_header("content-length", "0")
        self.end_headers()

    do_DELETE = do_GET

    def log_message(self, *_):
        pass


@pytest.fixture
def peer():
    Peer.seen = []
    with http.server.ThreadingHTTPServer(("127.0.0.1", 0), Peer) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_port}"
        server.shutdown()


@pytest.mark.parametrize(
    ("path", "words"),
    [
        ("/bomb", "in the encoding gzip, unasked"),
        ("/twice", "named the key 'instructions' twice"),
        ("/twice-told", "named the key 'instructions' twice"),
    ],
)
@pytest.mark.parametrize("guarded", [False, True])
def test_what_it_answers_is_refused_by_its_raw_bytes(peer, path, words, guarded):
    policy = AddressPolicy(frozenset({peer}), ("127.0.0.0/8",)) if guarded else None
    with pytest.raises(Misbehaved, match=words):
        capture(HttpEndpoint(peer + path, policy=policy), bounds=BOUNDS)
    assert set(Peer.seen) <= {"POST identity", "GET"}, "no HEAD, and no encoding asked for"


@pytest.mark.parametrize("end", [b"\r\n", b"\n", b"\r"])
def test_an_event_is_looked_at_however_it_is_cut_and_its_lines_end(end):
    event = b'event: x\r\ndata: {"a":\r\ndata: 1, "b": {"c": 1, "c": 2}}\r\n\r\n'.replace(b"\r\n", end)
    for cut in range(1, len(event)):
        fault: list[ShelfError] = []
        answers = RawAnswers("Text/Event-Stream; charset=utf-8", fault)
        with pytest.raises(Misbehaved, match="'c' twice"):
            for piece in (event[:cut], event[cut:]):
                answers.add(piece)
            answers.end()
        assert fault


def test_a_guard_that_cannot_be_put_in_refuses(monkeypatch, peer):
    policy = AddressPolicy(frozenset({peer}))
    monkeypatch.setattr(httpx2.AsyncHTTPTransport, "__init__", lambda *_, **__: None)
    with pytest.raises(Denied, match="addresses cannot be guarded"):
        http_client(HttpEndpoint(peer, policy=policy), BOUNDS, [])


def test_a_connection_that_the_guard_never_saw_is_refused(monkeypatch, peer):
    policy = AddressPolicy(frozenset({peer}), ("127.0.0.0/8",))
    monkeypatch.setattr(_http._GuardedBackend, "connect_tcp", httpcore2.AnyIOBackend().connect_tcp)
    with pytest.raises(Denied, match="cannot be told whom"):
        capture(HttpEndpoint(f"{peer}/mcp", policy=policy), bounds=BOUNDS)


def test_a_line_that_names_a_key_twice_is_refused():
    with pytest.raises(Misbehaved, match="named the key 'name' twice"):
        capture(StdioEndpoint(sys.executable, (str(ODD), "twice")), bounds=BOUNDS)


def is_left(marker):
    listed = subprocess.run(["ps", "-eo", "args"], capture_output=True, text=True, check=True).stdout
    return marker in [line.rpartition(" ")[2] for line in listed.splitlines()]


def gone(marker):
    until = time.monotonic() + 10
    while is_left(marker) and time.monotonic() < until:
        time.sleep(0.05)
    return not is_left(marker)


def sleeper(marker, more):
    child = f"[sys.executable, '-c', 'import time; time.sleep(90)', '{marker}']"
    return f"import subprocess, sys, time\nsubprocess.Popen({child}, {more})\n"


ALONE = """
import sys
from tallshelf.core.errors import ShelfError
from tallshelf.protocol import Bounds, StdioEndpoint, capture
try:
    capture(StdioEndpoint(sys.executable, ("-c", sys.argv[1])), bounds=Bounds(request_seconds=1, total_seconds=2))
except ShelfError:
    sys.exit(7)
"""


@pytest.mark.parametrize("more", ["", "start_new_session=True"])
@pytest.mark.parametrize("stays", [True, False], ids=["the server stays", "the server ends first"])
def test_what_a_server_started_ends_with_the_session(more, stays):
    marker = f"sleeper-{os.getpid()}-{len(more)}-{stays}"
    script = sleeper(marker, more) + ("time.sleep(90)\n" if stays else "")
    done = subprocess.run([sys.executable, "-c", ALONE, script], timeout=60, check=False)
    assert done.returncode == 7
    assert gone(marker)


def test_a_program_that_does_other_things_keeps_its_own_children():
    own, stop = [], threading.Event()

    def start_others():
        while not stop.wait(0.2):
            own.append(subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"]))

    beside = threading.Thread(target=start_others)
    beside.start()
    try:
        with pytest.raises(ShelfError):
            capture(
                StdioEndpoint(sys.executable, ("-c", "import time; time.sleep(60)")),
                bounds=Bounds(request_seconds=1, total_seconds=1),
            )
    finally:
        stop.set()
        beside.join()
        alive = [one.poll() is None for one in own]
        for one in own:
            one.kill()
            one.wait()
    assert len(own) > 2 and all(alive)


@pytest.mark.parametrize(
    ("number", "ignored"),
    [
        (signal.SIGTERM, ()),
        (signal.SIGHUP, ()),
        (signal.SIGINT, ()),
        (signal.SIGTERM, (signal.SIGINT, signal.SIGHUP)),  # as `nohup tallshelf … &` in a script
    ],
)
def test_a_command_that_is_told_to_stop_ends_its_server(tmp_path, number, ignored):
    marker = f"told-{os.getpid()}-{int(number)}-{len(ignored)}"

    def signals() -> None:
        for one in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
            signal.signal(one, signal.SIG_IGN if one in ignored else signal.SIG_DFL)

    script = tmp_path / "server.py"
    script.write_text(sleeper(marker, "start_new_session=True") + "time.sleep(90)\n", "utf-8")
    command = [sys.executable, "-m", "tallshelf", "capture", "--stdio", f"{sys.executable} {script}"]
    running = subprocess.Popen(
        command, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True, preexec_fn=signals
    )
    until = time.monotonic() + 30
    while not is_left(marker) and time.monotonic() < until:
        time.sleep(0.05)
    running.send_signal(number)
    _, said = running.communicate(timeout=20)
    assert (running.returncode, said.strip()) == (2, "stopped")
    assert gone(marker)
