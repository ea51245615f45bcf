"""All processes that a server started, those too that left its group and session (Linux: /proc and a subreaper)."""

from __future__ import annotations

import ctypes
import os
import signal
from contextlib import suppress
from pathlib import Path

_PR_SET_CHILD_SUBREAPER = 36
_live: set[int] = set()


def adopt_orphans() -> None:
    """Let orphans among our descendants become our own children, so that they can be found."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_CHILD_SUBREAPER, 1, 0, 0, 0)


def children() -> frozenset[int]:
    """Return the processes whose parent we are."""
    return frozenset(pid for pid, parent in _parents().items() if parent == os.getpid())


class Tree:
    """A server's process with its descendants; ``before`` are children of ours that were there already."""

    def __init__(self, pid: int, before: frozenset[int]) -> None:
        self._pid = pid
        self._before = before
        self._found = _descendants({pid})
        _live.add(pid)

    def end(self) -> None:
        """Kill what is left of it: what was below it when it was told to stop, and orphans that became ours since."""
        _live.discard(self._pid)
        orphans = children() - self._before - _live
        left = (self._found | _descendants(set(orphans)) | orphans) - {self._pid}
        for pid in left:
            with suppress(ProcessLookupError, PermissionError):
                os.kill(pid, signal.SIGKILL)
        for pid in orphans - {self._pid}:
            with suppress(ChildProcessError):
                os.waitpid(pid, 0)


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
