"""Where the values of a JSON text stand, by JSON Pointer, so that a host can show a finding at its line."""

from __future__ import annotations

import bisect
import json
import re

from msgspec import Struct

from tallshelf.core.pointer import step_of
from tallshelf.core.snapshot import LISTS, NAME_FIELDS

_SPACE = re.compile(r"[ \t\r\n]*")
_STRING = re.compile(r'"(?:[^"\\]|\\.)*"', re.DOTALL)
_OTHER = re.compile(r"[^\s,\]}]+")


class Extent(Struct, frozen=True):
    """Where a value begins and ends in a text, as offsets in characters."""

    start: int
    end: int


class Region(Struct, frozen=True):
    """Lines and columns, counted from 1 in characters; the end is behind the last character."""

    start_line: int
    start_column: int
    end_line: int
    end_column: int


class JsonPlaces:
    """The places of all values of one JSON text, which is known to be JSON."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._extents: dict[str, Extent] = {}
        self._items: dict[str, str] = {}
        self._ends = [match.start() for match in re.finditer("\n", text)]
        self._value(_SPACE.match(text, 0).end(), "")  # type: ignore[union-attr]
        document = json.loads(text)
        for name, field in ((name, NAME_FIELDS[kind]) for name, kind in LISTS.items()):
            for number, body in enumerate(document.get(name) or () if isinstance(document, dict) else ()):
                if isinstance(body, dict) and isinstance(body.get(field), str):
                    self._items.setdefault(f"{LISTS[name]}:{body[field]}", f"/{name}/{number}")

    def region(self, item: str, pointer: str) -> Region | None:
        """Return where a place in an item stands, or the nearest around it that is there; None where nothing is."""
        within = "/server" if item == "server" else self._items.get(item)
        if within is None:
            return None
        while True:
            extent = self._extents.get(f"{within}{pointer}")
            if extent is not None:
                return self._region(extent)
            if not pointer:
                return None
            pointer = pointer.rpartition("/")[0]

    def _region(self, extent: Extent) -> Region:
        return Region(*self._line_of(extent.start), *self._line_of(extent.end))

    def _line_of(self, offset: int) -> tuple[int, int]:
        line = bisect.bisect_left(self._ends, offset)
        begun = self._ends[line - 1] + 1 if line else 0
        return line + 1, offset - begun + 1

    def _value(self, start: int, pointer: str) -> int:
        """Note where the value that begins here stands, and those inside it; return its end."""
        text = self._text
        if text[start] == "{":
            end = self._members(start + 1, pointer)
        elif text[start] == "[":
            end = self._elements(start + 1, pointer)
        else:
            match = (_STRING if text[start] == '"' else _OTHER).match(text, start)
            end = match.end() if match else start + 1
        self._extents.setdefault(pointer, Extent(start, end))
        return end

    def _members(self, at: int, pointer: str) -> int:
        while (at := self._skip(at)) < len(self._text) and self._text[at] != "}":
            name = _STRING.match(self._text, at)
            if name is None:
                return at
            colon = self._skip(name.end())
            at = self._value(self._skip(colon + 1), f"{pointer}/{step_of(json.loads(name.group()))}")
            at = self._skip(at)
            at += self._text[at : at + 1] == ","
        return at + 1

    def _elements(self, at: int, pointer: str) -> int:
        number = 0
        while (at := self._skip(at)) < len(self._text) and self._text[at] != "]":
            at = self._skip(self._value(at, f"{pointer}/{number}"))
            at += self._text[at : at + 1] == ","
            number += 1
        return at + 1

    def _skip(self, at: int) -> int:
        match = _SPACE.match(self._text, at)
        return match.end() if match else at
