"""JSON Pointers (RFC 6901): names to steps, steps to names, and what stands at a place."""

from __future__ import annotations

from typing import Any


def step_of(name: str) -> str:
    """Return a member's name as one step of a pointer."""
    return name.replace("~", "~0").replace("/", "~1") if "/" in name or "~" in name else name


def name_of(step: str) -> str:
    """Return the member's name that a step of a pointer stands for."""
    return step.replace("~1", "/").replace("~0", "~")


def names_of(pointer: str) -> list[str]:
    """Return the names on the way of a pointer; none for the empty one, which is the whole."""
    return [name_of(step) for step in pointer.split("/")[1:]]


def value_at(value: Any, pointer: str) -> Any:
    """Return what stands at a place of a JSON value, or None where nothing does."""
    for name in names_of(pointer):
        if isinstance(value, dict):
            value = value.get(name)
        elif isinstance(value, list) and name.isascii() and name.isdigit() and int(name) < len(value):
            value = value[int(name)]
        else:
            return None
    return value
