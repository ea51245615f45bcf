"""Which hosts a sign-in may speak to: what a server says of its issuer is not believed, it is asked about."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable, Collection
from urllib.parse import urlsplit

import anyio

from tallshelf.core.errors import BadArgument, Denied
from tallshelf.protocol.endpoints import origin_of


class Hosts:
    """The origins that signing in to one server may lead to.

    ``named`` are those that were named beforehand, ``known`` those that were confirmed before. Of any other ``confirm``
    is asked, with the origin; what it agrees to is handed to ``keep``.
    """

    def __init__(
        self,
        server: str,
        *,
        named: Collection[str] = (),
        known: Collection[str] = (),
        confirm: Callable[[str], bool] = lambda origin: False,
        keep: Callable[[str], None] = lambda origin: None,
    ) -> None:
        self.server = origin_of(server)
        self._named = {self.server, *map(origin_of, named)}
        self._known = set(known)
        self._confirm = confirm
        self._keep = keep
        for one in self._named:
            _need_encrypted(one)

    async def check(self, url: str) -> None:
        """Raise `Denied` for an address that is not to be spoken to; a person may be asked."""
        try:
            origin = origin_of(url)
        except BadArgument:
            raise Denied(f"signing in leads to {url[:100]!r}, which is no address to use") from None
        if origin in self._named or origin in self._known:
            return
        _need_encrypted(origin)
        if not await anyio.to_thread.run_sync(self._confirm, origin):
            raise Denied(
                f"signing in to {self.server} leads to {origin}, which nobody named",
                remedy=f"If that is its issuer, name it: --oauth-issuer {origin}.",
            )
        self._known.add(origin)
        self._keep(origin)

    def check_address(self, host: str, address: str) -> None:
        """Raise `Denied` where a host that was not named leads to a private address."""
        if host in {urlsplit(one).hostname for one in self._named}:
            return
        if not ipaddress.ip_address(address).is_global:
            raise Denied(
                f"signing in leads to {host}, and that to the private address {address}",
                remedy="If that is its issuer, name it by --oauth-issuer URL.",
            )


def _need_encrypted(origin: str) -> None:
    host = urlsplit(origin).hostname or ""
    if not origin.startswith("https:") and not _is_loopback(host):
        raise Denied(f"{origin} is not encrypted: no token is asked for or sent there", remedy="Use https.")


def _is_loopback(host: str) -> bool:
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"
