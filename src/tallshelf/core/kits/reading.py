"""What a team has already: a host's configuration, instruction texts. From these a kit is proposed."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.errors import BadDocument

MOST_NAMES = 2000
_TOKEN = re.compile(r"[A-Za-z][A-Za-z0-9_-]{2,63}")
_QUOTED = re.compile(r"`([A-Za-z][A-Za-z0-9_.:/#@-]{2,120})`")
_CAMEL = re.compile(r"[a-z][A-Z]")


class HostServer(Struct, frozen=True):
    """One server of a host's configuration: its key there, and how it is started or reached."""

    name: str
    command: str = ""
    args: tuple[str, ...] = ()
    url: str = ""


def host_servers(document: Mapping[str, Any]) -> tuple[HostServer, ...]:
    """Read the ``mcpServers`` map of a host's configuration, which may hold much else.

    Values of environment variables and headers are not read. Raises `BadDocument` for a map of another form.
    """
    servers = document.get("mcpServers")
    if not isinstance(servers, dict):
        raise BadDocument("the host's configuration has no mcpServers map")
    return tuple(_host_server(name, found) for name, found in servers.items())


def _host_server(name: str, found: Any) -> HostServer:
    if not isinstance(found, dict):
        raise BadDocument(f"the server {name[:60]!r} of the host's configuration is no object")
    command, url, args = found.get("command", ""), found.get("url", ""), found.get("args", [])
    if not isinstance(command, str) or not isinstance(url, str) or not isinstance(args, list):
        raise BadDocument(f"command, args or url of {name[:60]!r} in the host's configuration cannot be read")
    return HostServer(name, command, tuple(arg for arg in args if isinstance(arg, str)), url)


def mentioned(text: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return what a text may mention by name: surely (between backticks), and perhaps (words joined as names are).

    Both in the order of their first mention, at most 2,000 of each.
    """
    quoted = _QUOTED.findall(text)
    joined = [
        token
        for token in _TOKEN.findall(text)
        if "_" in token.strip("_") or "-" in token or _CAMEL.search(token)
    ]
    sure = _first(quoted)
    return sure, tuple(one for one in _first(joined) if one not in set(sure))


def _first(names: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(name.strip("-.:/#@") for name in names))[:MOST_NAMES]
