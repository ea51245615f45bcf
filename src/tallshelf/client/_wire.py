"""The wire to a service: signed in, repeated where that is safe, problems turned into errors."""

from __future__ import annotations

import json
import time
import uuid
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from types import TracebackType
from typing import Any, Self, TypeVar
from urllib.parse import quote

import httpx

from tallshelf import __version__
from tallshelf.client._record import Record
from tallshelf.client.errors import error_from
from tallshelf.core.errors import ServiceFault, TookTooLong, Unreachable

R = TypeVar("R", bound=Record)

_SAFE_TO_REPEAT = frozenset({"GET", "DELETE"})
_PAUSES = (0.2, 0.6)
_BUSY = frozenset({429, 502, 503, 504})
_LONGEST_PAUSE = 5.0


class Wire:
    """A service, as one account sees it.

    Reads are repeated when the connection fails or the service is busy, after the seconds that it asks for; so are
    writes that are safe to repeat because the service answers the same one the same way. ``timeout`` is in seconds
    for each try. ``transport`` is for tests. Errors are those of `tallshelf.core.errors`; one that came as a problem
    document carries it as ``problem``.
    """

    def __init__(
        self, url: str, token: str, *, transport: httpx.BaseTransport | None = None, timeout: float = 60.0
    ) -> None:
        self.url = url.rstrip("/")
        self._http = httpx.Client(
            base_url=self.url + "/api/v1/",
            headers={"Authorization": f"Bearer {token}", "User-Agent": f"tallshelf/{__version__}"},
            timeout=timeout,
            transport=transport,
        )

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Close the connections."""
        self._http.close()

    def _get(self, kind: type[R], path: str, params: Mapping[str, str] | None = None) -> R:
        return kind.of(self._send("GET", path, params=params).json())

    def _post(self, kind: type[R], path: str, body: Any, *, repeat: bool = False) -> R:
        return kind.of(self._send("POST", path, body=body, repeat=repeat).json())

    def _pages(
        self, kind: type[R], path: str, params: Mapping[str, str], rows: str = "results"
    ) -> Iterator[R]:
        cursor: str | None = None
        while True:
            asked = {name: value for name, value in params.items() if value} | {"limit": "200"}
            asked |= {"cursor": cursor} if cursor else {}
            page = self._send("GET", path, params=asked).json()
            yield from map(kind.of, page[rows])
            cursor = page.get("next")
            if cursor is None:
                return

    def _send(
        self,
        method: str,
        path: str,
        *,
        params: Mapping[str, str] | None = None,
        body: Any = None,
        repeat: bool = False,
        headers: Mapping[str, str] | None = None,
    ) -> httpx.Response:
        sent = dict(headers or {})
        if method == "POST" and repeat:
            sent["Idempotency-Key"] = uuid.uuid4().hex
        pauses = _PAUSES if repeat or method in _SAFE_TO_REPEAT else ()
        for pause in (*pauses, None):
            try:
                answer = self._http.request(method, path, params=params, json=body, headers=sent)
            except httpx.TimeoutException:
                raise TookTooLong(f"{self.url} did not answer in time") from None
            except (httpx.TransportError, httpx.InvalidURL) as fault:
                if pause is None or isinstance(fault, httpx.UnsupportedProtocol | httpx.InvalidURL):
                    raise Unreachable(
                        f"could not reach {self.url}: {fault}",
                        remedy="Is the service running, and is that its address?",
                    ) from None
            else:
                if pause is None or answer.status_code not in _BUSY:
                    return self._checked(answer)
                pause = max(pause, min(_seconds(answer.headers.get("Retry-After", "")), _LONGEST_PAUSE))
            time.sleep(pause)
        raise Unreachable(f"could not reach {self.url}")

    def _checked(self, answer: httpx.Response) -> httpx.Response:
        if answer.is_success:
            return answer
        try:
            problem = answer.json()
        except ValueError:
            problem = None
        if not isinstance(problem, dict) or "type" not in problem:
            raise ServiceFault(
                f"{self.url} answered with HTTP {answer.status_code}", remedy="Is that a Tall Shelf service?"
            )
        raise error_from(problem, answer.status_code)

    def _documents(self, path: str, body: Any) -> Iterator[Record]:
        """Yield the documents of an answer in JSON Lines, each as soon as it is there."""
        return (Record.of(json.loads(line)) for line in self._lines("POST", path, body))

    def _lines(self, method: str, path: str, body: Any = None) -> Iterator[str]:
        """Yield the lines of an answer, each as soon as it is there."""
        try:
            with self._http.stream(method, path, json=body) as answer:
                if not answer.is_success:
                    answer.read()
                    self._checked(answer)
                yield from answer.iter_lines()
        except httpx.TimeoutException:
            raise TookTooLong(f"{self.url} did not answer in time") from None
        except httpx.TransportError as fault:
            raise Unreachable(f"could not reach {self.url}: {fault}") from None


def _seconds(text: str) -> float:
    return float(text) if text.isdigit() else 0.0


def listing(sort: str, changed_after: datetime | None) -> dict[str, str]:
    """Return the parameters of a list; a moment without a zone is local time."""
    after = changed_after.astimezone(UTC).isoformat() if changed_after else ""
    return {"sort": sort, "changed_after": after}


def path_step(text: str) -> str:
    """Return a text as one step of a path."""
    return quote(text, safe="")
