"""Rules on words: descriptions of items and parameters."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.snapshot import outline_item
from tallshelf.core.style.rule import Rule, Spot, Subject, all_texts


def _missing_description(subject: Subject) -> Iterator[Spot]:
    for item in subject.snapshot.items:
        if not item.description.strip():
            yield Spot(
                item.identity,
                "/description",
                f"the {item.kind} has no description; say what it does, what it returns and when to use it",
            )


def _undescribed_parameter(subject: Subject) -> Iterator[Spot]:
    for item in subject.snapshot.items:
        for line in outline_item(item).parameters:
            if not line.description.strip() and "." not in line.name:
                yield Spot(
                    item.identity,
                    line.pointer,
                    f"the parameter `{line.name}` is not described; a model will guess",
                )


def _placeholder(subject: Subject) -> Iterator[Spot]:
    for text in all_texts(subject.snapshot):
        lowered = text.text.lower()
        for word in subject.style.placeholders:
            at = lowered.find(word)
            if at >= 0 and _stands_alone(lowered, at, len(word)):
                yield Spot(
                    text.item,
                    text.pointer,
                    f"“{word}” is a placeholder; write the real text",
                    (at, at + len(word)),
                )
                break


def _stands_alone(text: str, at: int, length: int) -> bool:
    before, after = text[at - 1 : at], text[at + length : at + length + 1]
    return not (before.isalnum() or after.isalnum())


RULES = (
    Rule(
        id="missing-description",
        family="words",
        covers=("description-missing",),
        level="warning",
        reason="The description is all that a model has to tell one tool from another.",
        check=_missing_description,
        bad={"tools": [{"name": "list_berths", "inputSchema": {"type": "object"}}]},
        good={
            "tools": [
                {
                    "name": "list_berths",
                    "description": "List the berths of one port with their length in metres.",
                    "inputSchema": {"type": "object"},
                }
            ]
        },
    ),
    Rule(
        id="undescribed-parameter",
        family="words",
        covers=("param-undescribed",),
        level="warning",
        reason="Parameters are filled by their words; one without any is filled by guessing.",
        check=_undescribed_parameter,
        bad={
            "tools": [
                {
                    "name": "find_crew",
                    "inputSchema": {"type": "object", "properties": {"ref": {"type": "string"}}},
                }
            ]
        },
        good={
            "tools": [
                {
                    "name": "find_crew",
                    "inputSchema": {
                        "type": "object",
                        "properties": {
                            "ref": {"type": "string", "description": "Staff number, such as C-0412"}
                        },
                    },
                }
            ]
        },
    ),
    Rule(
        id="placeholder-text",
        family="words",
        covers=("placeholder",),
        level="warning",
        reason="A text that was never written tells the model nothing, and readers that nobody looked.",
        check=_placeholder,
        bad={"tools": [{"name": "find_crew", "description": "TODO", "inputSchema": {"type": "object"}}]},
        good={
            "tools": [
                {
                    "name": "add_todos",
                    "description": "Add todos to a shift.",
                    "inputSchema": {"type": "object"},
                }
            ]
        },
    ),
)
