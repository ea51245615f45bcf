"""The hash chain: every entry names the hash of the one before it, and from a point on carries a MAC.

Two forms of entry stand in a chain. The older one hashes all its members at once. The newer one, which has
``subjects``, hashes its number, event, subjects and the digest of its content (moment, actor, by what, body), so
that a proof can show that an entry is there, and what it is about, without its content.
"""

from __future__ import annotations

import hmac
from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from tallshelf.core.snapshot import digest_of
from tallshelf.core.snapshot.canonical import canonical_plain

if TYPE_CHECKING:
    from tallshelf.core.ledger.checkpoint import Checkpoint

GENESIS = "sha256:" + "0" * 64
"""What the first entry names as the hash before it."""
HASHED = ("number", "at", "event", "actor", "via", "subject", "body", "previous")
"""The members of an older entry that its hash covers; ``body`` as canonical JSON text."""
MEMBERS = (*HASHED, "subjects", "hash")
"""All members of an entry but its MAC; ``subjects`` is None in an older one."""
_CONTENT = ("at", "actor", "via", "body")


class Verification(Struct, frozen=True):
    """Whether a chain holds: how many entries do, the hash of the last of them, and what is wrong after.

    ``keyed`` is the number of the first entry that carries a MAC, 0 where none does.
    """

    entries: int
    head: str
    fault: str = ""
    keyed: int = 0


def content_digest(entry: Mapping[str, Any]) -> str:
    """Return the digest of what an entry says: moment, actor, by what, and body (canonical JSON text)."""
    return digest_of(canonical_plain({name: entry[name] for name in _CONTENT}))


def entry_hash(entry: Mapping[str, Any]) -> str:
    """Return the hash of an entry: SHA-256 over the canonical JSON (RFC 8785) of what it covers."""
    if entry.get("subjects") is None:
        return digest_of(canonical_plain({name: entry[name] for name in HASHED}))
    return sealed_hash(
        entry["number"], entry["event"], entry["subjects"], content_digest(entry), entry["previous"]
    )


def sealed_hash(number: int, event: str, subjects: list[str], content: str, previous: str) -> str:
    """Return the hash of a newer entry from the digest of its content."""
    return digest_of(
        canonical_plain(
            {
                "number": number,
                "event": event,
                "subjects": subjects,
                "content": content,
                "previous": previous,
            }
        )
    )


def entry_mac(key: bytes, hash_: str) -> str:
    """Return the MAC of an entry: HMAC-SHA-256 (RFC 2104) of its hash, in hexadecimal."""
    return hmac.digest(key, hash_.encode("ascii"), "sha256").hex()


class Link:
    """Where a chain stands while its entries are verified one after the other.

    ``key`` is the key of the MACs, None for who does not hold it. ``entries`` and ``head`` are of the last
    entry that holds.
    """

    def __init__(
        self, entries: int = 0, head: str = GENESIS, *, key: bytes | None = None, keyed: int = 0
    ) -> None:
        self.entries, self.head, self.keyed, self._key = entries, head, keyed, key

    def fault(self, entry: Mapping[str, Any]) -> str:
        """Return what is wrong with the next entry, or take it in and return nothing."""
        expected = self.entries + 1
        if entry["number"] != expected:
            return f"entry {expected} is missing"
        if entry["previous"] != self.head:
            return f"entry {expected} does not follow the one before it"
        if entry_hash(entry) != entry["hash"]:
            return f"entry {expected} was edited"
        wrong = self._unkeyed(entry, expected)
        if wrong:
            return wrong
        self.entries, self.head = expected, entry["hash"]
        return ""

    def _unkeyed(self, entry: Mapping[str, Any], expected: int) -> str:
        if entry.get("subjects") is None:
            return f"entry {expected} is of the older form, after the chain was keyed" if self.keyed else ""
        self.keyed = self.keyed or expected
        if self._key is None:
            return ""
        right = hmac.compare_digest(str(entry.get("mac") or ""), entry_mac(self._key, entry["hash"]))
        return "" if right else f"entry {expected} was not written by this service: its MAC is wrong"


def verify_chain(
    entries: Iterable[Mapping[str, Any]], checkpoint: Checkpoint | None = None, *, key: bytes | None = None
) -> Verification:
    """Recompute every hash, in order; any edit, gap or reorder inside the chain is found.

    With the ``key`` of the MACs an entry that somebody else appended is found, too. Against a checkpoint that
    was kept elsewhere, a cut tail and a rewritten chain are.
    """
    link = Link(key=key)
    for entry in entries:
        fault = link.fault(entry)
        if not fault and checkpoint and checkpoint.number == link.entries and checkpoint.hash != link.head:
            fault = f"entry {link.entries} is not the one that the checkpoint of {checkpoint.at} names"
            return Verification(link.entries - 1, entry["previous"], fault, link.keyed)
        if fault:
            return Verification(link.entries, link.head, fault, link.keyed)
    if checkpoint and checkpoint.number > link.entries:
        known = checkpoint.number
        fault = (
            f"the tail is cut: the checkpoint of {checkpoint.at} knows {known} entries, not {link.entries}"
        )
        return Verification(link.entries, link.head, fault, link.keyed)
    return Verification(link.entries, link.head, "", link.keyed)
