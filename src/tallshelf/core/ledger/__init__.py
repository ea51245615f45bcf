"""The ledger's chain, checkpoints of it, and proofs of publications: all verified from values alone."""

from tallshelf.core.ledger.chain import (
    GENESIS,
    HASHED,
    MEMBERS,
    Link,
    Verification,
    content_digest,
    entry_hash,
    entry_mac,
    sealed_hash,
    verify_chain,
)
from tallshelf.core.ledger.checkpoint import (
    Checkpoint,
    key_id,
    new_key,
    public_key,
    read_checkpoint,
    read_signed,
    sign,
    sign_checkpoint,
)
from tallshelf.core.ledger.export import EXPORT_FORMAT, Export, read_export

__all__ = [
    "EXPORT_FORMAT",
    "GENESIS",
    "HASHED",
    "MEMBERS",
    "Checkpoint",
    "Export",
    "Link",
    "Verification",
    "content_digest",
    "entry_hash",
    "entry_mac",
    "key_id",
    "new_key",
    "public_key",
    "read_checkpoint",
    "read_export",
    "read_signed",
    "sealed_hash",
    "sign",
    "sign_checkpoint",
    "verify_chain",
]
