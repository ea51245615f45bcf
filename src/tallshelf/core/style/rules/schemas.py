"""Rules on schemas: whether they are valid, tell their types, and are those of their own tool."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.compat import Unusable, validator
from tallshelf.core.snapshot import canonical
from tallshelf.core.style.rule import Rule, Setting, Spot, Subject
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.rules._judge import refuses
from tallshelf.core.style.view import ItemView
from tallshelf.core.words import split_identifier, stem, word_set

_FIELDS = ("inputSchema", "outputSchema")
_APPLIES = ("allOf", "anyOf", "oneOf", "$ref", "patternProperties", "if", "$dynamicRef", "dependentSchemas")
_READING = frozenset({"get", "list", "find", "search", "fetch", "count"})
_SHUTS = frozenset({"additionalProperties", "unevaluatedProperties", *_APPLIES})
_SAYS_TYPE = word_set("type enum const $ref anyOf oneOf allOf not if $dynamicRef properties items")
_INSIDE = word_set(
    "properties patternProperties additionalProperties propertyNames $ref anyOf oneOf allOf enum const "
    "unevaluatedProperties minProperties"
)
_OF_WHAT = re.compile(r"\b(?:name|number|id|identifier|code) of (?:the|a|an|one) (\w+)")
_ANY_THING = frozenset({"id", "name"})
_COUNTS = word_set(
    "limit count quantity offset max min maximum minimum size total width height length depth weight "
    "age year page percentage latitude longitude"
)
_FREE = re.compile(
    r"arbitrary|free[- ]form|any (?:json|members|keys|object)|key[- ]value|as (?:it )?is|verbatim|opaque|labels|metadata",
    re.IGNORECASE,
)
_NUMBER_TEXT = re.compile(
    r"^\W*(?:(?:the |maximum |minimum )?number of (?!the\b|an?\b|one\b|this\b|its\b)|how many\b|numeric\b|integer\b|count of\b)|\bas an? (?:number|integer)\b|\bin (?:metres|meters|feet|seconds|minutes|hours|days|kg|kilograms|tonnes|percent|knots|bytes|euros?|dollars|degrees)\b",
    re.IGNORECASE,
)
_TEXT_ON_PURPOSE = re.compile(
    r"\b(?:decimal|string|text|exact|leading zero|iso|duration|format|such as|e\.g\.|range|expression|free)\b",
    re.IGNORECASE,
)
_FLAG_TEXT = re.compile(
    r"^\W*whether\b|\btrue\b.{0,20}\bfalse\b|\b[\"'`]?yes[\"'`]?\b.{0,12}\b[\"'`]?no[\"'`]?\b|[\"'`]yes[\"'`].{0,50}[\"'`]no[\"'`]|\bset to [\"'`]?true\b",
    re.IGNORECASE,
)
_FLAGS = word_set("true false yes no on off 1 0 y n t f")
_BY = re.compile(
    r"(?<!ed )(?<!en )(?<!aid )\bby (?:its |their |the |a |an |his |her |one )?([a-z][a-z-]+)(?: (number|name|id|code|date|day|address))?",
    re.IGNORECASE,
)
_GOING_BY = word_set("get find look lookup fetch show retrieve search delete remove cancel update read open")
_NOT_BY = word_set(
    "default hand then now using means way far itself themselves sea land air rail road mail post email "
    "day night date time order one users user people server model length size"
)
_SAME_KEY = {
    word: line.split()[0]
    for line in (
        "id identifier number no code key ref reference slug",
        "name title",
        "mail email",
        "phone telephone",
        "date day",
        "vessel ship",
        "words word text query keyword keywords description",
    )
    for word in line.split()
}
PARAMETERS = Setting("too-many-parameters", "most_parameters", 15, "parameters of one tool")
DEEPEST = Setting("too-deep", "deepest", 5, "levels of objects and lists inside each other")


def _invalid_schema(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        for field in _FIELDS:
            if field not in one.item.body:
                if field == "inputSchema":
                    yield Spot(one.identity, "", "there is no input schema; MCP asks every tool for one")
                continue
            schema = one.item.body[field]
            if not isinstance(schema, dict):
                yield Spot(one.identity, f"/{field}", "a schema here must be an object")
                continue
            try:
                validator(schema)
            except Unusable as fault:
                yield Spot(one.identity, f"/{field}", str(fault))


def _undeclared_required(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        for field in _FIELDS:
            yield from _required_in(one.identity, one.item.body.get(field), f"/{field}", 0)


def _required_in(item: str, schema: Any, pointer: str, depth: int) -> Iterator[Spot]:
    if not isinstance(schema, dict) or depth > 40:
        return
    properties, required = schema.get("properties"), schema.get("required")
    declared = properties if isinstance(properties, dict) else {}
    if isinstance(required, list) and not schema.keys() & set(_APPLIES):
        for index, name in enumerate(required):
            if isinstance(name, str) and name not in declared:
                where = f"{pointer}/required/{index}"
                message = f"`{name}` is required but not declared; declare it, or drop it from required"
                yield Spot(item, where, message, suggestion=({"op": "remove", "path": where},))
    for name, child in declared.items():
        step = name.replace("~", "~0").replace("/", "~1")
        yield from _required_in(item, child, f"{pointer}/properties/{step}", depth + 1)
    yield from _required_in(item, schema.get("items"), f"{pointer}/items", depth + 1)


def _freeform_object(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        says = one.schema.keys() & _INSIDE
        if one.schema.get("additionalProperties") in (True, {}):
            says -= {"additionalProperties"}
        if one.types - {"null"} == {"object"} and not says and not _FREE.search(one.text.text):
            yield Spot(one.item.identity, one.pointer, f"`{one.path}` takes any object; declare its members")
        items = one.schema.get("items")
        if isinstance(items, dict) and items.get("type") == "object" and not items.keys() & _INSIDE:
            message = f"`{one.path}` takes a list of any objects; declare their members"
            yield Spot(one.item.identity, one.pointer, message)


def _array_without_items(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.fields:
        if "array" in one.types and not one.schema.keys() & {
            "items",
            "prefixItems",
            "contains",
            "$ref",
            "const",
            "enum",
            "anyOf",
            "oneOf",
        }:
            yield Spot(
                one.item.identity,
                one.pointer,
                f"`{one.path}` is a list of anything; say what its elements are",
            )


def _untyped(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if not one.schema.keys() & _SAYS_TYPE:
            yield Spot(one.item.identity, one.pointer, f"`{one.path}` has no type; a model may send anything")


def _number_as_string(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if one.types - {"null"} != {"string"} or one.schema.keys() & {"enum", "const", "format"}:
            continue
        text = one.text.text
        named = bool(one.words) and one.words[-1] in _COUNTS
        digits = one.schema.get("pattern") in (r"^\d+$", "^[0-9]+$", r"^-?\d+(\.\d+)?$") and named
        if (
            (named and not _TEXT_ON_PURPOSE.search(text))
            or digits
            or (_NUMBER_TEXT.search(text) and not _TEXT_ON_PURPOSE.search(text))
        ):
            yield Spot(
                one.item.identity,
                one.pointer,
                f"`{one.path}` is a number passed as text; make it a number or an integer",
            )


def _boolean_as_string(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if not one.types <= {"string", "integer", "null"} or one.schema.keys() & {"format", "pattern"}:
            continue
        values = one.schema.get("enum")
        if isinstance(values, list) and values:
            flags = {str(value).lower() for value in values}
            found = len(flags) == 2 and flags <= _FLAGS
        else:
            found = "string" in one.types and bool(_FLAG_TEXT.search(one.text.text))
        if found:
            yield Spot(
                one.item.identity,
                one.pointer,
                f"`{one.path}` is a yes or no passed as text; make it a boolean",
            )


def _default_refused(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if "default" in one.schema and refuses(one.schema, one.schema["default"]):
            default = one.schema["default"]
            where = f"{one.pointer}/default"
            if default is None and not one.required:
                patch = ({"op": "remove", "path": where},)
                yield Spot(
                    one.item.identity,
                    where,
                    f"the default of `{one.path}` is null, which it does not take",
                    suggestion=patch,
                )
            else:
                yield Spot(
                    one.item.identity,
                    where,
                    f"the default {default!r} is refused by the schema of `{one.path}`",
                )


def _too_many_parameters(subject: Subject) -> Iterator[Spot]:
    most = subject.of(PARAMETERS)
    for one in subject.view.tools:
        if len(one.own) > most:
            message = (
                f"{len(one.own)} parameters; a model fills at most {most} well: split the tool, or group them"
            )
            yield Spot(one.identity, "/inputSchema/properties", message)


def _too_deep(subject: Subject) -> Iterator[Spot]:
    deepest = subject.of(DEEPEST)
    for one in subject.view.tools:
        for field in one.parameters:
            if field.path.count(".") + field.path.count("[]") + 1 > deepest:
                yield Spot(
                    one.identity,
                    field.pointer,
                    f"`{field.path}` lies more than {deepest} levels deep; flatten it",
                )
                break


def _open(subject: Subject) -> Iterator[Spot]:
    """Find tools that take parameters nobody declared; told once where no tool of the server does better."""
    tools = [one for one in subject.view.tools if one.own and isinstance(one.item.body["inputSchema"], dict)]
    found = [one for one in tools if not one.item.body["inputSchema"].keys() & _SHUTS]
    if len(found) == len(tools) > 1:
        message = f"none of the {len(tools)} tools shuts out parameters that are not declared; a misspelt one passes unseen"
        yield Spot("server", "", message)
        return
    for one in found:
        patch = ({"op": "add", "path": "/inputSchema/additionalProperties", "value": False},)
        message = "a misspelt parameter passes unseen; shut others out"
        yield Spot(one.identity, "/inputSchema", message, suggestion=patch)


def _pasted_promise(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        if "inputSchema" not in one.item.body or "$ref" in (one.item.body["inputSchema"] or ()):
            continue
        for promised, pointer, said, span in _promises(one):
            if not promised & _carried(one, promised):
                message = f"it promises to go {said}, and no parameter carries that"
                yield Spot(one.identity, pointer, message, span)
                break


Promise = tuple[set[str], str, str, tuple[int, int] | None]


def _promises(one: ItemView) -> Iterator[Promise]:
    """Yield what a name or a first sentence says that it goes by: words, place, wording and span."""
    if one.words[:1] in (("list",), ("count",), ("sort",), ("group",)) or "list" in one.words:
        return  # by what they are put in order
    if "by" in one.words[1:-1]:
        rest = one.words[one.words.index("by", 1) + 1 :]
        yield (
            {_keyed(word) for word in rest if word not in ("and", "or")},
            "/name",
            f"by {' '.join(rest)}",
            None,
        )
    sentence = re.split(r"(?<=[.;])\s", one.text.text, maxsplit=1)[0]
    found = _BY.search(sentence)
    goes_by = bool(one.words) and one.words[0] in _GOING_BY
    if found and goes_by and found.group(1).lower() not in _NOT_BY:
        words = {_keyed(word.lower()) for word in found.groups() if word}
        yield words, "/description", found.group(), found.span()


def _keyed(word: str) -> str:
    bare = stem(word)
    return _SAME_KEY.get(word, _SAME_KEY.get(bare, bare))


def _carried(one: ItemView, promised: set[str]) -> set[str]:
    """Return the words that the parameters carry.

    A text that says "name of the quay" carries the name of a vessel only where it speaks of a vessel.
    """
    carried: set[str] = set()
    things = {stem(word) for word in one.words[1:]} - promised
    for field in one.parameters:
        carried |= {_keyed(word) for word in field.words}
        said = {_keyed(word) for word in field.text.words}
        whose = _OF_WHAT.search(field.text.lower)
        if whose and things and stem(whose.group(1)) not in things:
            said -= _ANY_THING
        carried |= said
    return carried


def _pasted_sibling(subject: Subject) -> Iterator[Spot]:
    """Find a tool whose schema is a sibling's, whose words its own texts never use."""
    groups: dict[bytes, list[ItemView]] = {}
    for one in subject.view.tools:
        if len(one.own) >= 2:
            groups.setdefault(canonical(one.item.body["inputSchema"]), []).append(one)
    for group in groups.values():
        scores = {one.identity: _affinity(one) for one in group}
        if len(group) < 2 or max(scores.values()) < 1:
            continue
        best = max(group, key=lambda one: scores[one.identity])
        for one in group:
            if scores[one.identity] == 0:
                message = (
                    f"its parameters are those of `{best.name}`, and its own texts speak of none of them"
                )
                yield Spot(one.identity, "/inputSchema", message)


