"""One connection to a tool server, with every answer kept as it was received."""

from __future__ import annotations

import copy
import logging
from collections.abc import AsyncGenerator, AsyncIterator
from contextlib import AsyncExitStack, asynccontextmanager
from typing import Any

import anyio
import httpx2
import mcp_types as types
from mcp import Client
from mcp.client.auth import OAuthFlowError
from mcp.client.sse import sse_client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError
from mcp.shared.message import SessionMessage
from mcp_types import JSONRPCRequest, JSONRPCResponse
from pydantic import ValidationError

from tallshelf import __version__
from tallshelf.core.errors import Misbehaved, ShelfError, TookTooLong, Unreachable
from tallshelf.protocol._http import Meter, Refused, http_client
from tallshelf.protocol._stdio import Noise, stdio_transport
from tallshelf.protocol.endpoints import Bounds, Endpoint, HttpEndpoint, StdioEndpoint

METHOD_NOT_FOUND = -32601


class _Recorder:
    """Wraps a transport's streams and keeps each raw result under its method."""

    def __init__(self, read: Any, write: Any) -> None:
        self._read = read
        self._write = write
        self._methods: dict[Any, str] = {}
        self.results: dict[str, dict[str, Any]] = {}

    async def receive(self) -> Any:
        return self._kept(await self._read.receive())

    def __aiter__(self) -> AsyncIterator[Any]:
        return self

    async def __anext__(self) -> Any:
        return self._kept(await self._read.__anext__())

    async def send(self, message: SessionMessage) -> None:
        if isinstance(message.message, JSONRPCRequest):
            self._methods[message.message.id] = message.message.method
        await self._write.send(message)

    async def aclose(self) -> None:
        await self._read.aclose()
        await self._write.aclose()

    async def __aenter__(self) -> _Recorder:
        return self

    async def __aexit__(self, *_: object) -> None:
        await self.aclose()

    def __getattr__(self, name: str) -> Any:
        # The SDK's streams carry the sender's context beside the messages.
        return getattr(self._read, name)

    def _kept(self, message: Any) -> Any:
        if isinstance(message, SessionMessage) and isinstance(message.message, JSONRPCResponse):
            method = self._methods.pop(message.message.id, None)
            if method is not None:
                # The SDK may alter what it parses; what we keep must be what was received.
                self.results[method] = copy.deepcopy(dict(message.message.result))
        return message


class Session:
    """A negotiated session that answers with raw results."""

    def __init__(self, client: Client, recorder: _Recorder) -> None:
        self._client = client
        self._recorder = recorder

    @property
    def protocol_version(self) -> str:
        return str(self._client.protocol_version)

    @property
    def greeting(self) -> dict[str, Any]:
        """The raw result of the handshake or of discovery."""
        results = self._recorder.results
        return results.get("initialize") or results.get("server/discover") or {}

    async def request(self, request: Any, result_type: Any) -> dict[str, Any]:
        """Send a request and return its raw result, even one that the SDK's models refuse.

        Raises MCPError when the server answers with an error.
        """
        method: str = request.method
        self._recorder.results.pop(method, None)
        try:
            await self._client.session.send_request(request, result_type)
        except ValidationError:
            if method not in self._recorder.results:
                raise
        return self._recorder.results[method]


@asynccontextmanager
async def open_session(endpoint: Endpoint, bounds: Bounds, noise: Noise) -> AsyncGenerator[Session, None]:
    """Connect to a server, negotiating the protocol revision, and yield the session.

    Every way in which a server can fail us comes out as one of our errors: `Unreachable`,
    `TookTooLong` or `Misbehaved`, with the end of its stderr where there is one.
    """
    logging.getLogger("mcp").setLevel(logging.CRITICAL)
    fault: list[ShelfError] = []
    meters: list[Meter] = []
    try:
        with anyio.fail_after(bounds.total_seconds + _patience(endpoint)):
            async with _transport(endpoint, bounds, noise, fault, meters) as (read, write):
                recorder = _Recorder(read, write)
                client = Client(
                    _fixed(recorder),
                    cache=None,
                    read_timeout_seconds=bounds.request_seconds,
                    client_info=types.Implementation(name="tallshelf", version=__version__),
                )
                async with client:
                    yield Session(client, recorder)
    except BaseException as raised:
        translated = _translate(raised, endpoint, bounds, noise, fault, meters)
        if translated is None:
            raise
        raise translated from None


def _patience(endpoint: Endpoint) -> float:
    """Return how many seconds a person may take to sign in."""
    sign_in = endpoint.sign_in if isinstance(endpoint, HttpEndpoint) else None
    return sign_in.patience if sign_in is not None else 0.0


@asynccontextmanager
async def _fixed(recorder: _Recorder) -> AsyncGenerator[tuple[Any, Any], None]:
    yield recorder, recorder


@asynccontextmanager
async def _transport(
    endpoint: Endpoint, bounds: Bounds, noise: Noise, fault: list[ShelfError], meters: list[Meter]
) -> AsyncGenerator[tuple[Any, Any], None]:
    if isinstance(endpoint, StdioEndpoint):
        async with stdio_transport(endpoint, bounds, noise, fault) as streams:
            yield streams
        return
    client, meter = http_client(endpoint, bounds, fault)
    meters.append(meter)
    async with AsyncExitStack() as stack:
        if endpoint.sign_in is not None:
            stack.callback(endpoint.sign_in.close)
        await stack.enter_async_context(client)
        if endpoint.transport == "http+sse":
            async with sse_client(endpoint.url, httpx_client_factory=_given(client)) as streams:
                yield streams
            return
        async with streamable_http_client(
            endpoint.url, http_client=client, max_sse_event_size=bounds.bytes
        ) as streams:
            yield streams


