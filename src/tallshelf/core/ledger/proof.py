"""A proof of a publication: one document that says what was approved, by whom, and which bytes they are."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tallshelf.core.errors import BadDocument
from tallshelf.core.ledger.chain import HASHED, entry_hash
from tallshelf.core.ledger.checkpoint import key_id, read_signed
from tallshelf.core.snapshot import canonical, parse_launches, release_digest, snapshot_from

PROOF_FORMAT = "tallshelf.proof/1"


@dataclass(frozen=True)
class Proved:
    """What a proof was found to show; ``faults`` say what does not hold."""

    release: str
    state: str
    published_at: str
    agreed: tuple[tuple[str, str, str], ...]
    head: int
    at: str
    key: str
    own_key: bool
    faults: tuple[str, ...]


def verify_proof(document: Mapping[str, Any], *, key: str | None = None) -> Proved:
    """Verify a proof by its own words and a public key, without the service.

    The snapshot's bytes give the snapshot digest; with server, version and launch records they give the
    release digest; the ledger's entries about it hold, and name these digests; the sign-offs that it was
    published by are among them; and the service signed that these entries stand in the chain up to a head.
    ``key`` is a public key kept elsewhere, in place of the document's. Raises `BadDocument` when it is no
    proof, or not signed.
    """
    if document.get("format") != PROOF_FORMAT:
        raise BadDocument("this is no proof of a publication")
    try:
        return _verify(document, key)
    except (KeyError, TypeError, AttributeError) as fault:
        raise BadDocument(f"the proof lacks something: {fault}") from None


def _verify(document: Mapping[str, Any], key: str | None) -> Proved:
    used = key or str(document["key"])
    signed = read_signed(str(document["signed"]), used)
    release = document["release"]
    entries = [{**one, "body": canonical(one["body"]).decode("utf-8")} for one in document["entries"]]
    published = next(
        (one for one in document["entries"] if one["event"] in ("release-published", "release-adopted")), None
    )
    agreed = [
        one
        for one in document["entries"]
        if one["event"] == "signed-off"
        and one["body"]["answer"] == "agree"
        and one["body"]["release_digest"] == release["digest"]
        and published is not None
        and one["body"]["assessment_digest"] == published["body"].get("assessment_digest")
    ]
    faults = [
        *_bytes(document, release),
        *_chain(entries, signed),
        *_words(release, published, signed),
    ]
    return Proved(
        release=f"{release['server']}@{release['version']}",
        state=str(release["state"]),
        published_at=str(published["at"]) if published else "",
        agreed=tuple((one["actor"], one["body"]["desk"], one["at"]) for one in agreed),
        head=int(signed["number"]),
        at=str(signed["at"]),
        key=key_id(used),
        own_key=key is None,
        faults=tuple(faults),
    )


def _bytes(document: Mapping[str, Any], release: Mapping[str, Any]) -> Iterator[str]:
    snapshot = snapshot_from(document["snapshot"])
    if snapshot.digest != release["snapshot_digest"]:
        yield "the bytes are not those of the snapshot digest"
    launches = parse_launches(release["launch"])
    whole = release_digest(release["server"], release["version"], snapshot.digest, launches)
    if whole != release["digest"]:
        yield "server, version, bytes and launch records do not give the release digest"


def _chain(entries: list[dict[str, Any]], signed: Mapping[str, Any]) -> Iterator[str]:
    for one in entries:
        if not {*HASHED, "hash"} <= one.keys() or entry_hash(one) != one["hash"]:
            yield f"entry {one['number']} was edited"
    hashes = {str(one["number"]): one["hash"] for one in entries}
    if hashes != signed["entries"]:
        yield "the signature is over other entries"


def _words(
    release: Mapping[str, Any], published: Mapping[str, Any] | None, signed: Mapping[str, Any]
) -> Iterator[str]:
    if signed["release_digest"] != release["digest"] or signed["state"] != release["state"]:
        yield "the signature is over another release, or another state of it"
    if published is None:
        yield "no entry says that it was published"
        return
    about = published["body"]
    if (about["server"], about["version"], about["release_digest"], about["snapshot_digest"]) != (
        release["server"],
        release["version"],
        release["digest"],
        release["snapshot_digest"],
    ):
        yield "it was published as something else"
