"""An exported ledger: JSON Lines, which are verified without the service."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from msgspec import Struct

from tallshelf.core.errors import BadDocument
from tallshelf.core.ledger.chain import HASHED, Verification, verify_chain
from tallshelf.core.ledger.checkpoint import Checkpoint, key_id, read_checkpoint
from tallshelf.core.snapshot import canonical, parse_json

EXPORT_FORMAT = "tallshelf.ledger-export/1"


class Export(Struct, frozen=True):
    """What an export was found to be: whether its chain holds, its checkpoint, and by which key."""

    found: Verification
    checkpoint: Checkpoint
    key: str
    own_key: bool


def read_export(lines: Iterable[bytes], *, key: str | None = None, kept: Checkpoint | None = None) -> Export:
    """Verify an export: a head with format and public key, one line for each entry, a signed checkpoint.

    ``key`` is a public key kept elsewhere, in place of the one in the file; ``kept`` a checkpoint kept
    elsewhere. Raises `BadDocument` when it is no export or its checkpoint is not signed by the key.
    """
    rows = _objects(lines)
    head = next(rows, {})
    if head.get("format") != EXPORT_FORMAT:
        raise BadDocument("this is no exported ledger", remedy="Make one by tallshelf ledger export.")
    tail: list[dict[str, Any]] = []
    verification = verify_chain(_entries(rows, tail), kept)
    tail += [row for row in rows if "checkpoint" in row]
    if not tail:
        raise BadDocument("the export breaks off: its checkpoint is missing")
    used = key or str(head.get("key"))
    checkpoint = read_checkpoint(str(tail[-1]["checkpoint"]), used)
    if not verification.fault and (checkpoint.number, checkpoint.hash) != (
        verification.entries,
        verification.head,
    ):
        verification = Verification(
            verification.entries, verification.head, "its checkpoint is of another chain"
        )
    return Export(verification, checkpoint, key_id(used), key is None)


def _objects(lines: Iterable[bytes]) -> Iterator[dict[str, Any]]:
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        row = parse_json(line)
        if not isinstance(row, dict):
            raise BadDocument(f"line {number} is no JSON object")
        yield row


def _entries(rows: Iterator[dict[str, Any]], tail: list[dict[str, Any]]) -> Iterator[dict[str, Any]]:
    for row in rows:
        if "checkpoint" in row:
            tail.append(row)
            return
        if not {*HASHED, "hash"} <= row.keys():
            raise BadDocument("a line is no entry of a ledger")
        yield {**row, "body": canonical(row["body"]).decode("utf-8")}
