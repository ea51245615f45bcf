"""A kit: the named pick of published tools that one agent, team or application works with."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any, Literal

from msgspec import Struct

from tallshelf.core.errors import BadArgument
from tallshelf.core.kits.ranges import Range, parse_range
from tallshelf.core.routing import DATA_CLASSES
from tallshelf.core.snapshot import digest, is_slug, item_identity
from tallshelf.core.toml import TomlReader, read_toml

KIT_FORMAT = "tallshelf.kit/1"
ONLY_READING = "reading"
"""What a pick says instead of items, to take all that only read."""
MOST_PICKS = 100
MOST_ITEMS = 500
LOWEST_RAISED = "confidential"
"""The lowest data class that a kit gets with a second curator's consent only."""

_KEYS = (
    "format",
    "name",
    "title",
    "team",
    "contacts",
    "purpose",
    "environment",
    "budget",
    "data_class",
    "moves",
    "picks",
)
_PICK = ("server", "version", "items")
Moves = Literal["fitting", "never"]
MOVES: tuple[Moves, ...] = ("fitting", "never")


class Pick(Struct, frozen=True):
    """What is taken of one server; ``items`` are identities as written, None for all that only read."""

    server: str
    version: Range
    items: tuple[str, ...] | None

    def document(self) -> dict[str, Any]:
        items: Any = ONLY_READING if self.items is None else list(self.items)
        return {"server": self.server, "version": self.version.text, "items": items}


class Kit(Struct, frozen=True):
    """A kit as its owners wrote it.

    ``budget`` is in tokens of a model's context (None: none is set), ``data_class`` the highest it may see,
    ``moves`` whether its lock follows releases that fit by itself.
    """

    name: str
    title: str
    team: str
    contacts: tuple[str, ...]
    purpose: str
    picks: tuple[Pick, ...]
    environment: str = "production"
    budget: int | None = None
    data_class: str = "internal"
    moves: Moves = "fitting"

    def document(self) -> dict[str, Any]:
        """Return the kit as a ``tallshelf.kit/1`` document."""
        return {
            "format": KIT_FORMAT,
            "name": self.name,
            "title": self.title,
            "team": self.team,
            "contacts": list(self.contacts),
            "purpose": self.purpose,
            "environment": self.environment,
            "budget": self.budget,
            "data_class": self.data_class,
            "moves": self.moves,
            "picks": [pick.document() for pick in self.picks],
        }

    @property
    def digest(self) -> str:
        """The digest of all that it says."""
        return digest(self.document())


def parse_kit(text: str) -> Kit:
    """Read a kit written in TOML, or in JSON.

    Raises `BadDocument` that names line and key where something is missing, unknown, of another type, or cannot
    be; `BadDocument` as well for what is neither TOML nor JSON.
    """
    found = read_toml(text, "the kit")
    return _Reader(text, "Mend that line; docs/kits.md shows a whole kit.").kit(found)


def kit_from(document: Mapping[str, Any]) -> Kit:
    """Read a kit from a document that `Kit.document` wrote; raise `BadDocument` naming the key at fault."""
    return _Reader("", "docs/kits.md shows a whole kit.").kit(
        {key: value for key, value in document.items() if value is not None}
    )


