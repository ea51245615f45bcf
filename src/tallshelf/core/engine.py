"""The engine: which version of the judgements an assessment was made by, as one digest.

It covers the source of the rules of style, of the table of changes, of containment, of overlaps and of the words
they share; so an upgrade that brings another judgement is another engine, and one that brings none is the same.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

PARTS = ("changes", "compat", "overlap", "style", "words")
"""The packages of core that judge."""


@cache
def engine_digest() -> str:
    """Return the digest (``sha256:…``) of all that judges, in a fixed order of files."""
    whole = hashlib.sha256()
    for part in PARTS:
        for name, content in _sources(files("tallshelf.core") / part, part):
            whole.update(f"{name}\0{len(content)}\0".encode())
            whole.update(content)
    return f"sha256:{whole.hexdigest()}"


def _sources(folder: Traversable, path: str) -> Iterator[tuple[str, bytes]]:
    for traversable in sorted(folder.iterdir(), key=lambda entry: entry.name):
        name = f"{path}/{traversable.name}"
        if traversable.is_dir() and not traversable.name.startswith("_"):
            yield from _sources(traversable, name)
        elif traversable.name.endswith(".py"):
            yield name, traversable.read_bytes().replace(b"\r\n", b"\n")
