"""The HTTP client library: ``Shelf(url, token)``, and ``AsyncShelf`` for programs that await."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from tallshelf.client.errors import ProblemError, error_from
from tallshelf.client.shelf import Shelf

if TYPE_CHECKING:
    from tallshelf.client.aio import AsyncShelf

__all__ = ["AsyncShelf", "ProblemError", "Shelf", "error_from"]


def __getattr__(name: str) -> Any:
    # Commands do not wait for what they do not use.
    if name == "AsyncShelf":
        from tallshelf.client.aio import AsyncShelf

        return AsyncShelf
    raise AttributeError(name)
