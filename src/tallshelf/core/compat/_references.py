"""Where the references of one document lead: pointers, anchors and embedded identifiers."""

from __future__ import annotations

from typing import Any
from urllib.parse import unquote, urljoin

from tallshelf.core.compat._dialect import MAPS
from tallshelf.core.pointer import names_of, step_of

Target = tuple[Any, str]
_LISTS = ("allOf", "anyOf", "oneOf", "prefixItems", "items")
_SINGLE = (
    "items",
    "additionalItems",
    "additionalProperties",
    "propertyNames",
    "contains",
    "not",
    "if",
    "then",
    "else",
    "unevaluatedItems",
    "unevaluatedProperties",
)
_START = "urn:document"


class References:
    """The places of one document by how they can be referred to; nothing outside it is known."""

    def __init__(self, root: Any) -> None:
        self._root = root
        self._bases: dict[str, str] = {}
        self._resources: dict[str, Target] = {}
        self._anchors: dict[tuple[str, str], Target] = {}

    @property
    def single(self) -> bool:
        """Whether no schema in the document starts a resource of its own."""
        self._walk_once()
        return len(self._bases) == 1

    def resolve(self, reference: str, pointer: str) -> Target | None:
        """Return the schema and the pointer that a reference from a place leads to, or None."""
        self._walk_once()
        base = self._base(pointer)
        address, _, fragment = (reference if base == _START else urljoin(base, reference)).partition("#")
        if base == _START and not address:
            address = _START
        resource = self._resources.get(address)
        if resource is None:
            return None
        fragment = unquote(fragment)
        if not fragment:
            return resource
        if not fragment.startswith("/"):
            return self._anchors.get((address, fragment))
        return _step(resource, fragment)

    def _base(self, pointer: str) -> str:
        """Return the address of the innermost resource around a place."""
        while pointer not in self._bases:
            pointer = pointer.rpartition("/")[0]
        return self._bases[pointer]

    def _walk_once(self) -> None:
        if not self._bases:
            self._walk(self._root, "", _START)

    def _walk(self, schema: Any, pointer: str, base: str) -> None:
        if isinstance(schema, bool) or not isinstance(schema, dict):
            if not pointer:
                self._begin(schema, pointer, base)
            return
        own = schema.get("$id")
        if isinstance(own, str) and own.startswith("#"):
            self._anchors.setdefault((base, own[1:]), (schema, pointer))
        elif isinstance(own, str):
            base = urljoin("" if base == _START else base, own).rstrip("#")
            self._begin(schema, pointer, base)
        if not pointer and pointer not in self._bases:
            self._begin(schema, pointer, base)
        for keyword in ("$anchor", "$dynamicAnchor"):
            if isinstance(schema.get(keyword), str):
                self._anchors.setdefault((base, schema[keyword]), (schema, pointer))
        for keyword in MAPS:
            if isinstance(schema.get(keyword), dict):
                for name, child in schema[keyword].items():
                    self._walk(child, f"{pointer}/{keyword}/{step_of(name)}", base)
        for keyword in _LISTS:
            if isinstance(schema.get(keyword), list):
                for index, child in enumerate(schema[keyword]):
                    self._walk(child, f"{pointer}/{keyword}/{index}", base)
        for keyword in _SINGLE:
            self._walk_single(schema.get(keyword), f"{pointer}/{keyword}", base)

    def _walk_single(self, schema: Any, pointer: str, base: str) -> None:
        if isinstance(schema, dict):
            self._walk(schema, pointer, base)

    def _begin(self, schema: Any, pointer: str, base: str) -> None:
        self._bases[pointer] = base
        self._resources.setdefault(base, (schema, pointer))


def _step(start: Target, fragment: str) -> Target | None:
    schema, pointer = start
    for name in names_of(fragment):
        if isinstance(schema, dict) and name in schema:
            schema = schema[name]
        elif isinstance(schema, list) and name.isascii() and name.isdigit() and int(name) < len(schema):
            schema = schema[int(name)]
        else:
            return None
    return schema, pointer + fragment
