"""Talking MCP, through the official SDK: capture what a server declares, and try a tool.

And the guarded fetch that the service uses for all else. What goes over the network is loaded when it is first asked
for: the SDK takes a second, which most commands do without.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from tallshelf.protocol.endpoints import AddressPolicy, Bounds, Endpoint, HttpEndpoint, StdioEndpoint

if TYPE_CHECKING:
    from tallshelf.protocol._call import CallResult, try_tool
    from tallshelf.protocol._capture import CaptureResult, capture
    from tallshelf.protocol._http import ask_json, send_bytes

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
_HOME = {
    "CallResult": "_call",
    "try_tool": "_call",
    "CaptureResult": "_capture",
    "capture": "_capture",
    "ask_json": "_http",
    "send_bytes": "_http",
}


def __getattr__(name: str) -> Any:
    if name not in _HOME:
        raise AttributeError(f"{__name__} has no {name}")
    return getattr(import_module(f"{__name__}.{_HOME[name]}"), name)
