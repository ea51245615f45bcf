"""Remembering what was worked out of short texts; long ones, which hostile peers send, are worked out and let go."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any, TypeVar, cast

_Function = TypeVar("_Function", bound=Callable[..., Any])
_KEPT: list[Callable[[], None]] = []


def remembered(most: int, longest: int) -> Callable[[_Function], _Function]:
    """Let a function of texts remember its last results, up to so many, of texts up to so many characters each."""

    def decorate(function: _Function) -> _Function:
        kept = functools.lru_cache(maxsize=most)(function)
        _KEPT.append(kept.cache_clear)

        @functools.wraps(function)
        def of_one(text: str) -> Any:
            return kept(text) if len(text) <= longest else function(text)

        @functools.wraps(function)
        def of_several(*args: Any, **more: Any) -> Any:
            short = all(len(arg) <= longest for arg in args if isinstance(arg, str))
            return (kept if short else function)(*args, **more)

        # The commonest have one text, and are asked by the ten thousand.
        alone = function.__code__.co_argcount + function.__code__.co_kwonlyargcount == 1
        return cast(_Function, of_one if alone else of_several)

    return decorate


def forget() -> None:
    """Forget what was worked out of any text, as after a purge."""
    for clear in _KEPT:
        clear()
