"""A snapshot as the rules read it: split into texts, names and parameters once, shared by all."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from tallshelf.core.snapshot import Item, Snapshot
from tallshelf.core.style.lazy import lazy
from tallshelf.core.words import content_words, sentence_words, split_identifier, stem
from tallshelf.core.words.hidden import revealed

_DEEPEST = 24
_SEPARATOR = re.compile(r"[^a-z0-9]")
_DIGIT = re.compile(r"\d")
Inside = Literal["takes", "returns"]


@dataclass(frozen=True, eq=False)
class Text:
    """One text: where it is, what it says, and as a model may read it, with hidden text decoded."""

    item: str
    pointer: str
    text: str

    @lazy
    def lower(self) -> str:
        return self.text.lower()

    @lazy
    def words(self) -> tuple[str, ...]:
        return sentence_words(self.text)

    @lazy
    def word_set(self) -> frozenset[str]:
        """The words, for asking at a glance whether a text can hold what a rule looks for."""
        return frozenset(self.words)

    @lazy
    def widest(self) -> int:
        """The length of the longest run of characters without a space."""
        return max(map(len, self.text.split()), default=0)

    @lazy
    def has_digit(self) -> bool:
        return _DIGIT.search(self.text) is not None

    @lazy
    def stems(self) -> tuple[str, ...]:
        """The stems of the words that carry meaning."""
        return content_words(self.text)

    @lazy
    def read(self) -> str:
        """The text with tag characters, look-alike letters and base64 decoded, hidden ones dropped."""
        return revealed(self.text)


@dataclass(frozen=True, eq=False)
class Parameter:
    """One parameter or result field, at any depth; ``path`` is its name with those around it."""

    item: Item
    name: str
    path: str
    pointer: str
    schema: Mapping[str, Any]
    required: bool
    depth: int
    inside: Inside

    @lazy
    def words(self) -> tuple[str, ...]:
        return split_identifier(self.name)

    @lazy
    def text(self) -> Text:
        """Its description; empty where there is none."""
        found = self.schema.get("description")
        said = isinstance(found, str)
        return Text(
            self.item.identity,
            f"{self.pointer}/description" if said else self.pointer,
            str(found) if said else "",
        )

    @lazy
    def types(self) -> frozenset[str]:
        """The JSON types it takes, as far as it says so; integer apart from number."""
        return types_of(self.schema)

    @property
    def is_free_text(self) -> bool:
        """Whether it takes any string: no values, pattern or format narrow it."""
        narrowed = self.schema.keys() & {"enum", "const", "pattern", "format", "oneOf", "$ref"}
        return "string" in self.types and not narrowed


def types_of(schema: Mapping[str, Any]) -> frozenset[str]:
    """Return the JSON types that a schema names, in itself or in the members of a union."""
    named = schema.get("type")
    if isinstance(named, str):
        return frozenset({named})
    if isinstance(named, list):
        return frozenset(one for one in named if isinstance(one, str))
    found: set[str] = set()
    for keyword in ("anyOf", "oneOf"):
        members = schema.get(keyword)
        for member in members if isinstance(members, list) else []:
            if isinstance(member, dict):
                found |= types_of(member)
    return frozenset(found)


@dataclass(frozen=True, eq=False)
class ItemView:
    """One item, with its name in words, its description, its parameters and result fields."""

    item: Item

    @property
    def identity(self) -> str:
        return self.item.identity

    @property
    def name(self) -> str:
        return self.item.name

    @lazy
    def words(self) -> tuple[str, ...]:
        return split_identifier(self.item.name)

    @lazy
    def stems(self) -> tuple[str, ...]:
        """The stems of the words of its name."""
        return tuple(map(stem, self.words))

    @lazy
    def bare(self) -> str:
        """Its name without case and separators."""
        return _SEPARATOR.sub("", self.name.lower())

    @lazy
    def text(self) -> Text:
        return Text(self.item.identity, "/description", self.item.description)

    @lazy
    def parameters(self) -> tuple[Parameter, ...]:
        """All parameters, those inside others too."""
        return tuple(_members(self.item, "inputSchema", "takes"))

    @lazy
    def results(self) -> tuple[Parameter, ...]:
        return tuple(_members(self.item, "outputSchema", "returns"))

    @lazy
    def own(self) -> tuple[Parameter, ...]:
        """The parameters themselves, not those inside others."""
        return tuple(one for one in self.parameters if one.depth == 1)

    @property
    def annotations(self) -> Mapping[str, Any]:
        found = self.item.body.get("annotations")
        return found if isinstance(found, dict) else {}

    @lazy
    def texts(self) -> tuple[Text, ...]:
        """Its title and every description in it."""
        return tuple(_texts(self.item))


class View:
    """A whole snapshot; lists that were not asked for are empty."""

    def __init__(self, snapshot: Snapshot) -> None:
        self.snapshot = snapshot
        self.items = tuple(map(ItemView, snapshot.items))
        self.tools = tuple(one for one in self.items if one.item.kind == "tool")

    @lazy
    def parameters(self) -> tuple[Parameter, ...]:
        """The parameters of all tools, at any depth."""
        return tuple(one for tool in self.tools for one in tool.parameters)

    @lazy
    def fields(self) -> tuple[Parameter, ...]:
        """The parameters and result fields of all tools, at any depth."""
        return tuple(one for tool in self.tools for one in (*tool.parameters, *tool.results))

    @lazy
    def instructions(self) -> Text:
        found = self.snapshot.server.get("instructions")
        return Text("server", "/instructions", found if isinstance(found, str) else "")

    @lazy
    def texts(self) -> tuple[Text, ...]:
        """Every text that a model may see, the server's instructions first."""
        own = (self.instructions,) if self.instructions.text else ()
        return (*own, *(text for item in self.items for text in item.texts))

    @lazy
    def values(self) -> tuple[Text, ...]:
        """Every string among defaults, examples, constants and enums."""
        return tuple(text for item in self.items for text in _values(item.item))