def _affinity(one: ItemView) -> int:
    """Count the parameters that the tool's own name and description share a word with."""
    said = {*one.text.stems, *(stem(word) for word in one.words)}
    return sum(bool(said & {*field.text.stems, *map(stem, field.words)}) for field in one.own)


def _no_output_schema(subject: Subject) -> Iterator[Spot]:
    """Find reading tools that promise no form of their results; told once where none of the server does."""
    reading = [one for one in subject.view.tools if one.words[:1] and one.words[0] in _READING]
    found = [one for one in reading if "outputSchema" not in one.item.body]
    if len(found) == len(reading) > 1:
        message = (
            f"none of the {len(reading)} tools that read promises the form of its results by an output schema"
        )
        yield Spot("server", "", message)
        return
    for one in found:
        yield Spot(
            one.identity, "", "its results are read by programs, and no output schema promises their form"
        )


def _keyword_not_taken(subject: Subject) -> Iterator[Spot]:
    for profile in subject.style.profiles:
        refused = {*profile.keywords_not_taken}
        for one in subject.view.tools if refused else ():
            for keyword, pointer in _keywords(one.item.body.get("inputSchema"), "/inputSchema", 0):
                if keyword in refused:
                    yield Spot(
                        one.identity,
                        pointer,
                        f"the host {profile.name} does not take `{keyword}` in a schema",
                    )
                    break


