"""What stands between the network and the service: whole requests in, whole answers out, in time or not at all.

The event loop reads requests and sends answers, under deadlines, so that a peer which is slow holds a connection and
no thread. What came whole is worked on by threads that live on, and keep their connection to the database: some for
reading, others for what changes something, one for health, some for answers told line by line. None waits for another.
"""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable, MutableMapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from io import BytesIO
from typing import Any, TypeVar

import django
import orjson
import structlog
from django.core import signals
from django.core.handlers.asgi import ASGIRequest
from django.core.handlers.base import BaseHandler
from django.http import FileResponse, HttpResponse, StreamingHttpResponse

from tallshelf.core.errors import BadArgument, OverLimit, ShelfError, TooSlow, Unavailable
from tallshelf.core.reports import escape
from tallshelf.service.web.problems import headers_of, problem, status_of

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]

T = TypeVar("T")

_log = structlog.get_logger("tallshelf.front")
_READING = ("GET", "HEAD", "OPTIONS")
_PIECE = 65_536
_KEPT_WHOLE = 4_000_000
"""Up to so many bytes an answer is held whole, so that no thread waits until it is sent."""


@dataclass(frozen=True)
class Limits:
    """Deadlines in seconds, sizes in bytes, and how many threads there are for what."""

    idle: float = 8.0
    body: float = 30.0
    send: float = 15.0
    most_body: int = 8_000_000
    most_held: int = 96_000_000
    readers: int = 4
    writers: int = 4
    streams: int = 4
    most_waiting: int = 256


@dataclass
class Answer:
    """An answer of the service: its body whole, or told in pieces by a response that is then closed."""

    status: int
    headers: list[tuple[bytes, bytes]]
    body: bytes
    told: StreamingHttpResponse | None = None


class Gone(Exception):
    """The peer went away, or does not take what is sent."""


class Django(BaseHandler):
    """The service as one blocking call."""

    def __init__(self) -> None:
        super().__init__()
        django.setup(set_prefix=False)
        self.load_middleware()

    def answer(self, scope: Scope, body: bytes) -> Answer:
        """Return the answer to a whole request; it runs in one thread from beginning to end."""
        signals.request_started.send(sender=type(self), scope=scope)
        try:
            request = ASGIRequest(scope, BytesIO(body))
        except UnicodeDecodeError:
            return _refusal(BadArgument("the address is no UTF-8"))
        response = self.get_response(request)
        response._handler_class = type(self)  # type: ignore[attr-defined]  # as Django's own handlers do
        headers = [(name.lower(), value) for name, value in response.items()]
        headers += [("set-cookie", morsel.output(header="").strip()) for morsel in response.cookies.values()]
        sent = [(name.encode("latin-1"), value.encode("latin-1")) for name, value in headers]
        if isinstance(response, StreamingHttpResponse) and not _is_small_file(response):
            return Answer(response.status_code, sent, b"", response)
        whole = response.content if isinstance(response, HttpResponse) else b"".join(response)
        response.close()
        return Answer(response.status_code, sent, whole)


def _is_small_file(response: StreamingHttpResponse) -> bool:
    return isinstance(response, FileResponse) and int(response.get("Content-Length", "0")) <= _KEPT_WHOLE


