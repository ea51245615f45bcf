"""What stored documents quote of an item, and how it is taken out of them.

An assessment quotes an item whole (what a parameter is by default), its beginning, or the words that
changed. The first two are found by the item's texts; the rest goes with all that is said of the item.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

GONE = "(purged)"
_SHORTEST = 8
_SAID: dict[str, Any] = {"message": GONE, "suggestion": None, "witness": None, "removed": "", "added": ""}


@dataclass(frozen=True)
class Silence:
    """What nothing is to be said of: an item, the releases that hold it, and their snapshots' digests."""

    item: str
    releases: frozenset[str]
    snapshots: frozenset[str]
    passages: tuple[tuple[str, re.Pattern[str]], ...]

    def over(self, document: dict[str, Any]) -> dict[str, Any]:
        """Return an assessment that quotes nothing of the item.

        What is said of it goes where it was assessed or compared with; what it shares with other
        items, wherever it was found; its texts, from all of the document.
        """
        told = dict(document)
        if document["snapshot"] in self.snapshots or document["base"] in self.releases:
            for name in ("findings", "changes"):
                told[name] = [self._said_nothing(one) for one in document[name] or ()]
            version = document["next_version"]
            because = [self._line(line) for line in version["because"]]
            told["next_version"] = {**version, "because": because}
        told["overlaps"] = document["overlaps"] and [self._apart(overlap) for overlap in document["overlaps"]]
        return {name: self.text(value) for name, value in told.items()}

    def text(self, value: Any) -> Any:
        """Return a JSON value without the item's texts; what names an item is left as it is."""
        if isinstance(value, dict):
            return {name: child if name == "item" else self.text(child) for name, child in value.items()}
        if isinstance(value, list):
            return [self.text(child) for child in value]
        if not isinstance(value, str):
            return value
        for text, pattern in self.passages:
            value = pattern.sub(GONE, value)
            # Findings and changes quote the beginning of what is long.
            if len(value) >= _SHORTEST and text.startswith(value):
                return GONE
        return value

    def _said_nothing(self, row: dict[str, Any]) -> dict[str, Any]:
        if row["item"] != self.item:
            return row
        return {name: _SAID.get(name, value) for name, value in row.items()}

    def _line(self, line: str) -> str:
        return f"{self.item}: {GONE}" if line.startswith(f"{self.item}: ") else line

    def _apart(self, row: dict[str, Any]) -> dict[str, Any]:
        servers = {release.partition("@")[0] for release in self.releases}
        if not any(row[side]["item"] == self.item and row[side]["server"] in servers for side in "ab"):
            return row
        return {**row, "reasons": [GONE], "differences": []}


def silence(item: str, body: dict[str, Any], releases: Iterable[str], snapshots: Iterable[str]) -> Silence:
    """Return what takes an item, as declared by ``body``, out of documents.

    Its texts are those of eight characters and more. The item's name and those of its members stay.
    """
    names = {item.partition(":")[2], *_names(body)}
    texts = sorted({one for one in _texts(body) if len(one) >= _SHORTEST} - names, key=len, reverse=True)
    return Silence(
        item, frozenset(releases), frozenset(snapshots), tuple((text, _alone(text)) for text in texts)
    )


def _alone(text: str) -> re.Pattern[str]:
    """Return what finds a text; one that is a single word, not where it is a part of a longer word."""
    return re.compile(rf"\b{text}\b" if re.fullmatch(r"\w+", text) else re.escape(text))


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    for child in _children(value):
        yield from _texts(child)


def _names(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        yield from value
    for child in _children(value):
        yield from _names(child)


def _children(value: Any) -> Iterable[Any]:
    return value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
