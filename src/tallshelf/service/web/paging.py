"""Lists: their order, what changed after a moment, and pages by cursor (of the last row's value, not its place)."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from django.core.exceptions import ValidationError
from django.db.models import F, Q, QuerySet
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from tallshelf.core.errors import BadArgument

_DEFAULT, _MOST = 50, 200


@dataclass(frozen=True)
class Order:
    """How a list may be sorted, and by which column it is told what changed after a moment.

    ``columns`` names columns by what a caller says, ``-`` before it for descending; ``default`` is one of these.
    ``key`` is unique and settles what is equal; rows without a value in a ``nullable`` column come last either way.
    ``changed`` holds moments, as ``datetime`` or, where ``as_text``, as the ledger's entries say them.
    """

    key: str
    columns: Mapping[str, str]
    default: str
    changed: str = ""
    as_text: bool = False
    nullable: tuple[str, ...] = ()

    @property
    def parameters(self) -> list[OpenApiParameter]:
        """What a list with this order takes."""
        names = [f"{sign}{name}" for name in self.columns for sign in ("", "-")]
        sort = OpenApiParameter(
            "sort", enum=names, default=self.default, description="`-` before it: descending"
        )
        after = OpenApiParameter(
            "changed_after", OpenApiTypes.DATETIME, description="only what changed later"
        )
        page = [OpenApiParameter("cursor"), OpenApiParameter("limit", int)]
        return [sort, *([after] if self.changed else []), *page]


def paged(
    request: Request,
    rows: QuerySet[Any, Any],
    order: Order,
    shape: Callable[[dict[str, Any]], dict[str, Any]] = lambda row: row,
) -> dict[str, Any]:
    """Return ``{"results", "next"}`` for one page of a ``.values()`` query; ``next`` is a cursor or None."""
    page, following = page_of(request, rows, order)
    return {"results": [shape(row) for row in page], "next": following}


def page_of(request: Request, rows: QuerySet[Any, Any], order: Order) -> tuple[list[Any], str | None]:
    """Return the rows of one page, and the cursor of the next or None.

    Raises `BadArgument` for an order that the list does not have, a moment or a cursor that cannot be read.
    """
    limit = page_limit(request)
    sort = request.query_params.get("sort") or order.default
    column, down = order.columns.get(sort.removeprefix("-"), ""), sort.startswith("-")
    if not column:
        names = ", ".join(order.columns)
        raise BadArgument(
            f"cannot sort by {sort[:40]!r}", remedy=f"It sorts by {names}; `-` before it: descending."
        )
    after = _moment(request.query_params.get("changed_after")) if order.changed else None
    if after is not None:
        rows = rows.filter(**{f"{order.changed}__gt": _as_told(after) if order.as_text else after})
    cursor = request.query_params.get("cursor")
    if cursor:
        rows = _behind(rows, cursor, sort, column, order, down)
    sign = "-" if down else ""
    by = F(column).desc(nulls_last=True) if down else F(column).asc(nulls_last=True)
    ordered = rows.order_by(by if column in order.nullable else f"{sign}{column}", f"{sign}{order.key}")
    if column in order.nullable:  # of another table, so that all are sorted: by what that takes, and no more
        keys = list(ordered.values_list("pk", flat=True)[: limit + 1])
        ordered = ordered.filter(pk__in=keys)
    found = list(ordered[: limit + 1])
    if len(found) <= limit:
        return found, None
    value, key = (_of(found[limit - 1], name) for name in (column, order.key))
    return found[:limit], _encode(json.dumps([sort, value, key], default=str))


def _as_told(moment: datetime) -> str:
    """Return a moment, of UTC, as the ledger's entries say it, to be compared with theirs as text."""
    return moment.isoformat(timespec="milliseconds").replace("+00:00", "Z")


def _behind(
    rows: QuerySet[Any, Any], cursor: str, sort: str, column: str, order: Order, down: bool
) -> QuerySet[Any, Any]:
    try:
        of, value, last = json.loads(_decode(cursor))
        missing = value is None and column in order.nullable
        if not (missing or isinstance(value, str | int)) or not isinstance(last, str | int):
            raise _unreadable()
        if of != sort:
            raise BadArgument(
                f"the cursor is of a list sorted by {str(of)[:40]}", remedy="Sort by that, or leave it out."
            )
        beyond = "lt" if down else "gt"
        same = Q(**{f"{order.key}__{beyond}": last}) & (
            Q(**{f"{column}__isnull": True}) if missing else Q(**{column: value})
        )
        if missing:
            return rows.filter(same)
        without = Q(**{f"{column}__isnull": True}) if column in order.nullable else Q()
        return rows.filter(Q(**{f"{column}__{beyond}": value}) | same | without)
    except (ValueError, TypeError, ValidationError):  # not what was written there
        raise _unreadable() from None


def _moment(text: str | None) -> datetime | None:
    if text is None:
        return None
    try:
        at = datetime.fromisoformat(text.replace(" ", "+"))  # a plus sign that was not escaped
        moment = at.astimezone(UTC) if at.tzinfo else None
    except (ValueError, OverflowError):
        moment = None
    if moment is None:
        raise BadArgument(
            f"changed_after is {text[:40]!r}, which is no moment with its zone",
            remedy="Write it as in RFC 3339: 2030-01-31T12:00:00Z.",
        )
    return moment


def _of(row: Any, name: str) -> Any:
    return row[name] if isinstance(row, dict) else getattr(row, name)


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
