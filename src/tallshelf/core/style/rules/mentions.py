"""Rules on texts that name parameters and tools: whether they are there."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject, at, rewritten
from tallshelf.core.style.rules._examples import says, tool, tools
from tallshelf.core.style.text import Text
from tallshelf.core.style.view import ItemView
from tallshelf.core.words.lists import is_verb
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import is_stop_word, split_identifier, stem, word_set

_TOKEN = Pattern(r"`([A-Za-z][\w.\[\]-]*)`|(?<![\w/.@#{-])([a-z][a-z0-9]*(?:_[a-z0-9]+)+)(?![\w/@(-])")
_CAMEL = Pattern(r"(?<![\w/.@#`-])([a-z]+(?:[A-Z][a-z0-9]+)+)(?![\w/@(`-])")
_NAMED_PARAMETER = Pattern(
    r"\b(?:parameter|argument)s?\s+[`'\"“]([A-Za-z]\w*)|[`'\"“]([A-Za-z]\w*)[`'\"”]\s+(?:parameter|argument)"
    r"|\bthe\s+([a-z]\w*)\s+(?:parameter|argument)\b"
)
_NOT_NAMES = word_set("same following last first only other given optional required next each this that")
_JUST_BEFORE = 60
# What stands before and behind the name of a tool, apart from names of fields, values and settings.
_USED = Pattern(
    r"\b(?:use|uses|using|used|call|calls|calling|run|running|invoke|invoking|see|see also|compare|prefer|try|via|with|from|by|after|before|then|first|"
    r"than|tools?|instead of|output of|results? of|like|unlike|replaces|pass (?:it |them )?(?:on )?to|hand it to)\s+(?:the |its |this |or |and )?[`'\"“(]{0,2}$",
    re.IGNORECASE,
)
_CALLED = Pattern(
    r"[`'\"”]?(?:\(\)|\s+(?:tool|first|instead|before|afterwards|beforehand|returns|gives|lists)\b)",
    re.IGNORECASE,
)
_SPEAKS = frozenset({"parameter", "parameters", "argument", "arguments"})


def _unknown_parameter(subject: Subject) -> Iterator[RuleHit]:
    tool_names = {item.name for item in subject.view.tools}
    for item in subject.view.tools:
        texts = [text for text in item.texts if text.may_name or not text.word_set.isdisjoint(_SPEAKS)]
        known = _known(item) if texts else set()
        # What an item does not declare may be such a name, unless it is spoken of as given with a call.
        undeclared = _spoken_of_otherwise(item) if texts and _is_open(item) else set()
        for text in texts:
            for match in _NAMED_PARAMETER.finditer(text.text):
                name = next(group for group in match.groups() if group)
                if name in known or name in _NOT_NAMES or is_stop_word(name) or stem(name) in _stems(item):
                    continue
                if _is_of_sibling(subject, text, match.end(), name):
                    continue
                yield _no_parameter(item, text, match, name, f"there is no parameter `{name}`")
            told: set[str] = set()
            for match in _TOKEN.finditer(text.text):
                name = match.group(1) or match.group(2)
                if name in told or name in known or name in tool_names:
                    continue
                if not _may_be_name(name) or _is_tool_like(name):
                    continue
                if match.group(2) and text.pointer != "/description":
                    continue  # bare words of a parameter's text may be values of its own
                if name in undeclared:
                    continue
                if not text.gives_an_example(match.start()):
                    told.add(name)
                    otherwise = f"`{name}` is neither a parameter nor a result field of this tool"
                    yield _no_parameter(item, text, match, name, otherwise)


_OF = Pattern(r"[`'\"”]?\s+(?:(?:parameter|argument)\s+)?(?:of|in|on)\s+(?:the\s+)?[`'\"“]?([\w.-]*\w)")


def _is_of_sibling(subject: Subject, text: Text, end: int, name: str) -> bool:
    """Whether a parameter is called that of another tool of the server, and that has it."""
    said = _OF.match(text.text, end)
    return said is not None and any(
        name == field.name for item in subject.view.tools if item.name == said[1] for field in item.own
    )


def _no_parameter(item: ItemView, text: Text, match: re.Match[str], name: str, otherwise: str) -> RuleHit:
    """Tell a name that is none, or how it is spelled here."""
    meant = _spelled(name, (field.name for field in (*item.parameters, *item.results)))
    if not meant:
        return at(text, otherwise, match.span())
    group = next(number for number, said in enumerate(match.groups(), 1) if said)
    patch = rewritten(text, match.span(group), meant)
    return at(text, f"`{name}` is spelled `{meant}` here", match.span(), suggestion=patch)


def _spelled(name: str, names: Iterable[str]) -> str:
    """Return the name of the same words, in whatever case; empty where there is none."""
    words = split_identifier(name)
    return next((one for one in names if one != name and split_identifier(one) == words), "")


_GIVEN = Pattern(
    r"\b(?:set|sets|setting|pass|passes|passing|give|gives|giving|given (?:as|by|in)|at most|up to|use|using|with|without|provide|provides|providing|supply|"
    r"specify|add|include|omit|leave out|fill(?: in)?|requires?|needs?|takes?|via|through|(?<!ed )(?<!en )by) "
    r"(?:the |an? |your |its |both |only |either )?[`'\"“]?$",
    re.IGNORECASE,
)
_ACTS_ON_CALLS = Pattern(
    r"[`'\"”]? (?:narrows?|limits?|restricts?|filters?|controls?|selects?|decides?|chooses?|says which|is (?:given|set|passed|required|optional)|must be|"
    r"may be (?:left|given|set)|can be (?:left|given|set))\b"
)


def _is_open(item: ItemView) -> bool:
    """Whether an item has members that it does not declare: of what it returns, or of an object that it takes as it comes."""
    return not item.results or any(
        "object" in field.types and not field.schema.get("properties") for field in item.parameters
    )


def _spoken_of_otherwise(item: ItemView) -> set[str]:
    """Return the names that an item's texts speak of somewhere, and not as what is given with a call."""
    return {
        match.group(1) or match.group(2)
        for text in item.texts
        if text.may_name
        for match in _TOKEN.finditer(text.text)
        if not (
            _GIVEN.search(text.text[max(0, match.start() - _JUST_BEFORE) : match.start()])
            or _ACTS_ON_CALLS.match(text.text, match.end())
        )
    }


