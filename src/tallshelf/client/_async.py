"""One core for both: an asynchronous client asks the synchronous one, in threads of its own."""

from __future__ import annotations

import functools
from collections.abc import AsyncIterator, Callable, Iterator
from types import TracebackType
from typing import Any, Self, TypeVar

import anyio
import anyio.to_thread
import httpx

from tallshelf.client.shelf import Shelf

T = TypeVar("T")
_AT_ONCE = 20
_END: Any = object()


class AsyncWire:
    """A service, as one account sees it, for programs that await; as `Shelf` otherwise.

    At most twenty calls run at once; the others wait for their turn.
    """

    def __init__(
        self, url: str, token: str, *, transport: httpx.BaseTransport | None = None, timeout: float = 60.0
    ) -> None:
        self._shelf = Shelf(url, token, transport=transport, timeout=timeout)
        self._turns = anyio.CapacityLimiter(_AT_ONCE)

    async def __aenter__(self) -> Self:
        return self

    async def __aexit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        await self.close()

    async def close(self) -> None:
        """Close the connections."""
        await self._call(self._shelf.close)

    async def _call(self, call: Callable[..., T], *args: Any, **more: Any) -> T:
        return await anyio.to_thread.run_sync(functools.partial(call, *args, **more), limiter=self._turns)

    async def _each(self, call: Callable[..., Iterator[T]], *args: Any, **more: Any) -> AsyncIterator[T]:
        found = await self._call(call, *args, **more)
        while (one := await self._call(next, found, _END)) is not _END:
            yield one
