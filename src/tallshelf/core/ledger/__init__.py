"""The ledger's chain, checkpoints of it, and proofs of publications: all verified from values alone."""

from tallshelf.core.ledger.chain import GENESIS, HASHED, Verification, entry_hash, verify_chain
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
from tallshelf.core.ledger.proof import PROOF_FORMAT, Proved, verify_proof

__all__ = [
    "EXPORT_FORMAT",
    "GENESIS",
    "HASHED",
    "PROOF_FORMAT",
    "Checkpoint",
    "Export",
    "Proved",
    "Verification",
    "entry_hash",
    "key_id",
    "new_key",
    "public_key",
    "read_checkpoint",
    "read_export",
    "read_signed",
    "sign",
    "sign_checkpoint",
    "verify_chain",
    "verify_proof",
]
