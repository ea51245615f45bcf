"""The document model: a snapshot, its items, and their digests."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from functools import cached_property
from typing import Any, Literal

from msgspec import Struct

from tallshelf.core.errors import BadDocument, OverLimit
from tallshelf.core.formats import check_format
from tallshelf.core.snapshot.canonical import canonical, canonical_plain, digest_of
from tallshelf.core.snapshot.limits import DEFAULT_LIMITS, Limits
from tallshelf.core.snapshot.strict_json import check_value, read_json

FORMAT = "tallshelf.snapshot/1"

ItemKind = Literal["tool", "resource", "template", "prompt"]

LISTS: dict[str, ItemKind] = {
    "tools": "tool",
    "resources": "resource",
    "resourceTemplates": "template",
    "prompts": "prompt",
}
NAME_FIELDS: dict[ItemKind, str] = {
    "tool": "name",
    "resource": "uri",
    "template": "uriTemplate",
    "prompt": "name",
}
_SCHEMA_FIELDS = ("inputSchema", "outputSchema")


class Item(Struct, frozen=True, eq=False, dict=True):
    """One tool, resource, resource template or prompt, exactly as declared.

    ``plain`` is set when it is known that the canonical form is just the sorted text.
    """

    kind: ItemKind
    name: str
    body: Mapping[str, Any]
    plain: bool = False

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Item) and self.identity == other.identity and self.body == other.body

    def __hash__(self) -> int:
        return hash(self.identity)

    @property
    def identity(self) -> str:
        """``tool:NAME``, ``resource:URI``, ``template:URI-TEMPLATE`` or ``prompt:NAME``."""
        return f"{self.kind}:{self.name}"

    @property
    def title(self) -> str:
        """The declared title, or the name."""
        title = self.body.get("title")
        return title if isinstance(title, str) and title else self.name

    @property
    def description(self) -> str:
        """The declared description, or an empty string."""
        text = self.body.get("description")
        return text if isinstance(text, str) else ""

    @cached_property
    def canonical(self) -> bytes:
        """The canonical JSON of the declared object."""
        return canonical_plain(self.body) if self.plain else canonical(self.body)

    @cached_property
    def digest(self) -> str:
        """The digest of the declared object."""
        return digest_of(self.canonical)


class Snapshot(Struct, frozen=True, dict=True):
    """All that a server declares at one moment.

    A list that was not asked for is absent from ``lists``; an empty list is a tuple of
    length 0. ``items`` holds every list's items, in order of kind and then identity.
    """

    server: Mapping[str, Any]
    captured: Mapping[str, Any]
    lists: Mapping[str, tuple[Item, ...]]

    @cached_property
    def items(self) -> tuple[Item, ...]:
        return tuple(item for name in LISTS for item in self.lists.get(name, ()))

    @cached_property
    def twice(self) -> frozenset[str]:
        """Identities that are declared more than once."""
        counts = Counter(item.identity for item in self.items)
        return frozenset(identity for identity, count in counts.items() if count > 1)

    @property
    def tools(self) -> tuple[Item, ...]:
        return self.lists.get("tools", ())

    @property
    def server_info(self) -> Mapping[str, Any]:
        info = self.server.get("serverInfo")
        return info if isinstance(info, dict) else {}

    @property
    def server_name(self) -> str:
        name = self.server_info.get("name")
        return name if isinstance(name, str) else ""

    @property
    def declared_version(self) -> str | None:
        """``serverInfo.version`` as declared, whatever it looks like."""
        version = self.server_info.get("version")
        return version if isinstance(version, str) else None

    @cached_property
    def canonical(self) -> bytes:
        """The canonical JSON of the document, without ``format`` and ``captured``."""
        parts = {
            name: b"[" + b",".join(item.canonical for item in items) + b"]"
            for name, items in self.lists.items()
        }
        parts["server"] = canonical(dict(self.server))
        members = (b'"%s":%s' % (name.encode(), parts[name]) for name in sorted(parts))
        return b"{" + b",".join(members) + b"}"

    @cached_property
    def digest(self) -> str:
        """The digest of the canonical form."""
        return digest_of(self.canonical)

    def document(self) -> dict[str, Any]:
        """Return the snapshot as a ``tallshelf.snapshot/1`` document."""
        document: dict[str, Any] = {"format": FORMAT}
        if self.captured:
            document["captured"] = dict(self.captured)
        document["server"] = dict(self.server)
        for name in LISTS:
            if name in self.lists:
                document[name] = [dict(item.body) for item in self.lists[name]]
        return document


def parse_snapshot(data: bytes | str, limits: Limits = DEFAULT_LIMITS) -> Snapshot:
    """Read a snapshot document, or a bare ``tools/list`` result, from JSON text.

    Raises `BadDocument` or `OverLimit`; what a server may declare is never refused.
    """
    document, plain = read_json(data, limits)
    return _build(document, limits, plain=plain)


def snapshot_from(document: Any, limits: Limits = DEFAULT_LIMITS) -> Snapshot:
    """Build a snapshot from an already parsed document, under the same rules."""
    return _build(document, limits, plain=check_value(document, limits))


def _build(document: Any, limits: Limits, *, plain: bool) -> Snapshot:
    document = _envelope(document)
    check_format(
        "snapshot-1",
        document,
        "not a snapshot",
        "Take it with `tallshelf capture`, or see the format tallshelf.snapshot/1 in the docs.",
    )
    total = sum(len(document.get(name, ())) for name in LISTS)
    if total > limits.items:
        raise OverLimit(
            f"the snapshot has {total:,} items; at most {limits.items:,} are read",
            remedy="Split the server, or raise the limit in the settings.",
        )
    nodes = _count_schema_nodes(document)
    if nodes > limits.schema_nodes:
        raise OverLimit(
            f"the schemas have {nodes:,} nodes; at most {limits.schema_nodes:,} are read",
            remedy="Simplify the schemas, or raise the limit in the settings.",
        )
    return Snapshot(
        server=document["server"],
        captured=document.get("captured", {}),
        lists={name: _items(kind, document[name], plain) for name, kind in LISTS.items() if name in document},
    )


def _envelope(document: Any) -> Any:
    """Wrap a bare ``tools/list`` result; leave anything else for the format check."""
    if not isinstance(document, dict) or "format" in document or "tools" not in document:
        return document
    if document.get("nextCursor"):
        raise BadDocument(
            "a tools/list result with a nextCursor is only the first page",
            remedy="Join the pages, or take the snapshot with `tallshelf capture`.",
        )
    extra = sorted(set(document) - {"tools", "nextCursor", "_meta", "resultType", "ttlMs", "cacheScope"})
    if extra:
        raise BadDocument(
            f"not a snapshot: no format is named, and {extra[0]!r} does not belong to a tools/list result",
            remedy=f'Name the format: "format": "{FORMAT}".',
        )
    return {"format": FORMAT, "server": {}, "tools": document["tools"]}


def _items(kind: ItemKind, bodies: list[dict[str, Any]], plain: bool) -> tuple[Item, ...]:
    items = [Item(kind, _name(kind, body), body, plain) for body in bodies]
    if len({item.name for item in items}) == len(items):
        return tuple(sorted(items, key=lambda item: item.name))
    return tuple(sorted(items, key=lambda item: (item.name, item.canonical)))


def _name(kind: ItemKind, body: Mapping[str, Any]) -> str:
    name = body.get(NAME_FIELDS[kind])
    return name if isinstance(name, str) else ""


def _count_schema_nodes(document: Mapping[str, Any]) -> int:
    level: list[Any] = [
        body[name] for body in document.get("tools", ()) for name in _SCHEMA_FIELDS if name in body
    ]
    count = 0
    while level:
        count += len(level)
        below: list[Any] = []
        for value in level:
            if isinstance(value, dict):
                below.extend(value.values())
            elif isinstance(value, list):
                below.extend(child for child in value if isinstance(child, dict | list))
        level = below
    return count
