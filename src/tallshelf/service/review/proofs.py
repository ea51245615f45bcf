"""The proof of a publication: release, bytes, sign-offs and ledger entries, signed with where the chain stands."""

from __future__ import annotations

from typing import Any

from tallshelf.core.errors import NotFound
from tallshelf.core.ledger import PROOF_FORMAT
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.ledger import checkpoints
from tallshelf.service.ledger.queries import about_release
from tallshelf.service.people.actor import Actor

_PUBLIC = ("published", "deprecated", "withdrawn")


def proof(actor: Actor, wanted: str) -> dict[str, Any]:
    """Return the proof of the release of a release or snapshot digest, the newest that was published.

    What it shows, and what it does not, is in ``docs/security.md``. Raises `NotFound` when nothing that
    the actor may see was published with these bytes.
    """
    found = [one for one in catalog.by_digest(actor, wanted) if one.state in _PUBLIC]
    if not found:
        raise NotFound("nothing was published with these bytes", remedy="Give a release or snapshot digest.")
    release = max(found, key=lambda one: one.published_at.timestamp() if one.published_at else 0.0)
    request = release.requests.filter(kind="publish", state="done").first()
    entries = about_release(release.server.slug, release.version, request.pk if request else None)
    about = {
        "server": release.server.slug,
        "version": release.version,
        "state": release.state,
        "digest": release.digest,
        "snapshot_digest": release.snapshot_id,
        "launch": release.launch,
    }
    claims = {
        "format": PROOF_FORMAT,
        "release_digest": release.digest,
        "state": release.state,
        "entries": {str(one["number"]): one["hash"] for one in entries},
    }
    return {
        "format": PROOF_FORMAT,
        "release": about,
        "snapshot": catalog.whole_snapshot_of(release).document(),
        "entries": entries,
        "key": checkpoints.public(),
        "signed": checkpoints.sign_statement(claims),
    }
