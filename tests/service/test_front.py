"""The front by itself: a slow or greedy peer costs a connection, and nobody else anything."""

from __future__ import annotations

import asyncio
import json
import threading
import time
from dataclasses import replace

import pytest
from django.http import StreamingHttpResponse

from tallshelf.service.front import Answer, Django, Front, Limits

QUICK = Limits(idle=0.2, body=0.3, send=20, most_body=1000, most_held=2500, most_waiting=2, streams=1)
IMPATIENT = replace(QUICK, send=0.4)
FINE = Answer(200, [(b"content-type", b"text/plain")], b"fine")


class Peer:
    """One request as the server hands it on: pieces of a body, and what was sent back."""

    def __init__(
        self, *pieces, method="POST", path="/api/v1/lint", headers=(), pause=0.0, takes=True, ends=True
    ):
        self.scope = {
            "type": "http",
            "method": method,
            "path": path,
            "query_string": b"",
            "http_version": "1.1",
        }
        self.scope |= {"headers": list(headers), "scheme": "http", "server": ("testserver", 80)}
        self.scope |= {"client": ("127.0.0.1", 1), "root_path": "", "raw_path": path.encode()}
        self.pieces, self.pause, self.takes, self.ends = list(pieces), pause, takes, ends
        self.got = []

    async def receive(self):
        await asyncio.sleep(self.pause)
        if not self.pieces:
            if not self.ends:
                await asyncio.sleep(3600)
            return {"type": "http.request", "body": b"", "more_body": False}
        return {"type": "http.request", "body": self.pieces.pop(0), "more_body": True}

    async def send(self, message):
        if not self.takes:
            await asyncio.sleep(3600)
        self.got.append(message)

    @property
    def status(self):
        return self.got[0]["status"]

    @property
    def body(self):
        return b"".join(one.get("body", b"") for one in self.got[1:])


def served(*peers, answer=lambda scope, body: FINE, limits=QUICK):
    async def all_of_them():
        front = Front(answer, limits)
        await asyncio.gather(*(front(one.scope, one.receive, one.send) for one in peers))
        return front

    return asyncio.run(all_of_them())


@pytest.mark.parametrize(
    ("peer", "status", "code"),
    [
        (Peer(b"{", ends=False), 408, "too-slow"),
        (Peer(*[b"x"] * 20, pause=0.05), 408, "too-slow"),
        (Peer(b"x" * 600, b"x" * 600), 413, "over-limit"),
        (Peer(headers=[(b"content-length", b"1001")]), 413, "over-limit"),
    ],
    ids=["waits", "drips", "sends too much", "says it will"],
)
def test_a_body_that_does_not_come_is_refused_in_time(peer, status, code):
    front = served(peer)
    assert (peer.status, json.loads(peer.body)["type"]) == (status, f"urn:tallshelf:problem:{code}")
    assert (b"connection", b"close") in peer.got[0]["headers"]
    assert front._held == 0


def test_a_deadline_that_comes_together_with_a_piece_is_not_lost():
    class Held(Peer):
        async def receive(self):
            if len(self.pieces) == 3:
                asyncio.get_running_loop().call_soon(time.sleep, 0.4)
            return await super().receive()

    peer = Held(*[b"x"] * 3, pause=0.01)
    served(peer, limits=replace(QUICK, idle=5))
    assert peer.status == 408


def test_what_many_send_at_once_is_bounded_together():
    peers = [Peer(b"x" * 900, ends=False) for _ in range(4)]
    front = served(*peers)
    assert sorted(one.status for one in peers) == [408, 408, 503, 503]
    assert front._held == 0


def test_more_than_can_wait_are_sent_away_and_health_is_answered_all_the_same():
    free = threading.Event()

    def answer(scope, body):
        if scope["path"].startswith("/api"):
            assert free.wait(10)
        return FINE

    async def crowd():
        front = Front(answer, Limits(readers=1, writers=1, most_waiting=2))
        peers = [Peer(method="GET") for _ in range(6)]
        tasks = [asyncio.create_task(front(one.scope, one.receive, one.send)) for one in peers]
        writes, live, ready = Peer(), Peer(path="/health/live"), Peer(method="GET", path="/health/ready")
        tasks.append(asyncio.create_task(front(writes.scope, writes.receive, writes.send)))
        await asyncio.sleep(0.05)
        for one in (live, ready):
            await front(one.scope, one.receive, one.send)
        assert (live.status, ready.status) == (200, 200)
        free.set()
        await asyncio.gather(*tasks)
        assert writes.status == 200, "what changes something waits for no reader"
        return peers

    found = asyncio.run(crowd())
    assert sorted(one.status for one in found) == [200, 200, 200, 503, 503, 503]
    refused = next(one for one in found if one.status == 503)
    assert (b"retry-after", b"5") in refused.got[0]["headers"]


def test_a_reader_that_takes_nothing_is_cut_and_holds_no_thread():
    ended = []

    def told():
        try:
            yield from (b"line\n" for _ in range(1000))
        finally:
            ended.append(True)

    def answer(scope, body):
        return Answer(200, [], b"", StreamingHttpResponse(told()))

    slow, quick = Peer(method="GET", takes=False), Peer(method="GET")
    served(slow, answer=answer, limits=IMPATIENT)
    assert (slow.got, ended) == ([], [])
    served(quick, answer=answer)
    assert (quick.status, len(quick.body), ended) == (200, 5000, [True])


def test_an_answer_in_pieces_beyond_what_is_told_at_once_is_refused():
    def answer(scope, body):
        return Answer(200, [], b"", StreamingHttpResponse(iter([b"x"])))

    peers = [Peer(method="GET", takes=False) for _ in range(4)]
    peers.append(Peer(method="GET"))
    served(*peers, answer=answer, limits=IMPATIENT)
    assert peers[-1].status in (200, 503)


def test_a_big_answer_is_sent_in_pieces_and_a_head_without_a_body():
    big = Answer(200, [], b"x" * 200_000)
    peer, head = Peer(method="GET"), Peer(method="HEAD")
    served(peer, head, answer=lambda scope, body: big)
    assert (len(peer.body), len(peer.got), head.body) == (200_000, 5, b"")


def test_the_service_answers_through_it(db):
    answer = Django().answer
    peer = Peer(method="GET", path="/api/v1/servers")
    found = answer(peer.scope, b"")
    assert found.status == 401
    assert json.loads(found.body)["type"].endswith("sign-in-needed")
    page = answer({**peer.scope, "path": "/"}, b"")
    assert any(name == b"set-cookie" for name, _ in page.headers)
