"""What a validator is given in place of the network: it reads nothing that is not in its hands.

Left to itself, jsonschema-rs fetches an unknown ``$schema`` or a remote ``$ref`` over HTTP and from files.
"""

from __future__ import annotations

from typing import Any

import jsonschema_rs


def refuse(uri: str) -> Any:
    """Stand for the fetching of a document, and never fetch it. Raises `LookupError`."""
    raise LookupError(f"{uri} is not fetched")


NOTHING_FETCHED = jsonschema_rs.Registry([("urn:tallshelf:nothing", {})], retriever=refuse)
"""The registry for checks against a meta-schema: the published dialects, and nothing fetched."""
