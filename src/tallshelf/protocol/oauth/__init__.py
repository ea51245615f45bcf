"""Signing in to a tool server by OAuth, as the MCP authorization specification says; for the command line alone.

The flow itself (discovery, registration, PKCE, the checks of issuer and resource) is the SDK's; here is what a person
decides: which hosts may be spoken to, where the browser comes back to, and where tokens are kept.
"""

from __future__ import annotations

from tallshelf.protocol.oauth.hosts import Hosts
from tallshelf.protocol.oauth.kept import KeptTokens
from tallshelf.protocol.oauth.sign_in import OwnClient, SignIn

__all__ = ["Hosts", "KeptTokens", "OwnClient", "SignIn"]
