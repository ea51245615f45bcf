"""What moved reaches every request that rests on it: marked at once, assessed anew by a job.

Acts on the catalog move what requests, which stand above it, rest on; so the review app registers what is to be done.
"""

from __future__ import annotations

from collections.abc import Callable

Mark = Callable[[str, str | None], None]
_marks: list[Mark] = []


def register_mark(mark: Mark) -> None:
    """Let an app bring what it keeps up to what moved: the review app its requests, the catalog its findings.

    The one that stands highest registers last and goes first: decisions wait for no page.
    """
    if mark not in _marks:
        _marks.insert(0, mark)


def invalidate(reason: str, *, server: str | None = None) -> None:
    """Say that something moved, inside the transaction of the act that moved it.

    ``reason`` is the name of the input: ``style``, ``rules``, ``waivers``, ``known``, ``rulings``, ``server``,
    ``base`` or ``engine``; ``server`` is the one that it concerns, None for all. Raises RuntimeError when nothing
    would be marked by it.
    """
    if not _marks:
        raise RuntimeError("no requests are there to be marked")
    for mark in _marks:
        mark(reason, server)
