"""Talking MCP, through the official SDK: capture what a server declares, and try a tool."""

from tallshelf.protocol.capture import CaptureResult, capture
from tallshelf.protocol.endpoints import AddressPolicy, Bounds, Endpoint, HttpEndpoint, StdioEndpoint
from tallshelf.protocol.trial import TrialResult, try_tool

__all__ = [
    "AddressPolicy",
    "Bounds",
    "CaptureResult",
    "Endpoint",
    "HttpEndpoint",
    "StdioEndpoint",
    "TrialResult",
    "capture",
    "try_tool",
]
