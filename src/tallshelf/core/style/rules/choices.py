"""The rule on choices that only a text lists: in words, as codes that stand for something, or as numbers."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject, at
from tallshelf.core.style.rules._examples import takes
from tallshelf.core.style.text import Text
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.flags import is_flag_for_some
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import is_stop_word

_ONE = r"[a-z0-9][\w.-]{0,30}"
_QUOTED_LIST = Pattern(r"[`'\"“]([\w-]+)[`'\"”](?:\s*(?:,|/|\||or|and|,\s*or)\s*[`'\"“]([\w-]+)[`'\"”])+")
# "low, medium or high" as a whole text, after a colon or before "no other", and three words or more in parentheses.
_LAST_LIST = Pattern(
    rf"(?:(?:^|:\s*)({_ONE}(?:,\s*{_ONE})+,?\s+or\s+{_ONE})(?:\W*$|[;,] (?:no other|nothing else|these alone|others|anything else))"
    rf"|^({_ONE}(?: {_ONE})?(?:,\s*{_ONE}(?: {_ONE})?)*,?\s+or\s+{_ONE}(?: {_ONE})?)[;,] (?:no other|nothing else)\b"
    rf"|\(({_ONE}(?:,\s*{_ONE}){{2,}}(?:,?\s+or\s+{_ONE})?)\))",
    re.IGNORECASE,
)
_PLAIN_LIST = Pattern(
    r"\b(?:one of|any of|must be|can be|may be(?: of)?|either|always|pick|allowed(?: values)?|possible(?: values)?|"
    r"valid(?: values)?|values?|options?|choices?|choose(?: from)?|accepts|knows)(?: are| is)?\s*[:=]?\s*\(?"
    rf"((?:{_ONE}\s*(?:,\s*(?:or|and)\s+|,\s*|/|\||\s+or\s+|\s+and\s+)\s*)+{_ONE})(?=\s*[,.;)]|\s*$)",
    re.IGNORECASE,
)
_BARE_LIST = Pattern(
    r"(?:^|[(:]\s*)([a-z][\w-]*(?:\s*\|\s*[a-z][\w-]*){1,}|[a-z]\w*(?:/[a-z]\w*){2,})\s*[).]?\s*$",
    re.IGNORECASE,
)
_CODE = Pattern(
    r"(?:^|[,;:(]\s*|\b(?:with|and|or) )[\"'“`]?([a-z]{1,3}|\d{1,3})[\"'”`]? (?:for|means|=|stands for|they)\b",
    re.I,
)
_OPEN = Pattern(
    r"\b(?:such as|for example|for instance|like|among others|and so on|etc)\b|\be\.g\.?|…|\.\.\.|\bexamples?\b",
    re.IGNORECASE,
)

_EITHER = Pattern(r"\bor\b|[/|]|\b(?:one|any) of\b", re.IGNORECASE)
_RUN = (("sql",), ("query",), ("command",))


def _choices_not_enum(subject: Subject) -> Iterator[RuleHit]:
    members = {tool.item: {field.name for field in tool.own} for tool in subject.view.tools}
    for parameter in subject.view.fields:
        if (
            not parameter.text.text
            or not _is_open(parameter)
            or not _may_list(parameter.text)
            or _OPEN.search(parameter.text.text)
            or is_flag_for_some(parameter.text.text)
        ):
            continue
        match, values = _choices(parameter.text.text)
        if not members.get(parameter.item, set()).isdisjoint(values) or parameter.words[-1:] in _RUN:
            continue
        if match is None or parameter.text.gives_an_example(match.start()):
            continue
        numbers = not parameter.types.isdisjoint({"integer", "number"})
        if numbers and not all(value.isdigit() for value in values):
            continue
        written = [int(value) for value in values] if numbers else values
        where = (
            f"{parameter.pointer}/items/enum" if "array" in parameter.types else f"{parameter.pointer}/enum"
        )
        patch = ({"op": "add", "path": where, "value": written},)
        message = (
            f"the text lists what `{parameter.name}` may be ({', '.join(values[:5])}); say it as an enum"
        )
        yield at(parameter.text, message, match.span(), suggestion=patch)


def _is_open(parameter: Parameter) -> bool:
    """Whether nothing in the schema says what it may be: free text, whole numbers without bounds, or a list of text."""
    if parameter.types == {"integer"}:
        return parameter.schema.keys().isdisjoint(
            {"enum", "const", "minimum", "maximum", "oneOf", "anyOf", "$ref"}
        )
    items = parameter.schema.get("items")
    if parameter.types == {"array"} and isinstance(items, dict):
        return items.get("type") == "string" and items.keys().isdisjoint(
            {"enum", "const", "pattern", "format"}
        )
    return parameter.is_free_text


def _choices(text: str) -> tuple[re.Match[str] | None, list[str]]:
    """Return what a text lists as choices, two at least, and where."""
    codes = list(_CODE.finditer(text))
    if len({code.group(1) for code in codes}) > 1:
        return codes[0], list(dict.fromkeys(code.group(1) for code in codes))
    for pattern in (_QUOTED_LIST, _PLAIN_LIST, _BARE_LIST, _LAST_LIST):
        match = pattern.search(text)
        if match is None:
            continue
        quoted = pattern is _QUOTED_LIST
        values = _listed(match.group(0) if quoted else next(filter(None, match.groups())), quoted=quoted)
        if quoted and len(values) == 2 and not _EITHER.search(text[max(0, match.start() - 12) : match.end()]):
            continue
        if len(values) > 1 and not any(is_stop_word(value.lower()) or len(value) > 30 for value in values):
            return match, values
    return None, []


def _may_list(text: Text) -> bool:
    said = text.text
    return "," in said or "|" in said or "/" in said or "or" in text.word_set


def _listed(text: str, *, quoted: bool) -> list[str]:
    if quoted:
        return list(dict.fromkeys(re.findall(r"[`'\"“]([\w-]+)[`'\"”]", text)))
    parts = (part.strip() for part in re.split(r",\s*(?:or|and)\s+|,|/|\||\s+or\s+|\s+and\s+", text))
    return list(dict.fromkeys(part for part in parts if part))


_SORT = {"type": "string", "enum": ["length", "depth"], "description": "What to sort by"}

RULES = (
    Rule(
        id="choices-not-enum",
        fix_is_safe=False,
        family="words",
        covers=("choices-not-enum",),
        level="warning",
        reason="Choices that only the text lists are not checked, and are spelled in many ways.",
        check=_choices_not_enum,
        bad=takes(side="Side to moor at, one of: port, starboard, stern"),
        good=takes(
            port="Name of the port, such as Pellam or Skerry",
            side={**_SORT, "description": "One of length, depth"},
        ),
    ),
)
