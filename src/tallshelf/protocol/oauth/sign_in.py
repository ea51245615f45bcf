"""One sign-in to a tool server: the SDK's flow, with what a person decides around it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from urllib.parse import parse_qs, urlsplit

import anyio
from mcp.client.auth import AuthorizationCodeResult, OAuthClientProvider
from mcp.shared.auth import (
    OAuthClientInformationFull,
    OAuthClientMetadata,
    OAuthMetadata,
    OAuthToken,
)
from pydantic import AnyUrl

from tallshelf.core.errors import Denied, Misbehaved
from tallshelf.protocol.oauth.callback import Callback
from tallshelf.protocol.oauth.hosts import Hosts
from tallshelf.protocol.oauth.kept import KeptTokens


@dataclass(frozen=True)
class OwnClient:
    """A client that was registered with the issuer beforehand; ``port`` is that of its redirect address, 0 for any."""

    id: str
    secret: str = field(default="", repr=False)
    port: int = 0


@dataclass
class SignIn:
    """How somebody signs in to a server: ``show`` is handed the address to open, ``paste`` reads one brought by hand.

    ``patience`` is how long a person may take, in seconds.
    """

    server: str
    hosts: Hosts
    kept: KeptTokens
    show: Callable[[str], None]
    paste: Callable[[], str] | None = None
    client: OwnClient | None = None
    patience: float = 300.0
    _callback: Callback | None = field(default=None, repr=False)

    def auth(self) -> OAuthClientProvider:
        """Return the authentication of a client that speaks to the server; `close` ends what it listens on."""
        client = self.client
        callback = Callback(client.port, only=True) if client and client.port else Callback(self.kept.port)
        self._callback = callback
        storage = _Storage(self.kept, client, callback.address, lambda: provider.context.oauth_metadata)
        provider = OAuthClientProvider(
            self.server,
            OAuthClientMetadata(
                client_name="Tall Shelf, command line",
                redirect_uris=[AnyUrl(callback.address)],
                token_endpoint_auth_method="client_secret_post" if client and client.secret else "none",
            ),
            storage,
            redirect_handler=lambda address: self._lead(provider, callback, address),
            callback_handler=lambda: self._answer(callback),
        )
        provider.context.token_expiry_time = self.kept.expires_at
        provider.context.oauth_metadata = self.kept.issuer
        return provider

    async def check(self, url: str) -> None:
        """Raise `Denied` for an address that the sign-in may not speak to."""
        await self.hosts.check(url)

    def check_address(self, host: str, address: str) -> None:
        self.hosts.check_address(host, address)

    def close(self) -> None:
        if self._callback is not None:
            self._callback.close()

    async def _lead(self, provider: OAuthClientProvider, callback: Callback, address: str) -> None:
        metadata = provider.context.oauth_metadata
        if metadata is None or "S256" not in (metadata.code_challenge_methods_supported or ()):
            raise Denied(
                f"the issuer of {self.server} does not say that it supports PKCE with S256, without which a sign-in"
                " could be taken over"
            )
        await self.hosts.check(address)
        callback.begin(parse_qs(urlsplit(address).query)["state"][0], self.paste)
        await anyio.to_thread.run_sync(self.show, address)

    async def _answer(self, callback: Callback) -> AuthorizationCodeResult:
        found = await anyio.to_thread.run_sync(callback.wait, self.patience, abandon_on_cancel=True)
        if "error" in found:
            said = found.get("error_description", "")[:300]
            raise Denied(f"the issuer of {self.server} refused: {found['error'][:80]}{said and f': {said}'}")
        if "code" not in found:
            raise Misbehaved(f"the issuer of {self.server} sent the browser back without a code")
        return AuthorizationCodeResult(code=found["code"], state=found["state"], iss=found.get("iss"))


class _Storage:
    """What is kept, but for a client that one brings along, and a registration of another redirect address."""

    def __init__(
        self,
        kept: KeptTokens,
        client: OwnClient | None,
        redirect: str,
        issuer: Callable[[], OAuthMetadata | None],
    ) -> None:
        self._client = client
        self._redirect = redirect
        self._issuer = issuer
        self._kept = kept
        self.get_tokens, self.set_client_info = kept.get_tokens, kept.set_client_info

    async def set_tokens(self, tokens: OAuthToken) -> None:
        self._kept.keep_tokens(tokens, self._issuer())

    async def get_client_info(self) -> OAuthClientInformationFull | None:
        if self._client is not None:
            return OAuthClientInformationFull(
                client_id=self._client.id,
                client_secret=self._client.secret or None,
                redirect_uris=[AnyUrl(self._redirect)],
                token_endpoint_auth_method="client_secret_post" if self._client.secret else "none",
            )
        client = await self._kept.get_client_info()
        ours = client is not None and self._redirect in map(str, client.redirect_uris or ())
        return client if ours else None
