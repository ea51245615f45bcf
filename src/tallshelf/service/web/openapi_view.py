"""The OpenAPI document, drawn once for a process: its drawing is slow, and does not bear company."""

from __future__ import annotations

import threading
from functools import cache

import orjson
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_safe
from drf_spectacular.generators import SchemaGenerator

from tallshelf.service.web import openapi  # noqa: F401 - registers its schemes

_one_at_a_time = threading.Lock()


@require_safe
def document(request: HttpRequest) -> HttpResponse:
    """Answer with the document of the API, for everybody."""
    with _one_at_a_time:
        drawn = _drawn()
    return HttpResponse(drawn, content_type="application/vnd.oai.openapi+json")


@cache
def _drawn() -> bytes:
    return orjson.dumps(SchemaGenerator().get_schema(public=True))  # type: ignore[no-untyped-call]
