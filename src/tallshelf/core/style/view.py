"""A snapshot as the rules read it: split into texts, names and parameters once, shared by all."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import partial
from typing import Any, Literal, NamedTuple

from msgspec import Struct

from tallshelf.core.lazy import lazy
from tallshelf.core.pointer import names_of, step_of, value_at
from tallshelf.core.snapshot import Item, Snapshot
from tallshelf.core.style.text import Text, Texts
from tallshelf.core.words.language import is_in_english
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.split import sentence_words, split_identifier, stem
from tallshelf.core.words.steering import Steering, may_steer, steering

_DEEPEST = 24
_SEPARATOR = Pattern(r"[^a-z0-9]")
Inside = Literal["takes", "returns"]


# Made by the ten thousand, as texts are.
class Parameter(Struct, eq=False, dict=True):
    """One parameter or result field, at any depth; ``path`` is its name with those around it."""

    item: Item
    name: str
    path: str
    pointer: str
    schema: Mapping[str, Any]
    required: bool
    depth: int
    inside: Inside
    texts: Mapping[str, Text]

    @lazy
    def words(self) -> tuple[str, ...]:
        return split_identifier(self.name)

    @lazy
    def text(self) -> Text:
        """Its description; empty where there is none."""
        found = self.schema.get("description")
        if not isinstance(found, str):
            return Text(self.item.identity, self.pointer, "")
        pointer = f"{self.pointer}/description"
        # What a reference brings along stands elsewhere in the item.
        return self.texts.get(pointer) or Text(self.item.identity, pointer, found)

    @lazy
    def types(self) -> frozenset[str]:
        """The JSON types it takes, as far as it says so; integer apart from number."""
        return types_of(self.schema)

    @lazy
    def told_above(self) -> str:
        """What the tool's own text tells of it on a line of its own, as a function's docstring does; often nothing."""
        tool = self.texts.get("/description") if self.depth == 1 else None
        return tool.lines_about.get(self.name, "") if tool else ""

    @property
    def said(self) -> str:
        """All that is said of it: its own text, and what the tool's tells of it."""
        return f"{self.text.text} {self.told_above}" if self.told_above else self.text.text

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


class ItemView(Struct, eq=False, dict=True):
    """One item, with its name in words, its description, its parameters and result fields."""

    item: Item

    @lazy
    def identity(self) -> str:
        return self.item.identity

    @lazy
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
    def stem_set(self) -> frozenset[str]:
        return frozenset(self.stems)

    @lazy
    def bare(self) -> str:
        """Its name without case and separators."""
        return _SEPARATOR.sub("", self.name.lower())

    @lazy
    def text(self) -> Text:
        said = self._at.get("/description")
        return said or Text(self.identity, "/description", self.item.description)

    @lazy
    def is_in_english(self) -> bool:
        """Whether its description is in the language that the rules of wording know."""
        return is_in_english(self.text.text)

    @lazy
    def parameters(self) -> tuple[Parameter, ...]:
        """All parameters, those inside others too."""
        return tuple(_members(self.item, "inputSchema", "takes", self._at))

    @lazy
    def results(self) -> tuple[Parameter, ...]:
        return tuple(_members(self.item, "outputSchema", "returns", self._at))

    @lazy
    def own(self) -> tuple[Parameter, ...]:
        """The parameters themselves, not those inside others."""
        return tuple(parameter for parameter in self.parameters if parameter.depth == 1)

    @lazy
    def own_words(self) -> frozenset[str]:
        """The words that its own parameters are called by and described with."""
        return frozenset(word for field in self.own for word in (*field.words, *field.text.words))

    @property
    def annotations(self) -> Mapping[str, Any]:
        found = self.item.body.get("annotations")
        return found if isinstance(found, dict) else {}

    @lazy
    def _read(self) -> tuple[list[Text], list[Text], set[str]]:
        return _read(self.item)

    @property
    def texts(self) -> list[Text]:
        """Its title and every description in it."""
        return self._read[0]

    @property
    def values(self) -> list[Text]:
        """Every string among defaults, examples, constants and enums of its schemas."""
        return self._read[1]

    @property
    def members(self) -> set[str]:
        """Every name of a member anywhere in its schemas, keywords and declared names alike."""
        return self._read[2]

    @lazy
    def _at(self) -> dict[str, Text]:
        return {text.pointer: text for text in self.texts}