def _keywords(schema: Any, pointer: str, depth: int) -> Iterator[tuple[str, str]]:
    if not isinstance(schema, Mapping) or depth > 40:
        return
    for keyword, value in schema.items():
        where = f"{pointer}/{keyword}"
        yield keyword, where
        if keyword in ("properties", "$defs", "definitions", "patternProperties") and isinstance(value, dict):
            for name, child in value.items():
                yield from _keywords(
                    child, f"{where}/{name.replace('~', '~0').replace('/', '~1')}", depth + 1
                )
        elif isinstance(value, dict):
            yield from _keywords(value, where, depth + 1)
        elif isinstance(value, list):
            for index, child in enumerate(value):
                yield from _keywords(child, f"{where}/{index}", depth + 1)


def _declared_twice(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        seen: dict[str, str] = {}
        for field in one.own:
            bare = "".join(split_identifier(field.name))
            before = seen.setdefault(bare, field.name)
            if before != field.name:
                yield Spot(
                    one.identity,
                    field.pointer,
                    f"`{field.name}` and `{before}` differ by case or separator only",
                )


_TEXT = {"type": "string"}
_DEEP: dict[str, Any] = {"type": "object", "properties": {"f": {"type": "integer"}}}
for _step in "edcba":
    _DEEP = {"type": "object", "properties": {_step: _DEEP}}

RULES = (
    Rule(
        id="invalid-schema",
        family="schemas",
        covers=("invalid-schema",),
        level="error",
        reason="A schema that no validator can use checks nothing, and cannot be compared with the next release.",
        check=_invalid_schema,
        bad={"tools": [{"name": "find_crew", "inputSchema": {"type": "objekt"}}]},
        good={"tools": [{"name": "find_crew", "inputSchema": {"type": "object"}}]},
    ),
    Rule(
        id="undeclared-required",
        fix_is_safe=False,
        family="schemas",
        covers=("required-undeclared",),
        level="error",
        reason="A required parameter that is not declared cannot be filled by anyone who reads the schema.",
        check=_undeclared_required,
        bad=tools(tool(required=("staff_number",))),
        good=tools(tool(required=("staff_number",), staff_number="Staff number, such as C-0412")),
    ),
    Rule(
        id="free-form-object",
        family="schemas",
        covers=("freeform-object",),
        level="warning",
        reason="An object that takes anything tells a model nothing of what to put in.",
        check=_freeform_object,
        bad=takes(filters={"type": "object", "description": "What to look for"}),
        good=takes(labels={"type": "object", "additionalProperties": _TEXT, "description": "Words by name"}),
    ),
    Rule(
        id="array-without-items",
        family="schemas",
        covers=("array-without-items",),
        level="warning",
        reason="A list of anything is filled with anything; some hosts refuse the whole tool.",
        check=_array_without_items,
        bad=takes(berths={"type": "array", "description": "Numbers of berths"}),
        good=takes(berths={"type": "array", "items": _TEXT, "description": "Numbers of berths"}),
    ),
    Rule(
        id="untyped-parameter",
        family="schemas",
        covers=("untyped",),
        level="warning",
        reason="Without a type nothing is checked, and a model guesses.",
        check=_untyped,
        bad=takes(berth={"description": "Number of the berth"}),
        good=takes(berth={"anyOf": [_TEXT, {"type": "integer"}], "description": "Number of the berth"}),
    ),
    Rule(
        id="number-as-text",
        family="schemas",
        covers=("number-as-string",),
        level="warning",
        reason="A number passed as text is written in many ways, and no bound can hold it.",
        check=_number_as_string,
        bad=takes(limit="How many berths to return"),
        good=takes(
            staff_number="Staff number, such as C-0412", amount="Amount as a decimal text, such as 12.50 EUR"
        ),
    ),
    Rule(
        id="flag-as-text",
        family="schemas",
        covers=("boolean-as-string",),
        level="warning",
        reason="A yes or no passed as text has a dozen spellings.",
        check=_boolean_as_string,
        bad=takes(free={"type": "string", "enum": ["yes", "no"], "description": "Free ones alone"}),
        good=takes(free={"type": "boolean", "description": "Free ones alone"}),
    ),
    Rule(
        id="default-refused",
        family="schemas",
        covers=("default-refused",),
        level="warning",
        reason="A host that fills in the default sends what the schema refuses.",
        check=_default_refused,
        bad=takes(
            limit={"type": "integer", "maximum": 50, "default": 100, "description": "How many at most"}
        ),
        good=takes(
            limit={"type": "integer", "maximum": 50, "default": 20, "description": "How many at most"}
        ),
    ),
    Rule(
        id="too-many-parameters",
        family="schemas",
        covers=("too-many-params",),
        level="warning",
        reason="Each parameter more makes every other one be filled worse.",
        check=_too_many_parameters,
        settings=(PARAMETERS,),
        bad=takes(**{f"word_{chr(97 + index)}": "A word of the report" for index in range(16)}),
        good=takes(words="Words of the report"),
    ),
    Rule(
        id="too-deep",
        family="schemas",
        covers=("too-deep",),
        level="warning",
        reason="A model loses its place in objects inside objects.",
        check=_too_deep,
        settings=(DEEPEST,),
        bad=takes(order=_DEEP),
        good=takes(order={"type": "object", "properties": {"vessel": _TEXT}}),
    ),
    Rule(
        id="open-to-unknown-parameters",
        fix_is_safe=False,
        family="schemas",
        covers=(),
        level="note",
        reason="A misspelt parameter that passes in silence is left out of the answer.",
        check=_open,
        bad=takes(port="Name of the port"),
        good={
            "tools": [
                {
                    **tool(port="Name of the port"),
                    "inputSchema": {"type": "object", "additionalProperties": False},
                }
            ]
        },
    ),
    Rule(
        id="promise-without-parameter",
        family="schemas",
        covers=("pasted-schema",),
        level="warning",
        reason="A tool that promises to go by something it cannot be given was pasted together.",
        check=_pasted_promise,
        bad=tools(
            tool(
                "get_item",
                "Get one find by its number, with where it is kept.",
                day="Day it was found, such as 2026-06-01",
            )
        ),
        good=tools(
            tool(
                "get_item",
                "Get one find by its number, with where it is kept.",
                item_id="Number of the find, such as F-20",
            )
        ),
    ),
    Rule(
        id="pasted-schema",
        family="schemas",
        covers=("pasted-schema",),
        level="warning",
        reason="Parameters of the tool next door are filled, sent, and ignored.",
        check=_pasted_sibling,
        bad=tools(
            tool(
                "get_roster",
                "Get the roster of one crew and week.",
                crew="Number of the crew",
                week="Week of the year",
            ),
            tool(
                "get_fare",
                "Get what a crossing costs in euro.",
                crew="Number of the crew",
                week="Week of the year",
            ),
        ),
        good=tools(
            tool(
                "get_roster",
                "Get the roster of one crew and week.",
                crew="Number of the crew",
                week="Week of the year",
            ),
            tool(
                "get_leave", "Get the leave of one crew.", crew="Number of the crew", week="Week of the year"
            ),
        ),
    ),
    Rule(
        id="no-output-schema",
        family="schemas",
        covers=(),
        level="note",
        reason="Programs that read a result need a promise of its form.",
        check=_no_output_schema,
        bad=tools(tool("list_berths")),
        good=tools(tool("list_berths", returns={"berths": {"type": "array", "items": _TEXT}})),
    ),
    Rule(
        id="parameter-twice",
        family="schemas",
        covers=("param-two-namings",),
        level="error",
        reason="Two parameters that differ by case or separator only are one to a reader.",
        check=_declared_twice,
        bad=takes(berth_id="Number of the berth", berthId="Number of the berth"),
        good=takes(berth_id="Number of the berth", other_berth_id="Number of the berth to move to"),
    ),
    Rule(
        id="keyword-not-taken",
        family="schemas",
        covers=(),
        level="warning",
        reason="A host in use refuses, or drops, tools whose schemas use what it does not take.",
        check=_keyword_not_taken,
        bad=takes(berth={"oneOf": [_TEXT, {"type": "integer"}], "description": "Number of the berth"}),
        good=takes(berth="Number of the berth"),
    ),
)
