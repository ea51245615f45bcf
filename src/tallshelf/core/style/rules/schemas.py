"""Rules on schemas: whether they are valid, tell their types, and are those of their own tool."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.pointer import step_of
from tallshelf.core.style.rule import Rule, RuleHit, Setting, Subject
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.usable import Unusable, check_usable
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import split_identifier, word_set

_FIELDS = ("inputSchema", "outputSchema")
_APPLIES = word_set("allOf anyOf oneOf $ref patternProperties if $dynamicRef dependentSchemas")
_REQUIRES = frozenset({"required", "properties", "items"})
_READING = frozenset({"get", "list", "find", "search", "fetch", "count"})
_SHUTS = frozenset({"additionalProperties", "unevaluatedProperties", *_APPLIES})
_SAYS_TYPE = word_set("type enum const $ref anyOf oneOf allOf not if $dynamicRef properties items")
_INSIDE = word_set(
    "properties patternProperties additionalProperties propertyNames $ref anyOf oneOf allOf enum const "
    "unevaluatedProperties minProperties"
)
_FREE = Pattern(
    r"arbitrary|free[- ]form|any (?:json|members|keys|object)|key[- ]value|as (?:it )?is|verbatim|opaque|labels|metadata",
    re.IGNORECASE,
)
PARAMETERS = Setting("too-many-parameters", "most_parameters", 15, "parameters of one tool")
DEEPEST = Setting("too-deep", "deepest", 5, "levels of objects and lists inside each other")


def _invalid_schema(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        for field in _FIELDS:
            if field not in item.item.body:
                if field == "inputSchema":
                    yield RuleHit(item.identity, "", "there is no input schema; MCP asks every tool for one")
                continue
            schema = item.item.body[field]
            if not isinstance(schema, dict):
                yield RuleHit(item.identity, f"/{field}", "a schema here must be an object")
                continue
            try:
                check_usable(schema, item.members)
            except Unusable as fault:
                yield RuleHit(item.identity, f"/{field}", str(fault))


def _undeclared_required(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        for field in _FIELDS:
            yield from _required_in(item.identity, item.item.body.get(field), f"/{field}", 0)


def _required_in(item: str, schema: Any, pointer: str, depth: int) -> Iterator[RuleHit]:
    if not isinstance(schema, dict) or depth > 40:
        return
    properties, required = schema.get("properties"), schema.get("required")
    declared = properties if isinstance(properties, dict) else {}
    if isinstance(required, list) and schema.keys().isdisjoint(_APPLIES):
        for index, name in enumerate(required):
            if isinstance(name, str) and name not in declared:
                where = f"{pointer}/required/{index}"
                message = f"`{name}` is required but not declared; declare it, or drop it from required"
                yield RuleHit(item, where, message, suggestion=({"op": "remove", "path": where},))
    for name, child in declared.items():
        if isinstance(child, dict) and not child.keys().isdisjoint(_REQUIRES):
            step = step_of(name)
            yield from _required_in(item, child, f"{pointer}/properties/{step}", depth + 1)
    if "items" in schema:
        yield from _required_in(item, schema["items"], f"{pointer}/items", depth + 1)


def _freeform_object(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        says = parameter.schema.keys() & _INSIDE
        if parameter.schema.get("additionalProperties") in (True, {}):
            says -= {"additionalProperties"}
        if parameter.types - {"null"} == {"object"} and not says and not _FREE.search(parameter.text.text):
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.path}` takes any object; declare its members",
            )
        items = parameter.schema.get("items")
        if isinstance(items, dict) and items.get("type") == "object" and not items.keys() & _INSIDE:
            message = f"`{parameter.path}` takes a list of any objects; declare their members"
            yield RuleHit(parameter.item.identity, parameter.pointer, message)


def _array_without_items(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.fields:
        if "array" in parameter.types and not parameter.schema.keys() & {
            "items",
            "prefixItems",
            "contains",
            "$ref",
            "const",
            "enum",
            "anyOf",
            "oneOf",
        }:
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.path}` is a list of anything; say what its elements are",
            )


def _untyped(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if not parameter.schema.keys() & _SAYS_TYPE:
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"`{parameter.path}` has no type; a model may send anything",
            )


def _too_many_parameters(subject: Subject) -> Iterator[RuleHit]:
    most = subject.of(PARAMETERS)
    for item in subject.view.tools:
        if len(item.own) > most:
            message = f"{len(item.own)} parameters; a model fills at most {most} well: split the tool, or group them"
            yield RuleHit(item.identity, "/inputSchema/properties", message)


def _too_deep(subject: Subject) -> Iterator[RuleHit]:
    deepest = subject.of(DEEPEST)
    for item in subject.view.tools:
        for field in item.parameters:
            if field.path.count(".") + field.path.count("[]") + 1 > deepest:
                yield RuleHit(
                    item.identity,
                    field.pointer,
                    f"`{field.path}` lies more than {deepest} levels deep; flatten it",
                )
                break


def _open(subject: Subject) -> Iterator[RuleHit]:
    """Find tools that take parameters nobody declared; told once where no tool of the server does better."""
    tools = [
        item for item in subject.view.tools if item.own and isinstance(item.item.body["inputSchema"], dict)
    ]
    items = [item for item in tools if not item.item.body["inputSchema"].keys() & _SHUTS]
    if len(items) == len(tools) > 1:
        message = f"none of the {len(tools)} tools shuts out parameters that are not declared; a misspelt one passes unseen"
        yield RuleHit("server", "", message)
        return
    for item in items:
        patch = ({"op": "add", "path": "/inputSchema/additionalProperties", "value": False},)
        message = "a misspelt parameter passes unseen; shut others out"
        yield RuleHit(item.identity, "/inputSchema", message, suggestion=patch)


def _no_output_schema(subject: Subject) -> Iterator[RuleHit]:
    """Find reading tools that promise no form of their results; told once where none of the server does."""
    reading = [item for item in subject.view.tools if item.words[:1] and item.words[0] in _READING]
    items = [item for item in reading if "outputSchema" not in item.item.body]
    if len(items) == len(reading) > 1:
        message = (
            f"none of the {len(reading)} tools that read promises the form of its results by an output schema"
        )
        yield RuleHit("server", "", message)
        return
    for item in items:
        yield RuleHit(
            item.identity, "", "its results are read by programs, and no output schema promises their form"
        )


def _keyword_not_taken(subject: Subject) -> Iterator[RuleHit]:
    for profile in subject.style.profiles:
        refused = {*profile.keywords_not_taken}
        for item in subject.view.tools if refused else ():
            for keyword, pointer in _keywords(item.item.body.get("inputSchema"), "/inputSchema", 0):
                if keyword in refused:
                    yield RuleHit(
                        item.identity,
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


def _declared_twice(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        seen: dict[str, str] = {}
        for field in item.own:
            bare = "".join(split_identifier(field.name))
            before = seen.setdefault(bare, field.name)
            if before != field.name:
                yield RuleHit(
                    item.identity,
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
