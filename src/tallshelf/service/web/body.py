"""The body of a request, checked by its shape."""

from __future__ import annotations

from typing import Any

from rest_framework.request import Request


def validated_body(serializer: Any, request: Request) -> dict[str, Any]:
    """Return the validated body of a request."""
    checked = serializer(data=request.data)
    checked.is_valid(raise_exception=True)
    return dict(checked.validated_data)
