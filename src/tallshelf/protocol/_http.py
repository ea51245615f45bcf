"""The HTTP client under Streamable HTTP: bounded in bytes, and held to an address policy."""

from __future__ import annotations

import ssl
from collections.abc import AsyncIterator, Callable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import anyio
import httpcore2
import httpx2

from tallshelf.core.errors import Denied, Misbehaved, ShelfError, TookTooLong, Unreachable
from tallshelf.protocol._raw import RawAnswers, refuse_twice_named
from tallshelf.protocol.endpoints import Bounds, HttpEndpoint, SigningIn

_FIRST_PAUSE = 0.25


class _Watched(httpx2.AsyncByteStream):
    """A response body that ends with a fault past the bound, or where it names a key twice."""

    def __init__(self, inner: Any, meter: Meter, raw: RawAnswers) -> None:
        self._inner = inner
        self._meter = meter
        self._raw = raw

    async def __aiter__(self) -> AsyncIterator[bytes]:
        async for chunk in self._inner:
            self._meter.add(len(chunk))
            self._look(self._raw.add, chunk)
            yield chunk
        self._look(self._raw.end)

    def _look(self, at: Callable[..., None], *chunk: bytes) -> None:
        try:
            at(*chunk)
        except Misbehaved as error:
            raise httpx2.ReadError(str(error)) from None

    async def aclose(self) -> None:
        await self._inner.aclose()


@dataclass(frozen=True)
class Refused:
    """How a server refused a request: its status, and what it said of how to do better."""

    status: int
    challenge: str = ""
    retry_after: str = ""


class Meter:
    """Counts the bytes of all responses, and remembers the last status that refused us."""

    def __init__(self, bounds: Bounds, fault: list[ShelfError]) -> None:
        self._left = bounds.bytes
        self._limit = bounds.bytes
        self._fault = fault
        self.refused: Refused | None = None

    def add(self, count: int) -> None:
        self._left -= count
        if self._left < 0:
            self._fault.append(Misbehaved(f"the server sent more than {self._limit:,} bytes"))
            raise httpx2.ReadError("over the limit of bytes")


class _Guard(Protocol):
    def check_address(self, host: str, address: str) -> None: ...


class _GuardedBackend(httpcore2.AsyncNetworkBackend):
    """Checks the address of every connected socket before anything is sent on it."""

    def __init__(self, policy: _Guard, fault: list[ShelfError]) -> None:
        self._inner = httpcore2.AnyIOBackend()
        self._policy = policy
        self._fault = fault
        self.hosts: set[str] = set()

    async def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Any = None,
    ) -> httpcore2.AsyncNetworkStream:
        stream = await self._inner.connect_tcp(host, port, timeout, local_address, socket_options)
        try:
            self._policy.check_address(host, stream.get_extra_info("server_addr")[0])
        except ShelfError as denied:
            self._fault.append(denied)
            await stream.aclose()
            raise httpcore2.ConnectError(str(denied)) from None
        self.hosts.add(host)
        return stream

    async def sleep(self, seconds: float) -> None:
        await self._inner.sleep(seconds)


class _Transport(httpx2.AsyncHTTPTransport):
    """The transport under a client: it tries a first connection again for a moment, since a server may be starting."""

    def __init__(self, meter: Meter, endpoint: HttpEndpoint, bounds: Bounds, fault: list[ShelfError]) -> None:
        policy = endpoint.policy
        super().__init__(trust_env=policy is None)
        self._meter = meter
        self._policy = policy
        self._sign_in = endpoint.sign_in
        self._fault = fault
        self._attempts = bounds.attempts
        guard = policy or endpoint.sign_in
        self._guard = None if guard is None else _GuardedBackend(guard, fault)
        if self._guard is not None:
            # httpx offers no setting for the network backend; its pool is where httpcore takes it.
            if not isinstance(getattr(self, "_pool", None), httpcore2.AsyncConnectionPool):
                raise Denied(
                    "this version of httpx2 keeps its connections elsewhere: addresses cannot be guarded"
                )
            self._pool = httpcore2.AsyncConnectionPool(
                ssl_context=ssl.create_default_context(), network_backend=self._guard
            )

    async def handle_async_request(self, request: httpx2.Request) -> httpx2.Response:
        if self._sign_in is not None:
            await self._lead_on(self._sign_in, request)
        response = await self._first(request)
        self._refuse_unguarded(request)
        encoding = response.headers.get("content-encoding", "identity").strip().lower()
        if encoding not in ("", "identity"):
            self._fault.append(Misbehaved(f"{request.url} answered in the encoding {encoding[:20]}, unasked"))
            await response.aclose()
            raise httpx2.ReadError("an encoding that was not asked for")
        if request.method == "POST":
            said = response.headers
            refused = Refused(
                response.status_code, said.get("www-authenticate", "")[:200], said.get("retry-after", "")[:40]
            )
            self._meter.refused = refused if response.status_code >= 400 else None
        if self._policy is not None and response.is_redirect:
            # The SDK follows redirects within an origin by itself; the service follows none.
            self._fault.append(Denied(f"{request.url} redirects, which is not followed"))
            raise httpx2.ConnectError("a redirect")
        raw = RawAnswers(response.headers.get("content-type", ""), self._fault)
        response.stream = _Watched(response.stream, self._meter, raw)
        return response

    async def _lead_on(self, sign_in: SigningIn, request: httpx2.Request) -> None:
        try:
            await sign_in.check(str(request.url))
        except ShelfError as denied:
            self._fault.append(denied)
            raise httpx2.ConnectError(str(denied)) from None

    async def _first(self, request: httpx2.Request) -> httpx2.Response:
        """Send a request; where no connection was ever made it is tried again, for nothing was sent."""
        pause = _FIRST_PAUSE
        while True:
            self._attempts -= 1
            try:
                response = await super().handle_async_request(request)
            except httpx2.ConnectError:
                if self._attempts <= 0 or self._fault:
                    raise
                await anyio.sleep(pause)
                pause *= 2
            else:
                self._attempts = 0
                return response

    def _refuse_unguarded(self, request: httpx2.Request) -> None:
        """Refuse an answer that came by a connection which our backend never saw."""
        if self._guard is not None and request.url.host not in self._guard.hosts:
            self._fault.append(Denied(f"it cannot be told whom {request.url} was answered by"))
            raise httpx2.ConnectError("an unguarded connection")


