"""Values that are worked out once, when they are first asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Generic, TypeVar, overload

Value = TypeVar("Value")


class lazy(Generic[Value]):
    """Like `functools.cached_property`, which up to Python 3.11 takes a lock at every first read.

    What is worked out here is the same whoever does it, and rules read tens of thousands of such values.
    """

    def __init__(self, work_out: Callable[[Any], Value]) -> None:
        self._work_out = work_out
        self.__doc__ = work_out.__doc__
        self._name = work_out.__name__

    @overload
    def __get__(self, instance: None, owner: type) -> lazy[Value]: ...
    @overload
    def __get__(self, instance: object, owner: type) -> Value: ...
    def __get__(self, instance: object | None, owner: type) -> lazy[Value] | Value:
        if instance is None:
            return self
        value = self._work_out(instance)
        instance.__dict__[self._name] = value
        return value