class View:
    """A whole snapshot; lists that were not asked for are empty."""

    def __init__(self, snapshot: Snapshot) -> None:
        self.snapshot = snapshot
        self.items = tuple(map(ItemView, snapshot.items))
        self.tools = tuple(item for item in self.items if item.item.kind == "tool")

    @lazy
    def parameters(self) -> tuple[Parameter, ...]:
        """The parameters of all tools, at any depth."""
        return tuple(parameter for tool in self.tools for parameter in tool.parameters)

    @lazy
    def fields(self) -> tuple[Parameter, ...]:
        """The parameters and result fields of all tools, at any depth."""
        return tuple(parameter for tool in self.tools for parameter in (*tool.parameters, *tool.results))

    @lazy
    def names(self) -> tuple[Text, ...]:
        """What is called by more than plain characters: items, and what they take and return, as texts."""
        found = []
        for item in self.items:
            if not item.name.isascii() and item.item.kind != "resource":
                found.append(Text(item.identity, "/name", item.name))
            if not all(map(str.isascii, item.members)):
                fields = (field for field in (*item.parameters, *item.results) if not field.name.isascii())
                found += [Text(item.identity, field.pointer, field.name) for field in fields]
        return tuple(found)

    @lazy
    def instructions(self) -> Text:
        found = self.snapshot.server.get("instructions")
        return Text("server", "/instructions", found if isinstance(found, str) else "")

    @lazy
    def texts(self) -> Texts:
        """Every text that a model may see, the server's instructions first."""
        own = (self.instructions,) if self.instructions.text else ()
        return Texts((*own, *(text for item in self.items for text in item.texts)))

    @lazy
    def values(self) -> Texts:
        """Every string among defaults, examples, constants and enums."""
        return Texts(text for item in self.items for text in item.values)

    @lazy
    def in_other_languages(self) -> frozenset[str]:
        """The items whose texts the rules of wording cannot read."""
        return frozenset(item.identity for item in self.items if not item.is_in_english)

    @lazy
    def steered(self) -> tuple[tuple[Text, tuple[Steering, ...]], ...]:
        """The texts and values that steer whoever reads them, each with how."""
        items = {item.identity: item for item in self.items}
        names = frozenset(item.name for item in self.items)
        server = frozenset(split_identifier(self.snapshot.server_name))
        found = []
        for text in (*self.texts, *self.values):
            worded, is_lead = may_steer(text.read, text.word_set), text.pointer == "/description"
            if worded or (is_lead and ". " in text.read):  # a second sentence may command anything
                item = items.get(text.item)
                own = frozenset() if item is None else frozenset(word.rstrip("s") for word in item.words)
                vocabulary = None if item is None else partial(self._vocabulary, item)
                how = steering(
                    text.read,
                    own,
                    is_lead,
                    vocabulary,
                    worded=worded,
                    siblings=names,
                    server=server,
                    field=_field_words(text),
                )
                if how:
                    found.append((text, how))
        return tuple(found)

    def _vocabulary(self, item: ItemView) -> frozenset[str]:
        """Return the words of what an item takes and gives, of its own text's beginning, and of its siblings' names."""
        told = [*item.words, *(word for one in self.items for word in one.words)]
        for field in (*item.parameters, *item.results):
            told += [*field.words, *field.text.words]
        told += next((sentence_words(said) for said, _ in sentences(item.text.text)), ())
        return frozenset(lemma(word).rstrip("s") for word in told)

    @lazy
    def beyond_ascii(self) -> tuple[Text, ...]:
        """The texts and values that hold more than plain characters."""
        return tuple(text for text in self.everything if not text.text.isascii())

    @lazy
    def everything(self) -> tuple[Text, ...]:
        """The texts, then the values."""
        return (*self.texts, *self.values)


def _field_words(text: Text) -> Collection[str]:
    """Return the words of the name of the parameter that a text describes; none of any other text."""
    *_, name, last = ["", *names_of(text.pointer)] if text.pointer else ["", ""]
    return split_identifier(name) if last == "description" and name else ()


def _members(item: Item, field: str, inside: Inside, texts: Mapping[str, Text]) -> list[Parameter]:
    schema = item.body.get(field)
    parameters: list[Parameter] = []
    if isinstance(schema, dict):
        _below(_Reading(item, schema, inside, texts, parameters), schema, f"/{field}", "", 1)
    return parameters