def _members(item: Item, field: str, inside: Inside) -> Iterator[Parameter]:
    schema = item.body.get(field)
    if isinstance(schema, dict):
        yield from _below(item, schema, schema, f"/{field}", "", 1, inside)


def _below(
    item: Item,
    root: Mapping[str, Any],
    schema: Mapping[str, Any],
    pointer: str,
    path: str,
    depth: int,
    inside: Inside,
) -> Iterator[Parameter]:
    if depth > _DEEPEST:
        return
    properties, required = schema.get("properties"), schema.get("required")
    needed = set(map(str, required)) if isinstance(required, list) else set()
    for name, child in properties.items() if isinstance(properties, dict) else ():
        where = f"{pointer}/properties/{name.replace('~', '~0').replace('/', '~1')}"
        own = _resolved(root, child)
        called = f"{path}.{name}" if path else name
        yield Parameter(item, name, called, where, own, name in needed, depth, inside)
        yield from _below(item, root, own, where, called, depth + 1, inside)
    items = schema.get("items")
    if isinstance(items, dict):
        yield from _below(item, root, _resolved(root, items), f"{pointer}/items", f"{path}[]", depth, inside)
    for keyword in ("anyOf", "oneOf", "allOf"):
        members = schema.get(keyword)
        for index, member in enumerate(members if isinstance(members, list) else ()):
            if isinstance(member, dict) and "$ref" not in member:
                yield from _below(item, root, member, f"{pointer}/{keyword}/{index}", path, depth, inside)


def _resolved(root: Mapping[str, Any], schema: Any) -> Mapping[str, Any]:
    """Return a schema with what a plain reference into the same document says put beside it."""
    if not isinstance(schema, dict):
        return {} if schema is True else {"not": {}} if schema is False else {}
    reference = schema.get("$ref")
    if not isinstance(reference, str) or not reference.startswith("#/"):
        return schema
    found: Any = root
    for step in reference[2:].split("/"):
        found = found.get(step.replace("~1", "/").replace("~0", "~")) if isinstance(found, dict) else None
    inner = found.items() if isinstance(found, dict) else ()
    return {**{key: value for key, value in inner if key not in ("properties", "$ref")}, **schema}


def _texts(item: Item) -> Iterator[Text]:
    for field in ("title", "description"):
        value = item.body.get(field)
        if isinstance(value, str):
            yield Text(item.identity, f"/{field}", value)
    for field in ("inputSchema", "outputSchema", "arguments", "annotations"):
        yield from _described(item.identity, item.body.get(field), f"/{field}", 0)


def _described(item: str, value: Any, pointer: str, depth: int) -> Iterator[Text]:
    if depth > _DEEPEST * 2:
        return
    if isinstance(value, dict):
        for key, child in value.items():
            if isinstance(child, str):
                if key in ("description", "title"):
                    yield Text(item, f"{pointer}/{key}", child)
            elif isinstance(child, dict | list):
                yield from _described(item, child, f"{pointer}/{_step(key)}", depth + 1)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            if isinstance(child, dict | list):
                yield from _described(item, child, f"{pointer}/{index}", depth + 1)


def _step(key: str) -> str:
    return key.replace("~", "~0").replace("/", "~1") if "/" in key or "~" in key else key


def _values(item: Item) -> Iterator[Text]:
    for field in ("inputSchema", "outputSchema"):
        yield from _valued(item.identity, item.body.get(field), f"/{field}", False, 0)


def _valued(item: str, value: Any, pointer: str, taken: bool, depth: int) -> Iterator[Text]:
    """Yield the strings below keywords that hold values (``taken``: this is below one)."""
    if depth > _DEEPEST * 2:
        return
    if isinstance(value, dict):
        for key, child in value.items():
            below = taken or key in _VALUE_KEYWORDS
            if isinstance(child, str):
                if below:
                    yield Text(item, f"{pointer}/{_step(key)}", child)
            elif isinstance(child, dict | list):
                yield from _valued(item, child, f"{pointer}/{_step(key)}", below, depth + 1)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            if isinstance(child, str):
                if taken:
                    yield Text(item, f"{pointer}/{index}", child)
            elif isinstance(child, dict | list):
                yield from _valued(item, child, f"{pointer}/{index}", taken, depth + 1)


_VALUE_KEYWORDS = frozenset({"default", "example", "examples", "const", "enum"})


def is_letter(character: str) -> bool:
    """Whether a character is a letter of any script."""
    return unicodedata.category(character).startswith("L")
