"""The rule on expressions that the house itself writes."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.style.expressions import compiled
from tallshelf.core.style.house import HousePattern
from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import says, tool, tools


def _against_a_pattern(subject: Subject) -> Iterator[RuleHit]:
    for pattern in subject.style.patterns:
        expression = compiled(pattern.forbid or pattern.require)
        for item, pointer, text in _read(subject, pattern):
            found = expression.search(text)
            if pattern.forbid and found is not None:
                yield RuleHit(item, pointer, pattern.say, found.span() if pointer != "/name" else None)
            elif pattern.require and found is None:
                yield RuleHit(item, pointer, pattern.say)


def _read(subject: Subject, pattern: HousePattern) -> Iterator[tuple[str, str, str]]:
    view = subject.view
    if pattern.reads == "names":
        yield from ((item.identity, "/name", item.name) for item in view.tools)
    elif pattern.reads == "parameters":
        yield from (
            (parameter.item.identity, parameter.pointer, parameter.name) for parameter in view.parameters
        )
    else:
        yield from ((text.item, text.pointer, text.text) for text in view.texts)


RULES = (
    Rule(
        id="against-a-house-pattern",
        family="words",
        covers=(),
        level="warning",
        reason="The house has ways of writing that no general rule can know; its own expressions say them.",
        check=_against_a_pattern,
        bad=says("List the berths at which MV Grace may lie, each with its length in metres."),
        good=tools(tool()),
    ),
)
