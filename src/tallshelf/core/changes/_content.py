"""What content is: MIME types of resources, encodings of texts, and ``nullable``, which no JSON Schema knows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.changes._make import make
from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Item, json_equal

ENCODINGS = ("contentEncoding", "contentMediaType")


def mime_changes(old: Item, new: Item) -> Iterator[Change]:
    """Yield the change of an item's MIME type, by what it does to a receiver that reads by it."""
    was, now = old.body.get("mimeType"), new.body.get("mimeType")
    if was == now:
        return
    kind = _mime_kind(was, now)
    where = {
        "old_pointer": None if was is None else "/mimeType",
        "new_pointer": None if now is None else "/mimeType",
    }
    if was and now:
        said = f"was {was} and is now {now}"
    else:
        said = f"is now said to be {now}" if now else f"was {was} and is not said any more"
    yield make(kind, old.identity, f"the MIME type {said}", **where)


def _mime_kind(was: Any, now: Any) -> str:
    """Another type is read otherwise; text stays text, and a suffix says by what it is still read (RFC 6838)."""
    if was is None:
        return "mime-type-added"
    if now is None:
        return "mime-type-changed"
    before, after = (str(one).partition(";")[0].strip().lower() for one in (was, now))
    if before == after or _is_read_as(after, before):
        return "mime-type-changed"
    return "mime-type-replaced"


def _is_read_as(new: str, old: str) -> bool:
    """Whether who reads the old type can read the new one, if less well."""
    if old == "text/plain" and new.startswith("text/"):
        return True
    return (new == "text/plain" and old.startswith("text/")) or new.endswith("+" + old.partition("/")[2])


def encoding_change(item: str, subject: str, keyword: str, was: Any, now: Any, **fields: Any) -> Change:
    """Return the change of how a text is encoded: nothing validates it, and it is read otherwise."""
    message = f"{subject}the {keyword} was {was or 'none'} and is now {now or 'none'}"
    return make("encoding-changed", item, message, **fields)


def nullable_change(
    item: str, subject: str, was: Mapping[str, Any], now: Mapping[str, Any], *, result: bool, **fields: Any
) -> Change | None:
    """Return the change of ``nullable``, by what servers that act on it do; None where it says the same."""
    before, after = was.get("nullable") is True, now.get("nullable") is True
    if before == after:
        return None if json_equal(was.get("nullable"), now.get("nullable")) else _told(item, subject, fields)
    word = "may now" if after else "may no longer"
    message = f"{subject}it {word} be null, by a keyword that JSON Schema does not know"
    if after is result:  # a result that may be null, or an argument that may not
        return make("nullable-changed", item, message, **fields)
    return make("metadata-changed", item, message, **fields)


def _told(item: str, subject: str, fields: Mapping[str, Any]) -> Change:
    return make("metadata-changed", item, f"{subject}the keyword nullable changed", **fields)
