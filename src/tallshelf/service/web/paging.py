"""Cursor pagination over a query ordered by one unique column."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Callable
from typing import Any

from django.db.models import QuerySet
from rest_framework.request import Request

from tallshelf.core.errors import BadArgument

_DEFAULT, _MOST = 50, 200


def paged(
    request: Request,
    rows: QuerySet[Any, Any],
    column: str,
    shape: Callable[[dict[str, Any]], dict[str, Any]] = lambda row: row,
    *,
    descending: bool = False,
) -> dict[str, Any]:
    """Return ``{"results", "next"}`` for one page of a ``.values()`` query; ``next`` is a cursor or None."""
    page, following = page_of(request, rows, column, descending=descending)
    return {"results": [shape(row) for row in page], "next": following}


def page_of(
    request: Request, rows: QuerySet[Any, Any], column: str, *, descending: bool = False
) -> tuple[list[Any], str | None]:
    """Return the rows of one page, and the cursor of the next or None."""
    limit = page_limit(request)
    cursor = request.query_params.get("cursor")
    if cursor:
        try:
            rows = rows.filter(**{f"{column}__{'lt' if descending else 'gt'}": _decode(cursor)})
        except ValueError:  # not a value of that column
            raise _unreadable() from None
    found = list(rows.order_by(f"-{column}" if descending else column)[: limit + 1])
    page = found[:limit]
    if len(found) <= limit:
        return page, None
    last = page[-1]
    return page, _encode(last[column] if isinstance(last, dict) else getattr(last, column))


def page_limit(request: Request, default: int = _DEFAULT) -> int:
    """Return how many rows are asked for; raise `BadArgument` for what is no number from 1 to 200."""
    text = request.query_params.get("limit")
    if text is None:
        return default
    if not text.isascii() or not text.isdigit() or not 1 <= int(text) <= _MOST:
        raise BadArgument(f"limit is {text[:20]!r}; it must be a number from 1 to {_MOST}")
    return int(text)


def page_offset(request: Request) -> int:
    """Return where a page of a ranked list starts, as `offset_cursor` wrote it."""
    cursor = request.query_params.get("cursor")
    text = _decode(cursor) if cursor else "0"
    if not text.isascii() or not text.isdigit() or len(text) > 6:
        raise _unreadable()
    return int(text)


def offset_cursor(offset: int) -> str:
    """Return the cursor of the page that starts at a row of a ranked list."""
    return _encode(offset)


def _encode(value: Any) -> str:
    return base64.urlsafe_b64encode(str(value).encode()).decode().rstrip("=")


def _decode(cursor: str) -> str:
    try:
        return base64.b64decode(cursor + "=" * (-len(cursor) % 4), b"-_", validate=True).decode()
    except (binascii.Error, ValueError):
        raise _unreadable() from None


def _unreadable() -> BadArgument:
    return BadArgument("the cursor cannot be read", remedy="Use the one that came as `next`.")
