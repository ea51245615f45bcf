"""A running tool server of the scenario: ``python -m tallshelf.run.scenario.tool_server NAME VERSION``.

Speaks stdio, or Streamable HTTP with ``--port``. It declares what `declarations` says, by the
official SDK, and answers from `answers`.
"""

from __future__ import annotations

import argparse
import json
from typing import Any

import anyio
import mcp_types as types
from mcp.server.lowlevel import Server
from mcp.server.sse import SseServerTransport
from mcp.server.stdio import stdio_server
from starlette.applications import Starlette
from starlette.routing import Mount, Route
from starlette.types import Receive, Scope, Send

from tallshelf.run.scenario.answers import ANSWERS
from tallshelf.run.scenario.declarations import declared, names


def build(name: str, version: str) -> Server[Any]:
    """Return the server that declares one release."""
    document = declared(name, version)
    about = document["server"]

    async def list_tools(_: Any, __: Any) -> types.ListToolsResult:
        return types.ListToolsResult.model_validate({"tools": document["tools"]})

    async def call_tool(_: Any, params: types.CallToolRequestParams) -> types.CallToolResult:
        answer = ANSWERS.get(params.name)
        if answer is None:
            return types.CallToolResult(
                content=[types.TextContent(type="text", text=f"{params.name} is not available in the demo")],
                is_error=True,
            )
        found = answer(dict(params.arguments or {}))
        return types.CallToolResult(
            content=[types.TextContent(type="text", text=json.dumps(found))], structured_content=found
        )

    async def list_resources(_: Any, __: Any) -> types.ListResourcesResult:
        return types.ListResourcesResult.model_validate({"resources": document["resources"]})

    async def list_templates(_: Any, __: Any) -> types.ListResourceTemplatesResult:
        return types.ListResourceTemplatesResult.model_validate(
            {"resourceTemplates": document["resourceTemplates"]}
        )

    async def list_prompts(_: Any, __: Any) -> types.ListPromptsResult:
        return types.ListPromptsResult.model_validate({"prompts": document["prompts"]})

    offered: dict[str, Any] = {}
    if "resources" in about["capabilities"]:
        offered |= {"on_list_resources": list_resources, "on_list_resource_templates": list_templates}
    if "prompts" in about["capabilities"]:
        offered |= {"on_list_prompts": list_prompts}
    return Server(
        about["serverInfo"]["name"],
        version=about["serverInfo"]["version"],
        title=about["serverInfo"].get("title"),
        instructions=about.get("instructions"),
        on_list_tools=list_tools,
        on_call_tool=call_tool,
        **offered,
    )


def main() -> None:
    """Run one server until its pipes close, or until it is stopped."""
    parser = argparse.ArgumentParser()
    parser.add_argument("name", choices=names())
    parser.add_argument("version")
    parser.add_argument("--port", type=int)
    parser.add_argument("--old", action="store_true", help="speak the deprecated event-stream transport")
    args = parser.parse_args()
    server = build(args.name, args.version)
    if args.port is None:
        anyio.run(_over_stdio, server)
    else:
        import uvicorn

        app = (
            _event_stream_app(server) if args.old else server.streamable_http_app(streamable_http_path="/mcp")
        )
        uvicorn.run(app, host="127.0.0.1", port=args.port, log_level="warning")


class _EventStream:
    """One release at an address, over the transport that MCP has deprecated."""

    def __init__(self, server: Server[Any], transport: SseServerTransport) -> None:
        self._server = server
        self._transport = transport

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async with self._transport.connect_sse(scope, receive, send) as (read, write):
            await self._server.run(read, write, self._server.create_initialization_options())


def _event_stream_app(server: Server[Any]) -> Starlette:
    transport = SseServerTransport("/messages/")
    return Starlette(
        routes=[
            Route("/sse", _EventStream(server, transport), methods=["GET"]),
            Mount("/messages/", transport.handle_post_message),
        ]
    )


async def _over_stdio(server: Server[Any]) -> None:
    async with stdio_server() as (read, write):
        await server.run(read, write, server.create_initialization_options())


if __name__ == "__main__":
    main()
