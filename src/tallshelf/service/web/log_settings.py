"""How logs are written: one JSON object (or readable line) an event, each with its request's id.

Apart from the log of requests, since Django's settings are still being read when this is asked.
"""

from __future__ import annotations

from typing import Any

import structlog

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
