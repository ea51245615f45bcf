"""The house style in force: levels, settings, and the word list."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from tallshelf.core.snapshot import digest
from tallshelf.core.style.finding import Level


@dataclass(frozen=True)
class HouseStyle:
    """Levels by rule id (``off`` silences a rule), and the words that names should not lean on."""

    name: str = "default"
    levels: Mapping[str, Level | str] = field(default_factory=dict)
    vague_words: tuple[str, ...] = (
        "run",
        "do",
        "execute",
        "process",
        "handle",
        "manage",
        "perform",
        "action",
        "data",
        "info",
        "item",
        "thing",
        "stuff",
        "misc",
        "util",
        "helper",
        "tool",
        "query",
        "call",
        "task",
        "operation",
        "request",
    )
    placeholders: tuple[str, ...] = ("todo", "tbd", "fixme", "lorem ipsum", "description here", "xxx")

    @property
    def digest(self) -> str:
        """The digest of everything that the style decides."""
        return digest(
            {
                "levels": dict(self.levels),
                "vague_words": list(self.vague_words),
                "placeholders": list(self.placeholders),
            }
        )


DEFAULT_STYLE = HouseStyle()
