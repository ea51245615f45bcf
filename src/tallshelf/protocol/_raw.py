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
        kind = kind.lower()
        self._events = kind.startswith("text/event-stream")
        self._looks = self._events or "json" in kind
        self._fault = fault
        self._pending: list[bytes] = []  # of a JSON text, or of a line
        self._data: list[bytes] = []
        self._return = False

    def add(self, chunk: bytes) -> None:
        """Take in more of an answer, in time that is linear in its length."""
        if self._events:
            # Lines end by CR, LF or both (HTML, 9.2.5); a CR at the end of a chunk may be half of one.
            if self._return and chunk.startswith(b"\n"):
                chunk = chunk[1:]
            self._return = chunk.endswith(b"\r")
            first, *rest = chunk.replace(b"\r\n", b"\n").replace(b"\r", b"\n").split(b"\n")
            self._pending.append(first)
            for line in rest:
                self._line(b"".join(self._pending))
                self._pending = [line]
        elif self._looks:
            self._pending.append(chunk)

    def end(self) -> None:
        """Look at what came whole, or at the last event."""
        if self._events:
            self._line(b"".join(self._pending))
            self._line(b"")
        elif self._looks:
            self._look(b"".join(self._pending))

    def _line(self, line: bytes) -> None:
        if line.startswith(b"data:"):
            self._data.append(line[5:].removeprefix(b" "))
        elif not line and self._data:
            event, self._data = b"\n".join(self._data), []
            self._look(event)

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
