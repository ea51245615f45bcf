"""What a peer sent, before anybody else reads it: one key twice in an object means one thing here and another there."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.core.errors import Misbehaved, ShelfError


class RawAnswers:
    """Looks at answers as they come, whole (JSON) or event by event (server-sent events).

    Raises `Misbehaved`, which it also puts into ``fault``, for an object that names a key twice.
    """

    def __init__(self, kind: str, fault: list[ShelfError]) -> None:
        self._events = kind.startswith("text/event-stream")
        self._looks = self._events or "json" in kind
        self._fault = fault
        self._pending = b""

    def add(self, chunk: bytes) -> None:
        """Take in more of an answer."""
        if not self._looks:
            return
        self._pending += chunk
        if self._events:
            *events, self._pending = self._pending.replace(b"\r\n", b"\n").split(b"\n\n")
            for one in events:
                lines = [line[5:].lstrip() for line in one.split(b"\n") if line.startswith(b"data:")]
                self._look(b"\n".join(lines))

    def end(self) -> None:
        """Look at what came whole."""
        if self._looks and not self._events:
            self._look(self._pending)

    def _look(self, text: bytes) -> None:
        try:
            refuse_twice_named(text)
        except Misbehaved as error:
            self._fault.append(error)
            raise


def refuse_twice_named(text: bytes) -> None:
    """Raise `Misbehaved` for JSON in which an object names a key twice; what is no JSON others refuse."""
    try:
        json.loads(text, object_pairs_hook=_once)
    except (ValueError, RecursionError):
        return


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise Misbehaved(
            f"the server named the key {twice[:80]!r} twice in one object",
            remedy="Two readers may take it for two different things: have the server mended.",
        )
    return found