class Front:
    """The ASGI application (version 3) that a production server runs."""

    def __init__(
        self,
        answer: Callable[[Scope, bytes], Answer],
        limits: Limits = Limits(),
        *,
        at_first: Callable[[], object] | None = None,
    ) -> None:
        """``at_first`` is called once, at the first request: the server listens then."""
        self._at_first = at_first
        self._answer = answer
        self._limits = limits
        self._held = 0
        self._readers = _Lane("read", limits.readers, limits.most_waiting)
        self._writers = _Lane("write", limits.writers, limits.most_waiting)
        self._streams = _Lane("stream", limits.streams, limits.streams)
        self._health = _Lane("health", 1, limits.most_waiting)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "lifespan":
            await _live(receive, send)
            return
        if self._at_first is not None:
            self._at_first()
            self._at_first = None
        if scope["path"] == "/health/live":
            await self._send(_json(200, {"live": True}), scope, send)
            return
        try:
            answer = await self._whole(scope, receive)
            await self._send(answer, scope, send)
        except Gone:
            _log.info("a peer went away, or was cut", path=escape(scope["path"]))

    async def _whole(self, scope: Scope, receive: Receive) -> Answer:
        """Return the answer to a request, once its body is there."""
        body = b""
        try:
            body = await self._body(scope, receive)
            lane = self._writers if scope["method"] not in _READING else self._readers
            if scope["path"].startswith("/health/"):
                lane = self._health
            lane.enter()
            return await lane.run(self._answer, scope, body)
        except ShelfError as error:
            _log.warning(error.reason, path=escape(scope["path"]), status=status_of(error))
            return _refusal(error)
        finally:
            self._held -= len(body)

    async def _body(self, scope: Scope, receive: Receive) -> bytes:
        """Return the whole body; what it holds is counted in ``_held`` from then on."""
        limits = self._limits
        _refuse_declared(scope, limits.most_body)
        pieces: list[bytes] = []
        size = 0
        try:
            async with asyncio.timeout(limits.body):
                while True:
                    # Not wait_for: in Python 3.11 it loses the outer deadline where that comes with a piece.
                    async with asyncio.timeout(limits.idle):
                        message = await receive()
                    if message["type"] != "http.request":
                        raise Gone
                    piece = message.get("body", b"")
                    size += len(piece)
                    self._held += len(piece)
                    pieces.append(piece)
                    if size > limits.most_body:
                        raise OverLimit("the request is larger than 8 MB")
                    if self._held > limits.most_held:
                        raise Unavailable("too much is being sent at once", remedy="Try again in a moment.")
                    if not message.get("more_body"):
                        return b"".join(pieces)
        except TimeoutError:
            self._held -= size
            raise TooSlow(
                f"the request did not come in time ({limits.idle:.0f} s without a byte, {limits.body:.0f} s in all)",
                remedy="Send it again over a better connection, or in smaller parts.",
            ) from None
        except (ShelfError, Gone):
            self._held -= size
            raise

    async def _send(self, answer: Answer, scope: Scope, send: Send) -> None:
        if answer.told is not None:
            answer = await self._told(answer, answer.told, send)
        if answer.told is not None:
            return
        await self._in_time(send(_start(answer)))
        body = memoryview(b"" if scope["method"] == "HEAD" else answer.body)
        for at in range(0, max(len(body), 1), _PIECE):
            more = at + _PIECE < len(body)
            await self._in_time(send(_piece(bytes(body[at : at + _PIECE]), more)))

    async def _told(self, answer: Answer, response: StreamingHttpResponse, send: Send) -> Answer:
        """Send an answer that is made while it is sent, by one thread from beginning to end.

        Returns the same answer, or the refusal to send instead where too many are told already.
        """
        loop = asyncio.get_running_loop()

        def hand(message: dict[str, Any]) -> None:
            asyncio.run_coroutine_threadsafe(self._in_time(send(message)), loop).result()

        def tell() -> None:
            try:
                hand(_start(answer))
                for piece in response:
                    hand(_piece(piece, True))
                hand(_piece(b"", False))
            finally:
                response.close()

        try:
            self._streams.enter()
        except Unavailable as error:
            response.close()
            return _refusal(error)
        await self._streams.run(tell)
        return answer

    async def _in_time(self, sending: Awaitable[None]) -> None:
        try:
            async with asyncio.timeout(self._limits.send):
                await sending
        except TimeoutError:
            raise Gone from None


class _Lane:
    """Threads for one kind of work, and how many requests at most are with them or wait for them."""

    def __init__(self, name: str, threads: int, most_waiting: int) -> None:
        self._pool = ThreadPoolExecutor(threads, thread_name_prefix=name)
        self._free = threads + most_waiting

    def enter(self) -> None:
        """Take a place, which `run` gives back; raise `Unavailable` where there is none."""
        if self._free == 0:
            raise Unavailable("more requests wait than can be answered soon", remedy="Try again in a moment.")
        self._free -= 1

    async def run(self, work: Callable[..., T], *args: Any) -> T:
        """Return what work comes to; `enter` must have been called before."""
        try:
            return await asyncio.get_running_loop().run_in_executor(self._pool, work, *args)
        finally:
            self._free += 1


def _refuse_declared(scope: Scope, most: int) -> None:
    for name, value in scope["headers"]:
        if name == b"content-length" and value.isdigit() and int(value) > most:
            raise OverLimit("the request is larger than 8 MB")


def _refusal(error: ShelfError) -> Answer:
    """Return a refusal by us; the connection ends with it, for there may be more of the request to come."""
    answer = _json(status_of(error), problem(error), "application/problem+json")
    more = {**headers_of(error), "Connection": "close"}
    answer.headers += [(name.lower().encode(), value.encode()) for name, value in more.items()]
    return answer


def _json(status: int, document: dict[str, Any], kind: str = "application/json") -> Answer:
    body = orjson.dumps(document)
    headers = [
        (b"content-type", kind.encode()),
        (b"content-length", str(len(body)).encode()),
        (b"x-content-type-options", b"nosniff"),
        (b"cache-control", b"no-store"),
    ]
    return Answer(status, headers, body)


def _start(answer: Answer) -> dict[str, Any]:
    return {"type": "http.response.start", "status": answer.status, "headers": answer.headers}


def _piece(body: bytes, more: bool) -> dict[str, Any]:
    return {"type": "http.response.body", "body": body, "more_body": more}


async def _live(receive: Receive, send: Send) -> None:
    while True:
        kind = (await receive())["type"].removeprefix("lifespan.")
        await send({"type": f"lifespan.{kind}.complete"})
        if kind == "shutdown":
            return
