"""Rules on the names of parameters, one by one and across the tools of a server."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.split import case_style, stem, telling_words, word_set

_COORDINATES = frozenset("xyz")
_VAGUE = word_set(
    "data input inputs value values param params parameter parameters arg args argument arguments info "
    "object obj thing stuff payload item items var temp tmp misc foo bar"
)
_GENERAL = word_set(
    "type kind ref reference detail details content setting settings option options information"
)
_SAYS_NOTHING = frozenset(
    map(
        stem,
        [
            "value",
            "thing",
            "info",
            "information",
            "data",
            "item",
            "object",
            "parameter",
            "argument",
            "field",
            "detail",
            "type",
            "kind",
            "input",
            "content",
            "need",
            "needed",
            "necessary",
            "use",
            "used",
            "using",
            "apply",
            "applicable",
            "require",
            "required",
            "relevant",
            "give",
            "given",
            "pass",
            "provide",
            "whatever",
            "something",
            "anything",
            "here",
            "specify",
            "specified",
        ],
    )
)
# Words that name the same in parameters; the first of each line stands for the others.
_SAME_WORDS = {
    word: line.split()[0]
    for line in (
        "vessel ship boat",
        "customer client",
        "employee staff worker",
        "phone telephone tel",
        "email mail",
        "language lang",
        "quantity qty",
        "number num no nr",
        "id identifier",
        "address addr",
        "start begin",
        "end finish",
        "latitude lat",
        "longitude lon lng long",
        "description desc",
        "message msg",
        "maximum max",
        "minimum min",
        "directory dir folder",
        "password passwd pwd",
        "temperature temp",
        "reference ref",
        "category cat",
        "amount amt",
        "department dept",
        "organisation organization org",
    )
    for word in line.split()
}
_KEYS = frozenset(
    ["key", "name", "field", "label", "setting", "property", "attribute", "column", "variable", "option"]
)
_PLAIN_NAMES = frozenset({"value", "values", "id", "data", "filter", "query"})


def _one_letter(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if len(parameter.name) == 1 and parameter.name.lower() not in _COORDINATES:
            message = f"`{parameter.name}` is one letter; write what it stands for"
            yield RuleHit(parameter.item.identity, parameter.pointer, message)


def _vague(subject: Subject) -> Iterator[RuleHit]:
    keyed = {
        (parameter.item.identity, parameter.pointer.rpartition("/")[0])
        for parameter in subject.view.parameters
        if parameter.words and parameter.words[-1] in _KEYS
    }
    for parameter in subject.view.parameters:
        if (
            parameter.name in ("value", "values")
            and (parameter.item.identity, parameter.pointer.rpartition("/")[0]) in keyed
        ):
            continue  # what it is the value of is named beside it
        vague = bool(parameter.words) and all(word in _VAGUE for word in parameter.words)
        if (vague or set(parameter.words) <= _GENERAL) and _says_nothing(parameter):
            message = f"neither the name `{parameter.name}` nor its text says what it holds; tell both"
            yield RuleHit(parameter.item.identity, parameter.pointer, message)
            continue
        if parameter.types and parameter.types <= {"number", "integer", "boolean"}:
            continue  # a value of a number is no riddle
        if _says_members(parameter.schema.get("items")):
            continue  # nor a list of what the schema tells the members of
        if vague:
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.name}` could hold anything; name what it holds",
            )


def _says_nothing(parameter: Parameter) -> bool:
    """Whether a text consists of the parameter's own name and of words that fit any: "The value to be used"."""
    said = list(telling_words(parameter.text.words))
    empty = _SAYS_NOTHING | {stem(word) for word in parameter.words}
    return 0 < len(said) <= 6 and all(word in empty for word in said) and "enum" not in parameter.schema


def _says_members(schema: Any) -> bool:
    told = isinstance(schema, Mapping) and not schema.keys().isdisjoint({"properties", "enum", "$ref"})
    return told or (isinstance(schema, Mapping) and schema.get("type") in ("number", "integer", "boolean"))


