"""Where a tool server is, and how far we go with it."""

from __future__ import annotations

import ipaddress
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol
from urllib.parse import urlsplit

from tallshelf.core.errors import BadArgument, Denied


@dataclass(frozen=True)
class StdioEndpoint:
    """A command to start, without a shell; ``env`` holds the variables to pass, by name and value."""

    command: str
    args: tuple[str, ...] = ()
    env: Mapping[str, str] = field(default_factory=dict, repr=False)

    @property
    def transport(self) -> str:
        return "stdio"

    def __str__(self) -> str:
        return " ".join((self.command, *self.args))


_ACTS = {"fetch": "fetch", "webhooks": "send to"}


@dataclass(frozen=True)
class AddressPolicy:
    """Which addresses may be fetched: origins by scheme, host and port, checked again on the socket.

    A host name must lead to a public address, or into one of ``networks`` (CIDR). ``setting`` is the table of the
    settings that they come from.
    """

    origins: frozenset[str]
    networks: tuple[str, ...] = ()
    setting: Literal["fetch", "webhooks"] = "fetch"

    def check_url(self, url: str) -> None:
        """Raise `Denied` when an address is on no list."""
        if origin_of(url) not in self.origins:
            raise Denied(
                f"the service may not {_ACTS[self.setting]} {origin_of(url)}",
                remedy=f"Add the origin to [{self.setting}] allow in the settings.",
            )

    def check_address(self, host: str, address: str) -> None:
        """Raise `Denied` when a host led to an address that is not to be spoken to."""
        i_pv4_address = ipaddress.ip_address(address)
        if address == host or any(
            i_pv4_address in ipaddress.ip_network(network) for network in self.networks
        ):
            return
        if not i_pv4_address.is_global:
            raise Denied(
                f"{host} leads to the private address {address}",
                remedy=f"Add the network to [{self.setting}] networks in the settings, if that is meant.",
            )


class SigningIn(Protocol):
    """How a person signs in to a server, and which hosts that may lead to (`tallshelf.protocol.oauth`)."""

    patience: float

    def auth(self) -> Any:
        """Return what signs requests of an HTTP client."""

    async def check(self, url: str) -> None:
        """Raise `Denied` for an address that is not to be spoken to."""

    def check_address(self, host: str, address: str) -> None:
        """Raise `Denied` when a host led to an address that is not to be spoken to."""

    def close(self) -> None:
        """End what was begun for it."""


@dataclass(frozen=True)
class HttpEndpoint:
    """An HTTP address; ``headers`` may hold secrets and are never shown. The service has no ``sign_in``.

    It speaks Streamable HTTP, or the event-stream transport (``http+sse``) that MCP has
    deprecated since revision 2025-03-26.
    """

    url: str
    headers: Mapping[str, str] = field(default_factory=dict, repr=False)
    policy: AddressPolicy | None = None
    transport: Literal["streamable-http", "http+sse"] = "streamable-http"
    sign_in: SigningIn | None = field(default=None, repr=False, compare=False)

    def __str__(self) -> str:
        return self.url


Endpoint = StdioEndpoint | HttpEndpoint


@dataclass(frozen=True)
class Bounds:
    """How long we wait (seconds), how many pages and bytes we take, how often we try to connect."""

    request_seconds: float = 20.0
    total_seconds: float = 90.0
    pages: int = 100
    bytes: int = 20_000_000
    attempts: int = 4


def origin_of(url: str) -> str:
    """Return ``scheme://host:port`` of an HTTP address; raise `BadArgument` for anything else."""
    try:
        parts = urlsplit(url)
        port = parts.port or {"http": 80, "https": 443}[parts.scheme]
    except (ValueError, KeyError):
        raise BadArgument(f"{url!r} is not an http or https address") from None
    if not parts.hostname or "@" in parts.netloc:
        raise BadArgument(
            f"{url!r} is not an address to use", remedy="Give credentials by header, not in the address."
        )
    host = f"[{parts.hostname}]" if ":" in parts.hostname else parts.hostname
    return f"{parts.scheme}://{host}:{port}"
