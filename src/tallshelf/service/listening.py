"""The sockets that this process listens on: what is accepted there is cut where a reader takes nothing for too long.

The server hands answers to the system and hears no more of them, so a reader that stalls would hold its answer in
memory for ever. The system counts for us: `TCP_USER_TIMEOUT` (RFC 5482), which accepted connections inherit.
"""

from __future__ import annotations

import os
import socket
from contextlib import suppress
from pathlib import Path


def cut_stalled(seconds: float) -> int:
    """Set the deadline on the TCP sockets of a process that listens (Linux); return how many there are."""
    found = 0
    for entry in Path("/proc/self/fd").glob("[0-9]*"):
        with suppress(OSError), socket.socket(fileno=os.dup(int(entry.name))) as one:
            if one.family in (socket.AF_INET, socket.AF_INET6) and one.type == socket.SOCK_STREAM:
                one.setsockopt(socket.IPPROTO_TCP, socket.TCP_USER_TIMEOUT, int(seconds * 1000))
                found += 1
    return found
