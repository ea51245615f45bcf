"""Capturing what a running server declares."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import anyio
import mcp_types as types
from mcp.shared.exceptions import MCPError

from tallshelf.core.errors import Misbehaved
from tallshelf.core.snapshot import FORMAT, Snapshot, snapshot_from
from tallshelf.protocol._stdio import Noise
from tallshelf.protocol.endpoints import Bounds, Endpoint
from tallshelf.protocol.session import METHOD_NOT_FOUND, Session, open_session

_SERVER_INFO_KEY = "io.modelcontextprotocol/serverInfo"
LISTS: dict[str, tuple[str, Any, Any]] = {
    "tools": ("tools", types.ListToolsRequest, types.ListToolsResult),
    "resources": ("resources", types.ListResourcesRequest, types.ListResourcesResult),
    "resourceTemplates": (
        "resources",
        types.ListResourceTemplatesRequest,
        types.ListResourceTemplatesResult,
    ),
    "prompts": ("prompts", types.ListPromptsRequest, types.ListPromptsResult),
}


@dataclass(frozen=True)
class CaptureResult:
    """A snapshot, and what the server wrote beside the protocol while it was taken."""

    snapshot: Snapshot
    protocol_version: str
    stray_lines: tuple[str, ...]
    stray_count: int


def capture(endpoint: Endpoint, *, credential: str = "", bounds: Bounds | None = None) -> CaptureResult:
    """Connect to a server and take a snapshot of all that it declares.

    ``credential`` is the name (never the value) of the credential that was used. Raises
    `Unreachable`, `TookTooLong`, `Misbehaved`, or `BadDocument` when what came back cannot
    be a snapshot.
    """
    return anyio.run(_capture, endpoint, credential, bounds or Bounds())


async def _capture(endpoint: Endpoint, credential: str, bounds: Bounds) -> CaptureResult:
    noise = Noise()
    async with open_session(endpoint, bounds, noise) as session:
        greeting = session.greeting
        document: dict[str, Any] = {
            "format": FORMAT,
            "captured": {
                "at": datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z"),
                "transport": endpoint.transport,
                "protocolVersion": session.protocol_version,
                **({"as": credential} if credential else {}),
            },
            "server": _server(greeting),
        }
        capabilities = greeting.get("capabilities")
        for name, (capability, request, result) in LISTS.items():
            document[name] = (
                await list_pages(session, name, request, result, bounds)
                if capability in (capabilities if isinstance(capabilities, dict) else {})
                else []
            )
        version = session.protocol_version
    return CaptureResult(snapshot_from(document), version, tuple(noise.stray), noise.stray_count)


def _server(greeting: Mapping[str, Any]) -> dict[str, Any]:
    server = {
        name: greeting[name] for name in ("serverInfo", "capabilities", "instructions") if name in greeting
    }
    meta = greeting.get("_meta")
    if "serverInfo" not in server and isinstance(meta, dict) and _SERVER_INFO_KEY in meta:
        server["serverInfo"] = meta[_SERVER_INFO_KEY]
    return server


async def list_pages(
    session: Session, name: str, request: Any, result_type: Any, bounds: Bounds
) -> list[Any]:
    items: list[Any] = []
    cursor: str | None = None
    seen: set[str] = set()
    for _ in range(bounds.pages):
        params = types.PaginatedRequestParams(cursor=cursor) if cursor is not None else None
        try:
            raw = await session.request(request(params=params), result_type)
        except MCPError as fault:
            if fault.error.code == METHOD_NOT_FOUND and cursor is None:
                return []
            raise
        page = raw.get(name)
        if not isinstance(page, list):
            raise Misbehaved(f"the answer to {request(params=None).method} has no list of {name}")
        items.extend(page)
        cursor = raw.get("nextCursor")
        if not isinstance(cursor, str) or not cursor:
            return items
        if cursor in seen:
            raise Misbehaved(f"the server pages through its {name} in a circle")
        seen.add(cursor)
    raise Misbehaved(
        f"the server has more than {bounds.pages} pages of {name}; nothing was kept",
        remedy="A list this long is a fault of the server, or wants splitting.",
    )
