"""Trying one tool: the raw answer, how long it took, and whether it keeps its promise."""

from __future__ import annotations

import time
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import islice
from typing import Any

import anyio
import mcp_types as types
from mcp.shared.exceptions import MCPError

from tallshelf.core.errors import BadArgument, NotFound, Place
from tallshelf.core.pointer import step_of
from tallshelf.core.usable import Unusable, validator
from tallshelf.protocol._capture import LISTS, list_pages
from tallshelf.protocol._stdio import Noise
from tallshelf.protocol.endpoints import Bounds, Endpoint
from tallshelf.protocol.session import open_session

_MOST_FAULTS = 20


@dataclass(frozen=True)
class CallResult:
    """The raw answer of one call.

    ``seconds`` is the time the call took; ``fits`` says whether the structured result fits the
    tool's output schema, None when there is none to fit; ``fault`` says why it does not.
    """

    answer: Mapping[str, Any]
    seconds: float
    is_error: bool
    fits: bool | None
    fault: str


def try_tool(
    endpoint: Endpoint,
    tool: str,
    arguments: Mapping[str, Any],
    *,
    bounds: Bounds | None = None,
    checked: bool = False,
) -> CallResult:
    """Call one tool once.

    Raises `NotFound` when the server does not offer it. Arguments that are to be ``checked`` and do not fit its input
    schema are not sent: `BadArgument`, with their places.
    """
    return anyio.run(_try, endpoint, tool, dict(arguments), bounds or Bounds(), checked)


async def _try(
    endpoint: Endpoint, tool: str, arguments: dict[str, Any], bounds: Bounds, checked: bool
) -> CallResult:
    async with open_session(endpoint, bounds, Noise()) as session:
        _, request, result_type = LISTS["tools"]
        offered = {
            body["name"]: body
            for body in await list_pages(session, "tools", request, result_type, bounds)
            if isinstance(body, dict) and isinstance(body.get("name"), str)
        }
        if tool not in offered:
            names = ", ".join(sorted(offered)[:12])
            raise NotFound(f"the server offers no tool {tool!r}", remedy=f"It offers {names or 'none'}.")
        if checked:
            _need_fitting(offered[tool], arguments)
        started = time.monotonic()
        try:
            answer = await session.request(
                types.CallToolRequest(params=types.CallToolRequestParams(name=tool, arguments=arguments)),
                types.CallToolResult,
            )
        except MCPError as refusal:
            answer = {"error": {"code": refusal.error.code, "message": refusal.error.message}}
        seconds = time.monotonic() - started
    is_error = bool(answer.get("isError")) or "error" in answer
    fits, fault = (None, "") if is_error else _fit(offered[tool], answer)
    return CallResult(answer, seconds, is_error, fits, fault)


def _need_fitting(tool: Mapping[str, Any], arguments: dict[str, Any]) -> None:
    try:
        faults = list(islice(validator(tool.get("inputSchema", True)).iter_errors(arguments), _MOST_FAULTS))
    except Unusable:
        return  # whether they fit cannot be told: the server says so
    places = tuple(
        Place("".join(f"/{step_of(str(step))}" for step in fault.instance_path), fault.message[:300])
        for fault in faults
    )
    if places:
        raise BadArgument(
            f"the arguments do not fit the input schema: {places[0].pointer or 'all of them'}: {places[0].detail}",
            remedy="Mend them, or send them as they are with --unchecked.",
            places=places,
        )


def _fit(tool: Mapping[str, Any], answer: Mapping[str, Any]) -> tuple[bool | None, str]:
    schema = tool.get("outputSchema")
    if schema is None:
        return None, ""
    if "structuredContent" not in answer:
        return False, "the tool promises structured results and returned none"
    try:
        fault = next(validator(schema).iter_errors(answer["structuredContent"]), None)
    except Unusable as reason:
        return False, f"the output schema: {reason}"
    return (True, "") if fault is None else (False, fault.message[:300])