class _Reading(NamedTuple):
    """What stays the same while the members of one schema are gathered."""

    item: Item
    root: Mapping[str, Any]
    inside: Inside
    texts: Mapping[str, Text]
    found: list[Parameter]


def _below(reading: _Reading, schema: Mapping[str, Any], pointer: str, path: str, depth: int) -> None:
    if depth > _DEEPEST:
        return
    item, root, inside, texts, parameters = reading
    properties = schema.get("properties")
    if isinstance(properties, dict):
        required = schema.get("required")
        needed = set(map(str, required)) if isinstance(required, list) else ()
        for name, child in properties.items():
            where = f"{pointer}/properties/{step_of(name)}"
            own = _resolved(root, child)
            called = f"{path}.{name}" if path else name
            parameters.append(Parameter(item, name, called, where, own, name in needed, depth, inside, texts))
            if not own.keys().isdisjoint(_HOLDS_MORE):
                _below(reading, own, where, called, depth + 1)
    items = schema.get("items")
    if isinstance(items, dict):
        _below(reading, _resolved(root, items), f"{pointer}/items", f"{path}[]", depth)
    for keyword in _MEMBERS_OF:
        members = schema.get(keyword)
        for index, member in enumerate(members if isinstance(members, list) else ()):
            if isinstance(member, dict) and "$ref" not in member:
                _below(reading, member, f"{pointer}/{keyword}/{index}", path, depth)


def _resolved(root: Mapping[str, Any], schema: Any) -> Mapping[str, Any]:
    """Return a schema with what a plain reference into the same document says put beside it."""
    if not isinstance(schema, dict):
        return {} if schema is True else {"not": {}} if schema is False else {}
    reference = schema.get("$ref")
    if not isinstance(reference, str) or not reference.startswith("#/"):
        return schema
    found = value_at(root, reference[1:])
    inner = found.items() if isinstance(found, dict) else ()
    return {**{key: value for key, value in inner if key not in ("properties", "$ref")}, **schema}


def _read(item: Item) -> tuple[list[Text], list[Text], set[str]]:
    """Read an item once: its texts, the strings among its values, and the names of all members."""
    identity, body = item.identity, item.body
    texts = [
        Text(identity, f"/{field}", body[field])
        for field in ("title", "description")
        if isinstance(body.get(field), str)
    ]
    values: list[Text] = []
    members: set[str] = set()
    for field in ("inputSchema", "outputSchema"):
        _gather(identity, body.get(field), f"/{field}", False, 0, texts, values, members)
    for field in ("arguments", "annotations"):
        _gather(identity, body.get(field), f"/{field}", False, 0, texts, [], set())
    _gather(identity, body.get("_meta"), "/_meta", True, 0, [], values, set())
    return texts, values, members


def _gather(
    item: str,
    value: Any,
    pointer: str,
    taken: bool,
    depth: int,
    texts: list[Text],
    values: list[Text],
    members: set[str],
) -> None:
    """Gather what stands below a place (``taken``: it is below a keyword that holds values)."""
    if depth > _DEEPEST * 2:
        return
    if isinstance(value, dict):
        members.update(value)
        for key, child in value.items():
            if isinstance(child, str):
                if key in _TEXT_KEYWORDS:
                    texts.append(Text(item, f"{pointer}/{key}", child))
                if taken or key in _VALUE_KEYWORDS or key == "$comment":
                    values.append(Text(item, f"{pointer}/{step_of(key)}", child))
            elif isinstance(child, _HOLDS):
                below = taken or key in _VALUE_KEYWORDS
                _gather(item, child, f"{pointer}/{step_of(key)}", below, depth + 1, texts, values, members)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            if isinstance(child, str):
                if taken:
                    values.append(Text(item, f"{pointer}/{index}", child))
            elif isinstance(child, _HOLDS):
                _gather(item, child, f"{pointer}/{index}", taken, depth + 1, texts, values, members)


_HOLDS = (dict, list)
_TEXT_KEYWORDS = frozenset({"description", "title"})
_VALUE_KEYWORDS = frozenset({"default", "example", "examples", "const", "enum"})
_MEMBERS_OF = ("anyOf", "oneOf", "allOf")
_HOLDS_MORE = frozenset({"properties", "items", *_MEMBERS_OF})
