"""Regular expressions that are compiled once they are asked: a command asks few of the hundreds that it loads."""

from __future__ import annotations

import functools
import re
from collections.abc import Callable, Iterator
from typing import Any

_Match = re.Match[str]


class Pattern:
    """A regular expression, of which the first question compiles it; a wrong one raises `re.error` then.

    It answers as `re.Pattern` does, and as fast from the second question on.
    """

    def __init__(self, pattern: str, flags: int = 0) -> None:
        self.pattern = pattern
        self._flags = flags

    @functools.cached_property
    def compiled(self) -> re.Pattern[str]:
        """The compiled expression."""
        return re.compile(self.pattern, self._flags)

    @functools.cached_property
    def search(self) -> Callable[..., _Match | None]:
        return self.compiled.search

    @functools.cached_property
    def match(self) -> Callable[..., _Match | None]:
        return self.compiled.match

    @functools.cached_property
    def fullmatch(self) -> Callable[..., _Match | None]:
        return self.compiled.fullmatch

    @functools.cached_property
    def finditer(self) -> Callable[..., Iterator[_Match]]:
        return self.compiled.finditer

    @functools.cached_property
    def findall(self) -> Callable[..., list[Any]]:
        return self.compiled.findall

    @functools.cached_property
    def split(self) -> Callable[..., list[str | Any]]:
        return self.compiled.split

    @functools.cached_property
    def sub(self) -> Callable[..., str]:
        return self.compiled.sub
