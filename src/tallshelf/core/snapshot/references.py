"""References as people write them: ``server``, ``server@version``, ``server@version#item``."""

from __future__ import annotations

import re

from msgspec import Struct

from tallshelf.core.errors import BadReference
from tallshelf.core.snapshot.versions import names_version

SLUG = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*")
_KINDS = ("tool", "resource", "template", "prompt")


class Reference(Struct, frozen=True):
    """A place in the catalog, or a file. Parts that were not written are empty."""

    server: str = ""
    version: str = ""
    item: str = ""
    file: str = ""

    def __str__(self) -> str:
        base = self.file or self.server + (f"@{self.version}" if self.version else "")
        return base + (f"#{self.item}" if self.item else "")


def is_slug(text: str) -> bool:
    """Whether a text can name a server: ``[a-z0-9]`` and single hyphens, 2 to 64."""
    return 2 <= len(text) <= 64 and SLUG.fullmatch(text) is not None


def parse_reference(text: str) -> Reference:
    """Read a reference; raise `BadReference` when it has no form that we know.

    A text with a path separator or ending in ``.json`` (before any ``#``) is a file.
    """
    base, _, item = text.partition("#")
    identity = item_identity(item) if item else ""
    if "/" in base or "\\" in base or base.endswith(".json") or base == "-":
        return Reference(file=base, item=identity)
    server, at, version = base.partition("@")
    if not is_slug(server):
        raise BadReference(
            f"{server!r} cannot name a server",
            remedy="Use lower-case letters, digits and single hyphens, 2 to 64; a file needs a path or .json.",
        )
    if at and not names_version(version):
        raise BadReference(
            f"{version!r} in {text!r} is not a version", remedy="Write server@1.4.0, for example."
        )
    return Reference(server=server, version=version, item=identity)


def item_identity(text: str) -> str:
    """Return the identity that a text names; a bare name means a tool."""
    kind, colon, name = text.partition(":")
    return text if colon and kind in _KINDS and name else f"tool:{text}"
