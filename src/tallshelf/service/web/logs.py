"""One line in the log for each request, with its id."""

from __future__ import annotations

import logging
import re
import secrets
import time
from collections.abc import Callable
from typing import Any

import structlog
from django.http import HttpRequest, HttpResponse
from rest_framework.throttling import BaseThrottle

from tallshelf.core.reports import escape

_GIVEN_ID = re.compile(r"[A-Za-z0-9._-]{8,64}\Z")
_QUIET = ("/health/", "/static/", "/metrics")


class RequestLog:
    """Gives each request an id (a proxy's ``X-Request-Id``, or a new one) and logs its answer.

    The id is in the log, in the answer's header and in problem documents. Query strings, bodies
    and credentials are never logged.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response
        self._log = structlog.get_logger("tallshelf.request")

    def __call__(self, request: HttpRequest) -> HttpResponse:
        given = request.headers.get("X-Request-Id", "")
        number = given if _GIVEN_ID.match(given) else secrets.token_hex(8)
        started = time.perf_counter()
        with structlog.contextvars.bound_contextvars(request_id=number):
            response = self._get_response(request)
            response["X-Request-Id"] = number
            if not request.path.startswith(_QUIET):
                self._log.log(
                    logging.ERROR if response.status_code >= 500 else logging.INFO,
                    "answered",
                    method=request.method,
                    path=escape(request.path),
                    status=response.status_code,
                    ms=round((time.perf_counter() - started) * 1000, 1),
                    address=escape(address_of(request)),
                    **{"by": "", **_noted(request)},
                )
        return response


def request_id() -> str:
    """Return the id of the request that is being answered, or nothing outside of one."""
    return str(structlog.contextvars.get_contextvars().get("request_id", ""))


def address_of(request: Any) -> str:
    """Return the address that a request comes from, past the proxies that the settings name."""
    return str(BaseThrottle().get_ident(request) or "")


def note(request: Any, **more: str) -> None:
    """Let the log's line for a request, Django's or the framework's, say more: ``by`` whom, which ``problem``."""
    inner = getattr(request, "_request", request)
    inner.tallshelf_noted = {**_noted(inner), **more}


def _noted(request: HttpRequest) -> dict[str, str]:
    return getattr(request, "tallshelf_noted", {})
