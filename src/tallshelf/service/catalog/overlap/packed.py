"""Entries of a large index, packed and put by in a file: in memory an item is where it lies, until it is looked at."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import IO, Any, cast, get_type_hints
from weakref import finalize

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


_LENGTH_BITS = 24
_LENGTH = (1 << _LENGTH_BITS) - 1


class PutBy:
    """Bytes in a file without a name, which goes with the process; in memory where the disk takes no more."""

    def __init__(self, directory: Path | None = None) -> None:
        self.size = 0
        self._file: IO[bytes] | None = None
        with suppress(OSError):
            self._file = tempfile.TemporaryFile(buffering=0, dir=directory)  # noqa: SIM115
            finalize(self, self._file.close)

    def put(self, data: bytes) -> bytes | int:
        """Put bytes by; return what says where they lie and how many they are, or the bytes themselves."""
        written = 0
        if self._file is not None and len(data) <= _LENGTH:
            with suppress(OSError):
                written = os.pwrite(self._file.fileno(), data, self.size)
        if written < len(data):
            return data
        place = self.size << _LENGTH_BITS | written
        self.size += written
        return place

    def get(self, place: bytes | int) -> bytes:
        """Return the bytes that lie somewhere."""
        if isinstance(place, bytes):
            return place
        assert self._file is not None
        return os.pread(self._file.fileno(), place & _LENGTH, place >> _LENGTH_BITS)


class Packed(Struct, frozen=True, eq=False, gc=False):
    """One item of a source as an index holds it."""

    source: str
    place: bytes | int
    put_by: PutBy
    read_item: ReadItem

    def entry(self) -> Entry:
        """Return it unpacked; the last ones stay so."""
        return _opened(self)

    @property
    def size(self) -> int:
        """How many bytes of it lie elsewhere."""
        return 0 if isinstance(self.place, bytes) else self.place & _LENGTH

    def moved(self, put_by: PutBy) -> Packed:
        """Return it put by elsewhere."""
        return Packed(self.source, put_by.put(self.put_by.get(self.place)), put_by, self.read_item)


def packed(entry: Entry, put_by: PutBy, read_item: ReadItem) -> Packed:
    """Pack an entry, whose item is read by its digest from then on."""
    data = _encode((entry.identity, entry.digest, astuple(entry.profile), entry.since))
    return Packed(entry.source, put_by.put(data), put_by, read_item)


def forget_opened() -> None:
    """Forget the entries that stand unpacked."""
    _opened.cache_clear()


@lru_cache(maxsize=_OPEN_AT_ONCE)
def _opened(one: Packed) -> Entry:
    data = one.put_by.get(one.place)
    identity, digest, fields, since = cast(tuple[str, str, tuple[Any, ...], str], _decode(data))
    return Entry(one.source, identity, digest, Profile(*fields), one.read_item(digest), since)
