"""Files of ours in TOML: read with errors that name the line and the key."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, NoReturn

from tallshelf.core.errors import BadDocument, Place
from tallshelf.core.pointer import step_of

_CALLED = {str: "a text", int: "a whole number", bool: "true or false", dict: "a table", list: "a list"}
_MOST_CHARACTERS = 1_000_000


def read_toml(text: str, what: str) -> dict[str, Any]:
    """Read TOML; raise `BadDocument` that says what it was to be, and where it is none."""
    if len(text) > _MOST_CHARACTERS:
        raise BadDocument(f"{what} is longer than {_MOST_CHARACTERS:,} characters")
    import tomllib  # here, since most commands read no file of ours in TOML

    try:
        return tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError) as fault:
        raise BadDocument(f"{what} is no TOML: {fault}") from None


class TomlReader:
    """Checks values as they were written in a text; what does not fit is refused with its line and key."""

    def __init__(self, text: str, remedy: str) -> None:
        self._lines = text.splitlines()
        self._remedy = remedy

    def known(self, table: str, document: Mapping[str, Any], names: tuple[str, ...]) -> None:
        """Refuse a table with a key that has no meaning there."""
        for name in document:
            if name not in names:
                self.refuse(f"{table}.{name}".lstrip("."), f"is not known; there are {', '.join(names)}")

    def typed(self, key: str, value: Any, kind: type) -> Any:
        """Return a value of a kind, or refuse it."""
        if not isinstance(value, kind) or (kind is int and isinstance(value, bool)):
            self.refuse(key, f"must be {_CALLED[kind]}, not {value!r}")
        return value

    def refuse(self, key: str, why: str) -> NoReturn:
        """Raise `BadDocument` for what stands at a key; ``[N]`` in it counts tables of a list from 0."""
        line = self.line_of(key)
        where = f"line {line}, " if line else ""
        pointer = "".join(f"/{step_of(step)}" for step in _steps(key))
        raise BadDocument(f"{where}key {key}: it {why}", remedy=self._remedy, places=[Place(pointer, why)])

    def line_of(self, key: str) -> int:
        """Return the line (from 1) at which a key is written, or of its table; 0 where neither is found."""
        steps = [step for step in _steps(key) if not step.isdigit()]
        table, nth = re.fullmatch(r"(?:(\w+)\[(\d+)\])?.*", key, re.DOTALL).groups()  # type: ignore[union-attr]
        start = self._start_of(table, int(nth)) if table else 0
        pattern = (
            re.compile(rf"^\s*(?:\[+.*\b)?[\"']?{re.escape(steps[-1])}[\"']?\s*(?:=|\])") if steps else None
        )
        for number, text in enumerate(self._lines[start:], start + 1):
            if number > start + 1 and table and text.lstrip().startswith("[["):
                break
            if pattern and pattern.search(text):
                return number
        return start + 1 if table else 0

    def _start_of(self, table: str, nth: int) -> int:
        pattern = re.compile(rf"^\s*\[\[\s*{re.escape(table)}\s*\]\]")
        places = [number for number, text in enumerate(self._lines) if pattern.search(text)]
        return places[nth] if nth < len(places) else 0


def _steps(key: str) -> list[str]:
    return [one for one in re.split(r"[.\[\]]+", key) if one]
