"""Parsing request bodies by the same strict reader as snapshots."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from rest_framework.parsers import BaseParser

from tallshelf.core.snapshot import Limits, parse_json

_LIMITS = Limits(bytes=8_000_000, depth=72)


class StrictJSON(BaseParser):
    """JSON with no duplicate keys, no NaN, no lone surrogates, and bounded in size and depth."""

    media_type = "application/json"

    def parse(
        self,
        stream: IO[Any],
        media_type: str | None = None,
        parser_context: Mapping[str, Any] | None = None,
    ) -> Any:
        """Return the parsed body; raise `BadDocument` or `OverLimit`."""
        return parse_json(stream.read(_LIMITS.bytes + 1), _LIMITS)
