"""One ETag for reading and for changing: what a GET answers as ``ETag``, ``If-Match`` takes.

Its first half names what can be edited, its second the whole answer: a change is refused where the first half moved,
and a browser's copy is good as long as both stand.
"""

from __future__ import annotations

from typing import Any

import orjson
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.snapshot import digest

_LENGTH = 16


def with_etag(body: dict[str, Any], editable: str) -> Response:
    """Return an answer with its ETag; ``editable`` is the digest of what can be edited."""
    whole = digest(orjson.loads(orjson.dumps(body, default=str))).removeprefix("sha256:")[:_LENGTH]
    return Response(body, headers={"ETag": f'"{editable}.{whole}"'})


def seen_by(request: Request, editable: str) -> str:
    """Return the digest of what an ``If-Match`` says was seen: the one that stands, if it is among them.

    Empty where there is no such header, or where it takes anything (``*``).
    """
    header = request.headers.get("If-Match", "")
    named = [one.strip().removeprefix("W/").strip('"').partition(".")[0] for one in header.split(",")]
    if not header.strip() or "*" in named:
        return ""
    return editable if editable in named else named[0]
