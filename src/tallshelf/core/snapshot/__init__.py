"""Documents: snapshots, items, launch records, releases, references and their digests."""

from tallshelf.core.snapshot.canonical import canonical, digest, digest_of, json_equal
from tallshelf.core.snapshot.limits import DEFAULT_LIMITS, Limits
from tallshelf.core.snapshot.model import (
    FORMAT,
    LISTS,
    NAME_FIELDS,
    Item,
    ItemKind,
    Snapshot,
    parse_snapshot,
    snapshot_from,
)
from tallshelf.core.snapshot.outline import (
    TOKEN_METHOD,
    ItemOutline,
    Line,
    Outline,
    item_tokens,
    outline,
    outline_item,
    type_words,
)
from tallshelf.core.snapshot.references import (
    Reference,
    is_slug,
    item_identity,
    parse_reference,
)
from tallshelf.core.snapshot.release import (
    LaunchRecord,
    Package,
    parse_launch,
    parse_launches,
    release_digest,
)
from tallshelf.core.snapshot.strict_json import parse_json
from tallshelf.core.snapshot.versions import (
    SCHEMES,
    Scheme,
    is_of_scheme,
    is_version,
    names_version,
    need_version,
    parse_version,
    same_precedence,
    sort_key,
)

__all__ = [
    "DEFAULT_LIMITS",
    "FORMAT",
    "LISTS",
    "NAME_FIELDS",
    "SCHEMES",
    "TOKEN_METHOD",
    "Item",
    "ItemKind",
    "ItemOutline",
    "LaunchRecord",
    "Limits",
    "Line",
    "Outline",
    "Package",
    "Reference",
    "Scheme",
    "Snapshot",
    "canonical",
    "digest",
    "digest_of",
    "is_of_scheme",
    "is_slug",
    "is_version",
    "item_identity",
    "item_tokens",
    "json_equal",
    "names_version",
    "need_version",
    "outline",
    "outline_item",
    "parse_json",
    "parse_launch",
    "parse_launches",
    "parse_reference",
    "parse_snapshot",
    "parse_version",
    "release_digest",
    "same_precedence",
    "snapshot_from",
    "sort_key",
    "type_words",
]
