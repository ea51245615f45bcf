"""Rules on names."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, Spot, Subject
from tallshelf.core.words import split_identifier

_CHARACTERS = re.compile(r"[A-Za-z0-9_./-]{1,128}")


def _vague_name(subject: Subject) -> Iterator[Spot]:
    vague = set(subject.style.vague_words)
    for item in subject.snapshot.tools:
        words = split_identifier(item.name)
        if words and all(word in vague for word in words):
            message = (
                f"`{item.name}` says nothing about what it works on; name the thing and what is done to it"
            )
            yield Spot(item.identity, "/name", message, (0, len(item.name)))


def _name_characters(subject: Subject) -> Iterator[Spot]:
    for item in subject.snapshot.items:
        if item.kind in ("tool", "prompt") and not _CHARACTERS.fullmatch(item.name):
            shown = item.name[:60] or "(no name)"
            message = f"{shown!r} is no name that hosts take; use 1 to 128 of A-Z a-z 0-9 _ - . /"
            yield Spot(item.identity, "/name", message)


RULES = (
    Rule(
        id="vague-name",
        family="names",
        covers=("name-vague",),
        level="warning",
        reason="A model picks a tool by its name first; a name made of empty words gives it nothing to go by.",
        check=_vague_name,
        bad={"tools": [{"name": "process_data", "inputSchema": {"type": "object"}}]},
        good={"tools": [{"name": "list_free_berths", "inputSchema": {"type": "object"}}]},
    ),
    Rule(
        id="unfit-name-characters",
        family="names",
        covers=("name-charset", "name-too-long"),
        level="error",
        reason="MCP allows letters, digits, underscore, hyphen, dot and slash, 128 at most; hosts refuse the rest.",
        check=_name_characters,
        bad={"tools": [{"name": "find berth!", "inputSchema": {"type": "object"}}]},
        good={"tools": [{"name": "find_berth", "inputSchema": {"type": "object"}}]},
    ),
)
