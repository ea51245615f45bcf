"""The ledger's key files, in the data directory, readable by their owner only.

``checkpoint.key`` signs checkpoints and proofs (Ed25519); ``ledger.key`` is that of the entries' MACs.
"""

from __future__ import annotations

import os
import secrets
from collections.abc import Callable
from pathlib import Path

from django.conf import settings

from tallshelf.core.errors import LedgerBroken
from tallshelf.core.ledger import new_key
from tallshelf.service.ledger.models import Entry

SIGNING_FILE, MAC_FILE = "checkpoint.key", "ledger.key"


def signing_key() -> str:
    """Return the private key of checkpoints and proofs, as PEM; made when it is not there yet."""
    return _kept(SIGNING_FILE, new_key)


def mac_key() -> bytes:
    """Return the key of the entries' MACs; made when it is not there yet and no entry needs it.

    Raises `LedgerBroken` when entries were written under a key that is gone.
    """
    path = _path(MAC_FILE)
    if not path.exists() and Entry.objects.exclude(mac=None).exists():
        raise LedgerBroken(
            f"{path} is gone, by which the ledger's entries are known to be this service's",
            remedy="Put it back from where your keys are kept.",
        )
    return bytes.fromhex(_kept(MAC_FILE, lambda: secrets.token_hex(32)).strip())


def has_mac_key() -> bool:
    """Whether the key of the MACs was made already."""
    return _path(MAC_FILE).exists()


def _path(name: str) -> Path:
    return Path(settings.CONFIG.data) / name


def _kept(name: str, make: Callable[[], str]) -> str:
    path = _path(name)
    try:
        return path.read_text("ascii")
    except FileNotFoundError:
        pass
    path.parent.mkdir(parents=True, exist_ok=True)
    # Written whole under another name first: who reads it meanwhile finds no half of a key.
    part = path.with_name(f"{name}.{secrets.token_hex(4)}.part")
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "w", encoding="ascii") as out:
        out.write(make())
    try:
        os.link(part, path)
    except FileExistsError:  # another worker was quicker
        pass
    finally:
        part.unlink()
    return path.read_text("ascii")
