"""Signing what is sent to a webhook, and telling whether a signature holds.

Source: Standard Webhooks 1.0.0 (symmetric signatures, ``v1``): HMAC-SHA256 over ``id.timestamp.body``, base64; a header
may hold several signatures, separated by spaces, while a secret is being changed.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import hmac
from collections.abc import Iterable

SECRET_PREFIX = "whsec_"
TOLERANCE_SECONDS = 300
_VERSION = "v1,"


def written_secret(key: bytes) -> str:
    """Return a signing key as it is handed over."""
    return SECRET_PREFIX + base64.b64encode(key).decode("ascii")


def sign(keys: Iterable[bytes], message: str, timestamp: int, body: bytes) -> str:
    """Return the value of ``webhook-signature`` for a body: one signature for each key, the newest first."""
    return " ".join(_signature(key, message, timestamp, body) for key in keys)


def holds(secret: str, message: str, timestamp: str, signatures: str, body: bytes, *, now: int) -> bool:
    """Whether one of the signatures that came with a body was made with a secret, at most five minutes ago.

    All values are as they came in the headers ``webhook-id``, ``webhook-timestamp`` and ``webhook-signature``;
    ``now`` is in seconds since 1970. A secret that cannot be read holds nothing.
    """
    try:
        key = base64.b64decode(secret.removeprefix(SECRET_PREFIX), validate=True)
        at = int(timestamp)
    except (binascii.Error, ValueError):
        return False
    if not key or abs(now - at) > TOLERANCE_SECONDS:
        return False
    wanted = _signature(key, message, at, body).encode()
    return any(hmac.compare_digest(wanted, signature.encode()) for signature in signatures.split(" "))


def _signature(key: bytes, message: str, timestamp: int, body: bytes) -> str:
    said = f"{message}.{timestamp}.".encode() + body
    return _VERSION + base64.b64encode(hmac.new(key, said, hashlib.sha256).digest()).decode("ascii")
