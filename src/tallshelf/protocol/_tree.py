"""All processes that a server started, those too that left its group and session (Linux: /proc and a subreaper)."""

from __future__ import annotations

import ctypes
import os
import signal
import threading
from contextlib import suppress
from pathlib import Path

_PR_SET_CHILD_SUBREAPER = 36


class Tree:
    """The processes below a server that is about to be started.

    Orphans among them become children of ours, but only where this process has one thread: then whatever is a new child
    of ours is the server's. A program that does other things beside us keeps its own children.
    """

    def __init__(self) -> None:
        self._alone = threading.active_count() == 1
        self._before = _children()
        self._below: set[int] = set()
        if self._alone:
            with suppress(OSError, AttributeError):
                ctypes.CDLL(None).prctl(_PR_SET_CHILD_SUBREAPER, 1, 0, 0, 0)

    def note(self, server: int) -> None:
        """Note what is below the server, before it is told to end and they are no longer."""
        self._below = _descendants({server})

    def end(self, server: int) -> None:
        """Kill what is left of it, but for the server itself."""
        orphans = _children() - self._before - {server} if self._alone else set()
        for pid in (self._below | orphans | _descendants(orphans)) - {server}:
            with suppress(ProcessLookupError, PermissionError):
                os.kill(pid, signal.SIGKILL)
        for pid in orphans:
            with suppress(ChildProcessError):
                os.waitpid(pid, 0)


def _children() -> set[int]:
    return {pid for pid, parent in _parents().items() if parent == os.getpid()}


def _descendants(of: set[int]) -> set[int]:
    found: set[int] = set()
    parents, wave = _parents(), set(of)
    while wave:
        wave = {pid for pid, parent in parents.items() if parent in wave} - found
        found |= wave
    return found


def _parents() -> dict[int, int]:
    """Return the parent of each process that can be seen; nothing where there is no /proc."""
    found = {}
    for entry in Path("/proc").glob("[0-9]*"):
        with suppress(OSError, ValueError, IndexError):
            # The name, in parentheses, may hold anything; what follows the last one is columns.
            found[int(entry.name)] = int((entry / "stat").read_text().rpartition(")")[2].split()[1])
    return found