def _given(client: httpx2.AsyncClient) -> Any:
    """Hand the SDK our guarded client where it would make one of its own."""

    @asynccontextmanager
    async def make(**_: Any) -> AsyncGenerator[httpx2.AsyncClient, None]:
        yield client

    return make


def _translate(
    raised: BaseException,
    endpoint: Endpoint,
    bounds: Bounds,
    noise: Noise,
    fault: list[ShelfError],
    meters: list[Meter],
) -> ShelfError | None:
    """Say in our errors what went wrong; None for what is not about the server."""
    causes = list(_leaves(raised))
    ours = [error for error in causes if isinstance(error, ShelfError)]
    if fault or ours:
        return (fault or ours)[0]
    if any(isinstance(error, KeyboardInterrupt | SystemExit) for error in causes):
        return None
    said = noise.stderr_text(endpoint.env if isinstance(endpoint, StdioEndpoint) else {})
    remedy = f"It wrote on stderr:\n{said}" if said else ""
    if noise.stray and not said:
        remedy = f"It wrote on stdout, where only protocol messages belong: {noise.stray[0][:120]!r}"
    for error in causes:
        if isinstance(error, OAuthFlowError):
            return Unreachable(f"signing in to {endpoint} failed: {str(error)[:300]}")
    refused = next((meter.refused for meter in meters if meter.refused), None)
    if refused is not None and refused.status in _MEANT:
        return _refusal(endpoint, refused)
    for error in causes:
        if isinstance(error, TimeoutError) or (isinstance(error, MCPError) and error.error.code == -32001):
            return TookTooLong(
                f"{endpoint} did not answer within {bounds.request_seconds:g} seconds", remedy=remedy
            )
        if isinstance(error, httpx2.ConnectTimeout):
            return TookTooLong(f"{endpoint} took no connection within {bounds.request_seconds:g} seconds")
        if isinstance(error, httpx2.ConnectError):
            return _no_connection(endpoint, str(error), bounds)
        if isinstance(error, httpx2.TransportError):
            return Unreachable(f"the connection to {endpoint} failed: {error}", remedy=remedy)
    if refused is not None:
        return _refusal(endpoint, refused)
    for error in causes:
        if isinstance(error, MCPError):
            gone = "onnection closed" in error.error.message
            said_what = (
                f"ended before it answered{_ended(noise)}"
                if gone
                else f"answered with an error: {error.error.message[:300]}"
            )
            return (Unreachable if gone else Misbehaved)(f"{endpoint} {said_what}", remedy=remedy)
        if isinstance(error, ValidationError):
            return Misbehaved(f"{endpoint} answered with what is no MCP message", remedy=remedy)
        if isinstance(error, UnicodeDecodeError):
            return Misbehaved(f"{endpoint} answered with bytes that are no UTF-8", remedy=remedy)
        if isinstance(error, RuntimeError | anyio.ClosedResourceError | anyio.BrokenResourceError):
            return Unreachable(f"{endpoint} ended the connection", remedy=remedy)
    return None


_MEANT = {401, 403, 405, 429, 503}


def _refusal(endpoint: Endpoint, refused: Refused) -> ShelfError:
    """Say in words how a server refused, and what may help."""
    told = f"HTTP {refused.status}"
    if refused.status in (401, 403):
        asks = f"; it asks for {refused.challenge}" if refused.challenge else ""
        return Unreachable(
            f"{endpoint} refused the credentials ({told}){asks}",
            remedy="Name its token in [fetch] tokens of the settings."
            if isinstance(endpoint, HttpEndpoint) and endpoint.policy is not None
            else "Name the header by --header-from NAME=VARIABLE or --bearer-from VARIABLE, or sign in by --oauth.",
        )
    if refused.status == 405:
        return Unreachable(
            f"{endpoint} takes no requests of Streamable HTTP ({told})",
            remedy="If it speaks the older event-stream transport, try --event-stream.",
        )
    if refused.status in (429, 503):
        when = f"after {refused.retry_after}" if refused.retry_after else "later"
        return Unreachable(f"{endpoint} cannot answer now ({told})", remedy=f"Try again {when}.")
    return Unreachable(f"{endpoint} answered with {told}", remedy="Is this its MCP address?")


def _no_connection(endpoint: Endpoint, said: str, bounds: Bounds) -> ShelfError:
    """Say why there is no connection, by what the system said of it."""
    if "CERTIFICATE" in said.upper():
        return Unreachable(
            f"the certificate of {endpoint} is not trusted: {said[:200]}",
            remedy="Name the issuer's certificate by SSL_CERT_FILE, or have the server's renewed.",
        )
    if any(words in said for words in _NAMES):
        return Unreachable(f"the host of {endpoint} is not known by name", remedy="Is the name right?")
    return Unreachable(
        f"could not connect to {endpoint} in {bounds.attempts} attempts",
        remedy="Is the server running, and is that its address?",
    )


_NAMES = ("Name or service not known", "name resolution", "nodename nor servname", "No address associated")


def _ended(noise: Noise) -> str:
    return f" (exit code {noise.exit_code})" if noise.exit_code is not None else ""


def _leaves(raised: BaseException) -> list[BaseException]:
    if isinstance(raised, BaseExceptionGroup):
        return [leaf for exception in raised.exceptions for leaf in _leaves(exception)]
    return [raised]
