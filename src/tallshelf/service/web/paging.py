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
    limit = _limit(request.query_params.get("limit"))
    cursor = request.query_params.get("cursor")
    if cursor:
        rows = rows.filter(**{f"{column}__{'lt' if descending else 'gt'}": _decode(cursor)})
    found = list(rows.order_by(f"-{column}" if descending else column)[: limit + 1])
    more = len(found) > limit
    page = found[:limit]
    following = _encode(page[-1][column]) if more else None
    return {"results": [shape(row) for row in page], "next": following}


def _limit(text: str | None) -> int:
    if text is None:
        return _DEFAULT
    if not text.isascii() or not text.isdigit() or not 1 <= int(text) <= _MOST:
        raise BadArgument(f"limit is {text[:20]!r}; it must be a number from 1 to {_MOST}")
    return int(text)


def _encode(value: Any) -> str:
    return base64.urlsafe_b64encode(str(value).encode()).decode().rstrip("=")


def _decode(cursor: str) -> str:
    try:
        return base64.b64decode(cursor + "=" * (-len(cursor) % 4), b"-_", validate=True).decode()
    except (binascii.Error, ValueError):
        raise BadArgument("the cursor cannot be read", remedy="Use the one that came as `next`.") from None