async def _ask(
    method: str, endpoint: HttpEndpoint, bounds: Bounds, form: Mapping[str, str] | None
) -> httpx2.Response:
    fault: list[ShelfError] = []
    client, _ = http_client(endpoint, bounds, fault)
    async with client:
        try:
            return await client.request(method, endpoint.url, data=form)
        except httpx2.HTTPError as failed:
            raise (fault[0] if fault else Unreachable(f"could not reach {endpoint.url}: {failed}")) from None


def ask_json(endpoint: HttpEndpoint, bounds: Bounds, form: Mapping[str, str] | None = None) -> dict[str, Any]:
    """Return the JSON object that an address answers a GET with, or a POST of a form.

    It is held to the endpoint's policy like any fetch of the service. Raises `Unreachable`, `Denied` or
    `Misbehaved`.
    """
    answer = anyio.run(_ask, "GET" if form is None else "POST", endpoint, bounds, form)
    refuse_twice_named(answer.content)
    try:
        found = answer.json()
    except ValueError:
        found = None
    if answer.status_code != 200 or not isinstance(found, dict):
        raise Misbehaved(f"{endpoint.url} answered with HTTP {answer.status_code}, and not as was asked")
    return found


async def _send(endpoint: HttpEndpoint, bounds: Bounds, body: bytes) -> tuple[int, str]:
    fault: list[ShelfError] = []
    client, _ = http_client(endpoint, bounds, fault)
    try:
        with anyio.fail_after(bounds.total_seconds):
            async with client:
                answer = await client.post(endpoint.url, content=body)
    except httpx2.HTTPError as failed:
        raise (fault[0] if fault else Unreachable(f"could not reach {endpoint.url}: {failed}")) from None
    except TimeoutError:
        raise TookTooLong(f"{endpoint.url} took longer than {bounds.total_seconds:g} seconds") from None
    return answer.status_code, answer.headers.get("retry-after", "")


def send_bytes(endpoint: HttpEndpoint, bounds: Bounds, body: bytes) -> tuple[int, str]:
    """Post a body to an address, whatever it answers; return the HTTP status and its ``Retry-After``.

    It is held to the endpoint's policy like any call of the service. Raises `Unreachable`, `Denied`, `TookTooLong` or
    `Misbehaved`.
    """
    return anyio.run(_send, endpoint, bounds, body)


def http_client(
    endpoint: HttpEndpoint, bounds: Bounds, fault: list[ShelfError]
) -> tuple[httpx2.AsyncClient, Meter]:
    """Return a client for an endpoint, and its meter."""
    if endpoint.policy is not None:
        endpoint.policy.check_url(endpoint.url)
    meter = Meter(bounds, fault)
    client = httpx2.AsyncClient(
        headers={**endpoint.headers, "Accept-Encoding": "identity"},
        timeout=httpx2.Timeout(bounds.request_seconds),
        transport=_Transport(meter, endpoint, bounds, fault),
        auth=endpoint.sign_in.auth() if endpoint.sign_in is not None else None,
        follow_redirects=False,
        trust_env=False,
    )
    return client, meter
