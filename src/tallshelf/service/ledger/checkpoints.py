"""Checkpoints of the ledger, signed with the service's key file."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from tallshelf.core.ledger import (
    EXPORT_FORMAT,
    GENESIS,
    MEMBERS,
    Checkpoint,
    public_key,
    sign,
    sign_checkpoint,
)
from tallshelf.core.snapshot import canonical
from tallshelf.service import clock
from tallshelf.service.ledger import keys, queries
from tallshelf.service.ledger.models import Entry


def public() -> str:
    """Return the public key by which checkpoints and proofs are verified, as PEM."""
    return public_key(keys.signing_key())


def checkpoint() -> str:
    """Return where the chain stands now, signed."""
    return sign_checkpoint(keys.signing_key(), head())


def sign_statement(claims: dict[str, Any], head: Checkpoint) -> str:
    """Sign claims together with where the chain stood."""
    return sign(keys.signing_key(), {**claims, "number": head.number, "hash": head.hash, "at": head.at})


def head() -> Checkpoint:
    """Return where the chain stands now."""
    last = Entry.objects.order_by("-number").first()
    now = clock.now().isoformat(timespec="seconds").replace("+00:00", "Z")
    return Checkpoint(last.number if last else 0, last.hash if last else GENESIS, now)


def export() -> Iterator[bytes]:
    """Yield the whole ledger as JSON Lines, as `core.ledger.read_export` reads it."""
    yield canonical({"format": EXPORT_FORMAT, "key": public()}) + b"\n"
    number, last = 0, GENESIS
    for row in queries.all_entries():
        told = {name: row[name] for name in MEMBERS}
        yield canonical({**told, "body": json.loads(row["body"])}) + b"\n"
        number, last = row["number"], row["hash"]
    now = clock.now().isoformat(timespec="seconds").replace("+00:00", "Z")
    signed = sign_checkpoint(keys.signing_key(), Checkpoint(number, last, now))
    yield canonical({"checkpoint": signed}) + b"\n"
