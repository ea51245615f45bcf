"""Checkpoints of the ledger, signed with the service's key file."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from typing import Any

from django.conf import settings

from tallshelf.core.ledger import (
    EXPORT_FORMAT,
    GENESIS,
    Checkpoint,
    new_key,
    public_key,
    sign,
    sign_checkpoint,
)
from tallshelf.core.snapshot import canonical
from tallshelf.service import clock
from tallshelf.service.ledger import queries
from tallshelf.service.ledger.models import Entry

KEY_FILE = "checkpoint.key"


def ensure_key() -> str:
    """Return the private key, readable by its owner only; made when it is not there yet."""
    path = settings.CONFIG.data / KEY_FILE
    try:
        return str(path.read_text("ascii"))
    except FileNotFoundError:
        pass
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:  # another worker was quicker
        return str(path.read_text("ascii"))
    with os.fdopen(handle, "w", encoding="ascii") as out:
        out.write(new_key())
    return str(path.read_text("ascii"))


def public() -> str:
    """Return the public key by which checkpoints and proofs are verified, as PEM."""
    return public_key(ensure_key())


def checkpoint() -> str:
    """Return where the chain stands now, signed."""
    return sign_checkpoint(ensure_key(), _head())


def sign_statement(claims: dict[str, Any]) -> str:
    """Sign claims together with where the chain stands now."""
    head = _head()
    return sign(ensure_key(), {**claims, "number": head.number, "hash": head.hash, "at": head.at})


def _head() -> Checkpoint:
    last = Entry.objects.order_by("-number").first()
    now = clock.now().isoformat(timespec="seconds").replace("+00:00", "Z")
    return Checkpoint(last.number if last else 0, last.hash if last else GENESIS, now)


def export() -> Iterator[bytes]:
    """Yield the whole ledger as JSON Lines, as `core.ledger.read_export` reads it."""
    yield canonical({"format": EXPORT_FORMAT, "key": public()}) + b"\n"
    number, last = 0, GENESIS
    for row in queries.all_entries():
        yield canonical({**row, "body": json.loads(row["body"])}) + b"\n"
        number, last = row["number"], row["hash"]
    now = clock.now().isoformat(timespec="seconds").replace("+00:00", "Z")
    signed = sign_checkpoint(ensure_key(), Checkpoint(number, last, now))
    yield canonical({"checkpoint": signed}) + b"\n"
