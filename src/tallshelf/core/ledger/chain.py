"""The hash chain: every entry names the hash of the one before it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from tallshelf.core.snapshot import digest

if TYPE_CHECKING:
    from tallshelf.core.ledger.checkpoint import Checkpoint

GENESIS = "sha256:" + "0" * 64
"""What the first entry names as the hash before it."""
HASHED = ("number", "at", "event", "actor", "via", "subject", "body", "previous")
"""The members of an entry that its hash covers; ``body`` as canonical JSON text."""


@dataclass(frozen=True)
class Verification:
    """Whether a chain holds: how many entries do, the hash of the last of them, and what is wrong after."""

    entries: int
    head: str
    fault: str = ""


def entry_hash(entry: Mapping[str, Any]) -> str:
    """Return the hash of an entry: SHA-256 over the canonical JSON (RFC 8785) of what it covers."""
    return digest({name: entry[name] for name in HASHED})


def verify_chain(entries: Iterable[Mapping[str, Any]], checkpoint: Checkpoint | None = None) -> Verification:
    """Recompute every hash, in order; any edit, gap or reorder inside the chain is found.

    Against a checkpoint that was kept elsewhere, a cut tail and a rewritten chain are found too.
    """
    previous, expected = GENESIS, 1
    for entry in entries:
        fault = _fault(entry, previous, expected)
        if not fault and checkpoint and checkpoint.number == expected and checkpoint.hash != entry["hash"]:
            fault = f"entry {expected} is not the one that the checkpoint of {checkpoint.at} names"
        if fault:
            return Verification(expected - 1, previous, fault)
        previous, expected = entry["hash"], expected + 1
    if checkpoint and checkpoint.number >= expected:
        there = expected - 1
        fault = f"the tail is cut: the checkpoint of {checkpoint.at} knows {checkpoint.number} entries, not {there}"
        return Verification(there, previous, fault)
    return Verification(expected - 1, previous)


def _fault(entry: Mapping[str, Any], previous: str, expected: int) -> str:
    if entry["number"] != expected:
        return f"entry {expected} is missing"
    if entry["previous"] != previous:
        return f"entry {expected} does not follow the one before it"
    return f"entry {expected} was edited" if entry_hash(entry) != entry["hash"] else ""
