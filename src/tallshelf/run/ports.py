"""Ports of this machine."""

from __future__ import annotations

import socket
import time

from tallshelf.core.errors import TookTooLong


def is_free(host: str, port: int) -> bool:
    """Whether nothing listens on a port."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
    return True


def free_ports(count: int) -> list[int]:
    """Return some free ports of the loopback interface."""
    sockets = [socket.socket() for _ in range(count)]
    try:
        for one in sockets:
            one.bind(("127.0.0.1", 0))
        return [one.getsockname()[1] for one in sockets]
    finally:
        for one in sockets:
            one.close()


def wait_for(port: int, seconds: float = 60.0) -> None:
    """Wait until something listens on a loopback port; raise `TookTooLong`."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        with socket.socket() as probe:
            probe.settimeout(0.5)
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.05)
    raise TookTooLong(f"nothing listens on port {port} after {seconds:g} seconds")