class _Reader(TomlReader):
    def kit(self, document: Mapping[str, Any]) -> Kit:
        self.known("", document, _KEYS)
        if document.get("format", KIT_FORMAT) != KIT_FORMAT:
            self.refuse("format", f"must be {KIT_FORMAT!r}")
        name = self._text(document, "name")
        if not is_slug(name):
            self.refuse("name", "must be lower-case letters, digits and single hyphens, 2 to 64")
        picks = self.typed("picks", document.get("picks", []), list)
        if not picks:
            self.refuse("picks", "picks nothing; write a [[picks]] for each server")
        if len(picks) > MOST_PICKS:
            self.refuse("picks", f"has {len(picks)} picks; {MOST_PICKS} are the most")
        budget = document.get("budget")
        if budget is not None and not 1 <= self.typed("budget", budget, int) <= 10_000_000:
            self.refuse("budget", "must be a number of tokens from 1 to 10,000,000")
        kit = Kit(
            name=name,
            title=self._text(document, "title", 120),
            team=self._text(document, "team", 64),
            contacts=self._texts("contacts", document.get("contacts", []), 10, 200),
            purpose=self._text(document, "purpose", 2000),
            environment=self._text(document, "environment", 40, "production"),
            budget=budget,
            data_class=self._choice(document, "data_class", DATA_CLASSES, "internal"),
            moves=self._choice(document, "moves", MOVES, "fitting"),  # type: ignore[arg-type]
            picks=tuple(self._pick(f"picks[{number}]", one) for number, one in enumerate(picks)),
        )
        seen: set[str] = set()
        for number, pick in enumerate(kit.picks):
            if pick.server in seen:
                self.refuse(
                    f"picks[{number}].server", f"picks {pick.server} twice; write one pick for a server"
                )
            seen.add(pick.server)
        if not kit.contacts:
            self.refuse("contacts", "names nobody; a kit needs somebody who is told")
        return kit

    def _pick(self, key: str, found: Any) -> Pick:
        table = self.typed(key, found, dict)
        self.known(key, table, _PICK)
        server = self.typed(f"{key}.server", table.get("server"), str)
        if not is_slug(server):
            self.refuse(f"{key}.server", f"names no server: {server[:64]!r}")
        try:
            version = parse_range(self.typed(f"{key}.version", table.get("version", "current"), str))
        except BadArgument as fault:
            self.refuse(f"{key}.version", f"cannot be read: {fault}. {fault.remedy}")
        items = table.get("items")
        if items == ONLY_READING:
            return Pick(server, version, None)
        if not isinstance(items, list):
            self.refuse(
                f"{key}.items", f'must list items by name, or be "{ONLY_READING}" for all that only read'
            )
        named = tuple(item_identity(text) for text in self._texts(f"{key}.items", items, MOST_ITEMS, 2000))
        if not named:
            self.refuse(f"{key}.items", "lists nothing")
        if len(set(named)) < len(named):
            self.refuse(f"{key}.items", "lists an item twice")
        return Pick(server, version, named)

    def _text(self, document: Mapping[str, Any], key: str, most: int = 64, default: str | None = None) -> str:
        if key not in document and default is None:
            self.refuse(key, "is missing")
        value: str = self.typed(key, document.get(key, default), str)
        if not value.strip() or len(value) > most:
            self.refuse(key, f"must be a text of 1 to {most} characters")
        return value

    def _texts(self, key: str, value: Any, most: int, longest: int) -> tuple[str, ...]:
        texts = self.typed(key, value, list)
        for text in texts:
            if not self.typed(key, text, str).strip() or len(text) > longest:
                self.refuse(key, f"has a text that is empty or longer than {longest} characters")
        if len(texts) > most:
            self.refuse(key, f"has {len(texts)} entries; {most} are the most")
        return tuple(texts)

    def _choice(self, document: Mapping[str, Any], key: str, choices: tuple[str, ...], default: str) -> str:
        value: str = self.typed(key, document.get(key, default), str)
        if value not in choices:
            self.refuse(key, f"must be one of {', '.join(choices)}, not {value[:40]!r}")
        return value


def kit_text(kit: Kit) -> str:
    """Write a kit as TOML that `parse_kit` reads."""
    head = {name: value for name, value in kit.document().items() if name != "picks" and value is not None}
    lines = [f"{key} = {_value(value)}" for key, value in head.items()]
    for pick in kit.picks:
        lines += ["", "[[picks]]", *(f"{key} = {_value(value)}" for key, value in pick.document().items())]
    return "\n".join(lines) + "\n"


def _value(value: Any) -> str:
    # A JSON text, number or list of texts reads the same in TOML, but for DEL, which TOML wants escaped.
    return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007f")
