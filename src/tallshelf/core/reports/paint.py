"""Colour for terminals, and its absence elsewhere."""

from __future__ import annotations

from msgspec import Struct


class Paint(Struct, frozen=True):
    """How emphasis is written; with ``ansi`` off every text is left as it is."""

    ansi: bool = False

    def bold(self, text: str) -> str:
        return self._wrap("1", text)

    def dim(self, text: str) -> str:
        return self._wrap("2", text)

    def red(self, text: str) -> str:
        return self._wrap("31", text)

    def amber(self, text: str) -> str:
        return self._wrap("33", text)

    def green(self, text: str) -> str:
        return self._wrap("32", text)

    def blue(self, text: str) -> str:
        return self._wrap("34", text)

    def _wrap(self, code: str, text: str) -> str:
        return f"\x1b[{code}m{text}\x1b[0m" if self.ansi else text


PLAIN = Paint()
ANSI = Paint(ansi=True)
