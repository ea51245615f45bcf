"""Rendering JSON fast."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.renderers import BaseRenderer


class FastJSON(BaseRenderer):
    """JSON by orjson; the standard library takes over for integers beyond 64 bits."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(
        self,
        data: Any,
        accepted_media_type: str | None = None,
        renderer_context: Mapping[str, Any] | None = None,
    ) -> bytes:
        """Return the JSON text of the data, as UTF-8."""
        if data is None:
            return b""
        try:
            return orjson.dumps(data, default=str)
        except TypeError:
            return json.dumps(data, default=str).encode("utf-8")
