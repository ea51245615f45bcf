"""Expressions from settings: run by RE2, which takes linear time whatever is written."""

from __future__ import annotations

import functools
from typing import Any

_LONGEST = 500
_MOST_MEMORY = 1 << 20


@functools.cache
def compiled(expression: str) -> Any:
    """Return an expression ready to search with; raise ValueError with the reason when it cannot be."""
    if len(expression) > _LONGEST:
        raise ValueError(f"is longer than {_LONGEST} characters")
    import re2  # here, since most styles hold no expression, and it takes long to load

    options = re2.Options()
    options.log_errors = False
    options.max_mem = _MOST_MEMORY
    try:
        return re2.compile(expression, options)
    except re2.error as fault:
        reason = fault.args[0]
        raise ValueError(reason.decode() if isinstance(reason, bytes) else str(reason)) from None
