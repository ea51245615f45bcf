"""Talking MCP, through the official SDK: capture what a server declares, and try a tool.

And the guarded fetch that the service uses for all else.
"""

from tallshelf.protocol._http import ask_json, send_bytes
from tallshelf.protocol.call import CallResult, try_tool
from tallshelf.protocol.capture import CaptureResult, capture
from tallshelf.protocol.endpoints import AddressPolicy, Bounds, Endpoint, HttpEndpoint, StdioEndpoint

__all__ = [
    "AddressPolicy",
    "Bounds",
    "CallResult",
    "CaptureResult",
    "Endpoint",
    "HttpEndpoint",
    "StdioEndpoint",
    "ask_json",
    "capture",
    "send_bytes",
    "try_tool",
]
