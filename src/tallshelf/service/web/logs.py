"""Structured logs: one JSON object (or readable line) an event, each with its request's id."""

from __future__ import annotations

import logging
import re
import secrets
import time
from collections.abc import Callable
from typing import Any

import structlog
from django.http import HttpRequest, HttpResponse

_GIVEN_ID = re.compile(r"[A-Za-z0-9._-]{8,64}\Z")
_QUIET = ("/health/", "/static/", "/metrics")

_SHARED: list[Any] = [
    structlog.contextvars.merge_contextvars,
    structlog.processors.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
    structlog.processors.format_exc_info,
]


def logging_settings(form: str, level: str) -> dict[str, Any]:
    """Return Django's LOGGING: everything through structlog, as ``json`` or ``text``, on stderr."""
    renderer: Any = (
        structlog.processors.JSONRenderer()
        if form == "json"
        else structlog.dev.ConsoleRenderer(colors=False, exception_formatter=structlog.dev.plain_traceback)
    )
    structlog.configure(
        processors=[*_SHARED, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
        wrapper_class=structlog.stdlib.BoundLogger,
        cache_logger_on_first_use=True,
    )
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {
            "structured": {
                "()": structlog.stdlib.ProcessorFormatter,
                "foreign_pre_chain": [*_SHARED, structlog.stdlib.add_logger_name],
                "processors": [structlog.stdlib.ProcessorFormatter.remove_processors_meta, renderer],
            }
        },
        "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "structured"}},
        "root": {"handlers": ["stderr"], "level": "WARNING"},
        "loggers": {"tallshelf": {"level": level.upper()}},
    }


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
                    path=request.path,
                    status=response.status_code,
                    ms=round((time.perf_counter() - started) * 1000, 1),
                    by=_who(request),
                )
        return response


def request_id() -> str:
    """Return the id of the request that is being answered, or nothing outside of one."""
    return str(structlog.contextvars.get_contextvars().get("request_id", ""))


def name_actor(request: Any, username: str) -> None:
    """Let the log say who asked, once authentication knows."""
    request._request.tallshelf_actor = username


def _who(request: HttpRequest) -> str:
    return getattr(request, "tallshelf_actor", "")
