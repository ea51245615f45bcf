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
from mcp.server.stdio import stdio_server

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
    args = parser.parse_args()
    server = build(args.name, args.version)
    if args.port is None:
        anyio.run(_over_stdio, server)
    else:
        import uvicorn

        app = server.streamable_http_app(streamable_http_path="/mcp")
        uvicorn.run(app, host="127.0.0.1", port=args.port, log_level="warning")


async def _over_stdio(server: Server[Any]) -> None:
    async with stdio_server() as (read, write):
        await server.run(read, write, server.create_initialization_options())


if __name__ == "__main__":
    main()