def _unknown_tool(subject: Subject) -> Iterator[RuleHit]:
    names = {item.name for item in subject.view.items}
    for text, known in _texts_with_known(subject):
        for match in (*_TOKEN.finditer(text.text), *_CAMEL.finditer(text.text)):
            name = next(group for group in match.groups() if group)
            if not _may_be_name(name) or not _is_tool_like(name) or name in names or name in known:
                continue
            before = text.text[max(0, match.start() - _JUST_BEFORE) : match.start()]
            used = _USED.search(before) or _CALLED.match(text.text, match.end())
            if used and not text.gives_an_example(match.start()):
                meant = _spelled(name, sorted(names)) or next(
                    (one for one in sorted(names) if one.endswith(f"_{name}")), ""
                )
                instead = f"; it has `{meant}`" if meant else ""
                patch = rewritten(text, match.span(1 if match.group(1) else 2), meant) if meant else None
                yield at(text, f"this server has no tool `{name}`{instead}", match.span(), suggestion=patch)


def _texts_with_known(subject: Subject) -> Iterator[tuple[Text, set[str]]]:
    if subject.view.instructions.may_name:
        yield subject.view.instructions, {name for item in subject.view.tools for name in _known(item)}
    for item in subject.view.items:
        texts = [text for text in item.texts if text.may_name and text.pointer.endswith("/description")]
        known = _known(item) if texts else set()
        yield from ((text, known) for text in texts)


def _known(item: ItemView) -> set[str]:
    """Return what a text of an item may name: members, values, and its own name."""
    names = {part for field in (*item.parameters, *item.results) for part in (field.name, field.path)}
    for field in (*item.parameters, *item.results):
        for value in field.schema.get("enum", ()) if isinstance(field.schema.get("enum"), list) else ():
            names.add(str(value))
        for keyword in ("const", "default"):
            names.add(str(field.schema.get(keyword)))
        examples = field.schema.get("examples")
        names.update(map(str, examples if isinstance(examples, list) else ()))
    arguments = item.item.body.get("arguments")
    names.update(str(found.get("name")) for found in arguments or () if isinstance(found, dict))
    names.update(re.findall(r"\{[?&/.;#+]?([\w,]+)", item.name))
    return names | {item.name}


def _stems(item: ItemView) -> set[str]:
    return {stem(word) for field in item.parameters for word in field.words}


def _may_be_name(name: str) -> bool:
    inner = any(char.isupper() for char in name[1:]) and not name.isupper() and name[0].islower()
    return ("_" in name or inner) and not name.isupper() and "." not in name and not _A_VALUE.search(name)


_A_VALUE = Pattern(r"_(?:\w*\d{2,}\w*|abc\w*|xyz\w*)$")
"""What stands for an id: ``mon_abc123``."""


def _is_tool_like(name: str) -> bool:
    words = split_identifier(name)
    return (
        len(words) > 1
        and is_verb(words[0])
        and words[-1] not in ("id", "ids", "at", "by", "date", "type", "name")
    )


RULES = (
    Rule(
        id="unknown-parameter-named",
        family="words",
        covers=("mentions-unknown-param",),
        level="warning",
        reason="A text that names a parameter which is not there makes a model invent it.",
        check=_unknown_parameter,
        bad=tools(
            tool(
                "list_berths",
                "List the berths of a port. Set `min_depth` to leave out shallow ones.",
                port="Name of the port",
            )
        ),
        good=tools(
            tool("list_berths", "List the berths of the port given as `port`.", port="Name of the port")
        ),
    ),
    Rule(
        id="unknown-tool-named",
        family="words",
        covers=("mentions-unknown-tool",),
        level="warning",
        reason="A text that sends a model to a tool which is not there sends it nowhere.",
        check=_unknown_tool,
        bad=says("List the berths of one port. Use find_port to get its number."),
        good=tools(
            tool("list_berths", "List the berths of one port. Use get_berth for one."), tool("get_berth")
        ),
    ),
)
