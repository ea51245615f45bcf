"""The real service, while hundreds of peers hold connections and send nothing."""

from __future__ import annotations

import os
import re
import resource
import signal
import socket
import threading
import time

import httpx
import pytest

from tests.e2e.own_service import own_service

SLOW = int(os.environ.get("TALLSHELF_SLOW_PEERS", "500"))
HONEST = 8
BODY = (
    b"POST /api/v1/lint HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n{"
)
HEAD = b"GET /api/v1/servers HTTP/1.1\r\nHos"


@pytest.fixture
def service(tmp_path):
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(hard, 4096), hard))
    found = own_service(tmp_path / "data")
    yield found
    found.kill()
    resource.setrlimit(resource.RLIMIT_NOFILE, (soft, hard))


def slow_peers(service):
    """Open connections, half of which stop in the head and half in the body of a request."""
    found = []
    for number in range(SLOW):
        peer = socket.create_connection(("127.0.0.1", service.port), timeout=40)
        peer.sendall(BODY if number % 2 else HEAD)
        found.append(peer)
    return found


def stalled_readers(service):
    """Ask for far more than a connection holds, and take none of it."""
    page = httpx.get(service.url).text
    script = re.search(r"/static/console/assets/index-[\w-]+\.js", page)[0]
    found = []
    for _ in range(10):
        peer = socket.socket()
        peer.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        peer.connect(("127.0.0.1", service.port))
        peer.sendall(f"GET {script} HTTP/1.1\r\nHost: x\r\n\r\n".encode() * 30)
        found.append(peer)
    return found


def is_cut(peer):
    """Whether the service ended a connection before all was taken from it."""
    until = time.monotonic() + 40
    while time.monotonic() < until:
        try:
            peer.sendall(b" ")
        except OSError:
            peer.close()
            return True
        time.sleep(0.2)
    return False


def answered(peer):
    """Return the status with which a slow peer was sent away; 0 where its connection was just ended."""
    try:
        first = peer.recv(200)
    except ConnectionResetError:
        first = b""
    peer.close()
    return int(first.split()[1]) if first else 0


def test_slow_peers_are_sent_away_while_others_are_served_and_it_stops_when_told(service):
    stop, statuses = threading.Event(), []

    def honest():
        headers = {"Authorization": f"Bearer {service.tokens['tomas']}"}
        with httpx.Client(base_url=service.url, headers=headers, timeout=20) as http:
            number = 0
            while not stop.is_set():
                number += 1
                for path in ("/api/v1/servers", "/health/ready", "/health/live"):
                    statuses.append(http.get(path).status_code)
                slug = f"{threading.current_thread().name}-{number}".lower()
                body = {"slug": slug, "title": "T", "team": "berths", "contact": "c@pellam.example"}
                if number < 4:
                    statuses.append(http.post("/api/v1/servers", json=body).status_code)

    threads = [threading.Thread(target=honest, name=f"peer-{number}") for number in range(HONEST)]
    for one in threads:
        one.start()
    readers = stalled_readers(service)
    peers = slow_peers(service)
    before = len(statuses)
    sent_away = [answered(one) for one in peers]
    during = len(statuses) - before
    stop.set()
    for one in threads:
        one.join()
    assert set(sent_away) == {0, 408}, "the head is cut, the body refused"
    assert set(statuses) <= {200, 201}
    assert during > 20 * HONEST
    assert all(is_cut(one) for one in readers)

    peers = slow_peers(service)
    started = time.monotonic()
    os.kill(service.process.pid, signal.SIGTERM)
    service.process.wait(timeout=30)
    assert time.monotonic() - started < 20
    for one in peers:
        one.close()
