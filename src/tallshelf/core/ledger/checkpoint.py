"""Checkpoints: where the chain stood, signed (Ed25519, RFC 8032, as compact JWS, RFC 7515)."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import jwt
from cryptography.exceptions import UnsupportedAlgorithm
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey
from msgspec import Struct

from tallshelf.core.errors import BadArgument, BadDocument
from tallshelf.core.snapshot import canonical, digest

FORMAT = "tallshelf.checkpoint/1"
_JWS = jwt.PyJWS(algorithms=["EdDSA"])


class Checkpoint(Struct, frozen=True):
    """How many entries the chain had at a moment (UTC, ISO 8601), and the hash of the last."""

    number: int
    hash: str
    at: str


def new_key() -> str:
    """Return a new private key, as PEM (PKCS#8)."""
    return (
        Ed25519PrivateKey.generate()
        .private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        )
        .decode("ascii")
    )


def public_key(private: str) -> str:
    """Return the public half of a private key, as PEM."""
    return (
        _private(private)
        .public_key()
        .public_bytes(serialization.Encoding.PEM, serialization.PublicFormat.SubjectPublicKeyInfo)
        .decode("ascii")
    )


def key_id(public: str) -> str:
    """Return a short name for a public key, for people to compare: the start of its digest."""
    raw = _public(public).public_bytes(serialization.Encoding.Raw, serialization.PublicFormat.Raw)
    return digest(raw.hex())[7:23]


def sign(private: str, claims: Mapping[str, Any]) -> str:
    """Return a JSON object as signed text."""
    headers = {"kid": key_id(public_key(private)), "typ": "JOSE"}
    return _JWS.encode(canonical(dict(claims)), _private(private), "EdDSA", headers=headers)


def read_signed(signed: str, public: str) -> dict[str, Any]:
    """Return what was signed; raise `BadDocument` when the signature is not that of the key."""
    try:
        found = json.loads(_JWS.decode(signed, _public(public), ["EdDSA"]))
    except (jwt.InvalidTokenError, ValueError) as fault:
        raise BadDocument(f"the signature does not hold: {fault}") from None
    if not isinstance(found, dict):
        raise BadDocument("what was signed is no JSON object")
    return found


def sign_checkpoint(private: str, checkpoint: Checkpoint) -> str:
    """Return a checkpoint as signed text."""
    claims = {"format": FORMAT, "number": checkpoint.number, "hash": checkpoint.hash, "at": checkpoint.at}
    return sign(private, claims)


def read_checkpoint(signed: str, public: str) -> Checkpoint:
    """Return a signed checkpoint; raise `BadDocument` when it is none, or not signed by the key."""
    found = read_signed(signed.strip(), public)
    if found.get("format") != FORMAT or not isinstance(found.get("number"), int):
        raise BadDocument("this is no checkpoint of a ledger")
    return Checkpoint(found["number"], str(found.get("hash")), str(found.get("at")))


def _private(pem: str) -> Ed25519PrivateKey:
    try:
        d_h_private_key = serialization.load_pem_private_key(pem.encode("ascii"), None)
    except (ValueError, UnsupportedAlgorithm) as fault:
        raise BadArgument(f"this is no private key: {fault}") from None
    if not isinstance(d_h_private_key, Ed25519PrivateKey):
        raise BadArgument("the key is not an Ed25519 key")
    return d_h_private_key


def _public(pem: str) -> Ed25519PublicKey:
    try:
        d_h_public_key = serialization.load_pem_public_key(pem.encode("ascii", "replace"))
    except (ValueError, UnsupportedAlgorithm) as fault:
        raise BadArgument(f"this is no public key: {fault}") from None
    if not isinstance(d_h_public_key, Ed25519PublicKey):
        raise BadArgument("the key is not an Ed25519 key")
    return d_h_public_key
