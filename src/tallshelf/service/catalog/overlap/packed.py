"""Entries of a large index, packed: an item takes a sixth of the memory, and is unpacked when it is looked at."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Any, cast, get_type_hints

from msgspec import Struct, msgpack
from msgspec.structs import astuple

from tallshelf.core.overlap import Entry, Profile
from tallshelf.core.snapshot import Item

ReadItem = Callable[[str], Callable[[], Item]]
"""Returns what reads an item, by its digest."""

_FIELDS = tuple(get_type_hints(Profile).values())
_encode = msgpack.Encoder().encode
_decode = msgpack.Decoder(tuple[str, str, tuple[_FIELDS], str]).decode  # type: ignore[valid-type]
_OPEN_AT_ONCE = 4_096


class Packed(Struct, frozen=True, eq=False, gc=False):
    """One item of a source as an index holds it."""

    source: str
    data: bytes
    read_item: ReadItem

    def entry(self) -> Entry:
        """Return it unpacked; the last ones stay so."""
        return _opened(self)


def packed(entry: Entry, read_item: ReadItem) -> Packed:
    """Pack an entry, whose item is read by its digest from then on."""
    data = _encode((entry.identity, entry.digest, astuple(entry.profile), entry.since))
    return Packed(entry.source, data, read_item)


def forget_opened() -> None:
    """Forget the entries that stand unpacked."""
    _opened.cache_clear()


@lru_cache(maxsize=_OPEN_AT_ONCE)
def _opened(one: Packed) -> Entry:
    identity, digest, fields, since = cast(tuple[str, str, tuple[Any, ...], str], _decode(one.data))
    return Entry(one.source, identity, digest, Profile(*fields), one.read_item(digest), since)
