"""Exit codes: the one place where errors become numbers."""

from __future__ import annotations

from tallshelf.core.errors import (
    BadArgument,
    Conflict,
    Denied,
    NotFound,
    NotInstalled,
    ShelfError,
    SignInNeeded,
    TooSlow,
    Unreachable,
)

FINE = 0
GATE_FAILED = 1
BAD_INPUT = 2
UNREACHABLE = 3

_CODES: dict[type[ShelfError], int] = {
    BadArgument: BAD_INPUT,
    NotFound: BAD_INPUT,
    Conflict: BAD_INPUT,
    Denied: BAD_INPUT,
    SignInNeeded: BAD_INPUT,
    NotInstalled: BAD_INPUT,
    TooSlow: UNREACHABLE,
    Unreachable: UNREACHABLE,
}


def exit_code(error: ShelfError) -> int:
    """Return the exit code for an error: 2 for bad input, 3 for what could not be reached."""
    return next((_CODES[cls] for cls in type(error).__mro__ if cls in _CODES), BAD_INPUT)