def _mixed_case(subject: Subject) -> Iterator[RuleHit]:
    of_name = {name: case_style(name) for name in {parameter.name for parameter in subject.view.parameters}}
    styles = [(parameter, of_name[parameter.name]) for parameter in subject.view.parameters]
    counted = Counter(style for _, style in styles if style)
    if len(counted) < 2:
        return
    most = counted.most_common(1)[0][0]
    for parameter, style in styles:
        if style and style != most:
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.name}` is {style}; the others here are {most}",
            )


def _key(parameter: Parameter) -> str:
    return " ".join(_SAME_WORDS.get(word, word) for word in parameter.words)


def _two_namings(subject: Subject) -> Iterator[RuleHit]:
    """Find names that mean the same: by their words, or by one description for two names."""
    by_key: dict[str, list[Parameter]] = defaultdict(list)
    by_text: dict[tuple[str, frozenset[str]], list[Parameter]] = defaultdict(list)
    for tool_view in subject.view.tools:
        for parameter in tool_view.own:
            by_key[_key(parameter)].append(parameter)
            if len(parameter.text.words) > 2:
                by_text[parameter.text.lower.strip(" ."), parameter.types].append(parameter)
    told: set[tuple[str, str]] = set()
    for group in [*by_key.values(), *by_text.values()]:
        if len(group) < 2 or len({parameter.name for parameter in group}) < 2:
            continue
        if all(parameter.item is group[0].item for parameter in group):
            continue
        counted = Counter(parameter.name for parameter in group)
        most = max(counted, key=lambda name: (counted[name], -_first(group, name)))
        for parameter in group:
            hit = (parameter.item.identity, parameter.pointer)
            if parameter.name != most and hit not in told and not _in_same_tool(group, parameter, most):
                told.add(hit)
                yield RuleHit(
                    *hit,
                    f"`{parameter.name}` is called `{most}` in other tools here; use one name for one thing",
                )


def _first(group: list[Parameter], name: str) -> int:
    return next(at for at, parameter in enumerate(group) if parameter.name == name)


def _in_same_tool(group: list[Parameter], parameter: Parameter, name: str) -> bool:
    """Whether a tool takes both, so that they are two things."""
    return any(other.name == name and other.item is parameter.item for other in group)


def _two_types(subject: Subject) -> Iterator[RuleHit]:
    by_name: dict[str, list[tuple[Parameter, frozenset[str]]]] = defaultdict(list)
    for tool_view in subject.view.tools:
        for parameter in tool_view.own:
            types = frozenset("number" if name == "integer" else name for name in parameter.types - {"null"})
            if types and parameter.name not in _PLAIN_NAMES:
                by_name[parameter.name].append((parameter, types))
    for name, group in by_name.items():
        counted = Counter(types for _, types in group)
        if len(counted) < 2:
            continue
        most = counted.most_common(1)[0][0]
        for parameter, types in group:
            if not types & most:
                said, others = ("/".join(sorted(found)) for found in (types, most))
                message = f"`{name}` is {said} here and {others} in other tools of this server"
                yield RuleHit(parameter.item.identity, parameter.pointer, message)


_NUMBER = {"type": "integer", "description": "Number of the sailing"}

RULES = (
    Rule(
        id="one-letter-parameter",
        family="names",
        covers=("param-one-letter",),
        level="warning",
        reason="One letter does not say what to fill in.",
        check=_one_letter,
        bad=takes(q="Words to look for"),
        good=takes(words="Words to look for", x={"type": "number", "description": "Metres east of the mark"}),
    ),
    Rule(
        id="vague-parameter",
        family="names",
        covers=("param-vague",),
        level="warning",
        reason="A parameter is filled by its name; one that fits anything is filled with anything.",
        check=_vague,
        bad=takes(data="What to store"),
        good=takes(berth_data="Free berths, as CSV"),
    ),
    Rule(
        id="mixed-parameter-case",
        family="names",
        covers=("case-mixed", "param-two-namings"),
        level="warning",
        reason="Parameters of one make are filled without a thought; an odd one out is mistyped.",
        check=_mixed_case,
        bad=takes(berth_id="Berth number", vessel_name="Name of the vessel", sailingDay="Day of the sailing"),
        good=takes(berth_id="Berth number", vessel_name="Name of the vessel", day="Day of the sailing"),
    ),
    Rule(
        id="two-namings",
        family="names",
        covers=("param-two-namings",),
        level="warning",
        reason="One thing under two names reads as two things, and results cannot be handed on.",
        check=_two_namings,
        bad=tools(
            tool("get_vessel", vessel_id="Number of the vessel"),
            tool("move_vessel", vessel_id="Number of the vessel"),
            tool("list_voyages", ship_id="The vessel's number"),
        ),
        good=tools(
            tool("get_vessel", vessel_id="Number of the vessel"),
            tool(
                "swap_berths", vessel_id="Number of the vessel", other_vessel_id="Number of the other vessel"
            ),
        ),
    ),
    Rule(
        id="same-name-two-types",
        family="names",
        covers=("param-same-name-two-types",),
        level="warning",
        reason="A name that takes text in one tool and a number in the next is filled wrongly in one.",
        check=_two_types,
        bad=tools(
            tool("get_sailing", sailing=_NUMBER),
            tool("hold_sailing", sailing=_NUMBER),
            tool("end_sailing", sailing="Number of the sailing"),
        ),
        good=tools(tool("get_sailing", sailing=_NUMBER), tool("hold_sailing", sailing=_NUMBER)),
    ),
)
