"""What is kept of sign-ins to tool servers, in one file that only its owner can read."""

from __future__ import annotations

import json
import os
import time
from pathlib import Path
from typing import Any, TypeVar

from mcp.shared.auth import OAuthClientInformationFull, OAuthMetadata, OAuthToken
from pydantic import BaseModel, ValidationError

from tallshelf.core.errors import BadDocument

_Model = TypeVar("_Model", bound=BaseModel)


class KeptTokens:
    """Tokens, registration and confirmed hosts of one server, by its address."""

    def __init__(self, path: Path, server: str) -> None:
        self._path = path
        self._server = server

    @property
    def hosts(self) -> list[str]:
        """The origins that a person confirmed."""
        return list(self._own().get("hosts", []))

    def keep_host(self, origin: str) -> None:
        self._keep(hosts=sorted({*self.hosts, origin}))

    @property
    def expires_at(self) -> float | None:
        """When the access token ends, in seconds of the epoch; None where it is not said."""
        found = self._own().get("expires_at")
        return float(found) if isinstance(found, int | float) else None

    @property
    def port(self) -> int:
        """The port of the redirect address that was registered, or 0."""
        client = self._own().get("client") or {}
        addresses = client.get("redirect_uris") or [""]
        _, _, port = str(addresses[0]).removesuffix("/callback").rpartition(":")
        return int(port) if port.isdigit() else 0

    @property
    def issuer(self) -> OAuthMetadata | None:
        """What the issuer that gave the kept tokens said of itself: they are renewed there and nowhere else."""
        return _read(OAuthMetadata, self._own().get("issuer"))

    def forget(self) -> None:
        """Forget all that is kept of the server."""
        found = self._all()
        if found.pop(self._server, None) is not None:
            self._write(found)

    async def get_tokens(self) -> OAuthToken | None:
        return _read(OAuthToken, self._own().get("tokens"))

    def keep_tokens(self, tokens: OAuthToken, issuer: OAuthMetadata | None) -> None:
        """Keep tokens with the issuer that gave them, in one write."""
        ends = None if tokens.expires_in is None else time.time() + tokens.expires_in
        told = issuer.model_dump(mode="json", exclude_none=True) if issuer is not None else None
        self._keep(tokens=tokens.model_dump(mode="json", exclude_none=True), expires_at=ends, issuer=told)

    async def get_client_info(self) -> OAuthClientInformationFull | None:
        return _read(OAuthClientInformationFull, self._own().get("client"))

    async def set_client_info(self, client_info: OAuthClientInformationFull) -> None:
        self._keep(client=client_info.model_dump(mode="json", exclude_none=True))

    def _own(self) -> dict[str, Any]:
        found = self._all().get(self._server)
        return found if isinstance(found, dict) else {}

    def _all(self) -> dict[str, Any]:
        try:
            found = json.loads(self._path.read_text("utf-8"))
        except FileNotFoundError:
            return {}
        except (OSError, ValueError):
            raise BadDocument(f"{self._path} cannot be read", remedy="Remove it, and sign in anew.") from None
        return found if isinstance(found, dict) else {}

    def _keep(self, **fields: Any) -> None:
        found = self._all()
        self._write({**found, self._server: {**self._own(), **fields}})

    def _write(self, document: dict[str, Any]) -> None:
        self._path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        part = self._path.with_name(f".{self._path.name}.{os.getpid()}.part")
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(handle, "w", encoding="utf-8") as out:
            json.dump(document, out, indent=1)
        part.replace(self._path)


def _read(kind: type[_Model], found: Any) -> _Model | None:
    try:
        return kind.model_validate(found) if isinstance(found, dict) else None
    except ValidationError:
        return None
