"""The proof of a publication: release, bytes, sign-offs and ledger entries, signed with where the chain stands."""

from __future__ import annotations

import json
from typing import Any

from tallshelf.core.entitlement import PROOF_FORMAT, matters, sealed
from tallshelf.core.errors import NotFound
from tallshelf.core.ledger import MEMBERS, content_digest
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.ledger import checkpoints
from tallshelf.service.ledger.queries import about_release, all_entries
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal

_PUBLIC = ("published", "deprecated", "withdrawn")


def proof(actor: Actor, wanted: str) -> dict[str, Any]:
    """Return the proof of the release of a release or snapshot digest, the newest that was published.

    For who may read the ledger it carries the whole chain, so that it shows who was entitled to what; for others
    ``chain`` is null. What it shows, and what it does not, is in ``docs/security.md``. Raises `NotFound` when
    nothing that the actor may see was published with these bytes.
    """
    releases = [one for one in catalog.by_digest(actor, wanted) if one.state in _PUBLIC]
    if not releases:
        raise NotFound("nothing was published with these bytes", remedy="Give a release or snapshot digest.")
    release = max(releases, key=lambda one: one.published_at.timestamp() if one.published_at else 0.0)
    request = release.requests.filter(kind="publish", state="done").first()
    entries = about_release(release.server.slug, release.version, request.pk if request else None)
    about = {
        "server": release.server.slug,
        "version": release.version,
        "state": release.state,
        "digest": release.digest,
        "snapshot_digest": release.snapshot_id,
        "launch": release.launch,
        **({"breaking": True} if release.breaking else {}),
    }
    head = checkpoints.head()  # before what it is to lead to is read, which may grow meanwhile
    chain = None if refusal(actor, "see-ledger") else _chain(release.server.slug, head.number)
    claims = {
        "format": PROOF_FORMAT,
        "release_digest": release.digest,
        "state": release.state,
        "entries": {str(entry["number"]): entry["hash"] for entry in entries},
    }
    return {
        "format": PROOF_FORMAT,
        "release": about,
        "snapshot": catalog.whole_snapshot_of(release).document(),
        "entries": entries,
        "chain": chain,
        "key": checkpoints.public(),
        "signed": checkpoints.sign_statement(claims, head),
    }


def _chain(server: str, upto: int) -> list[Any]:
    """Return every entry up to one: what can matter to a server as it is, the others by what they are about alone."""
    return [
        {**{name: row[name] for name in MEMBERS}, "body": json.loads(row["body"])}
        if matters(row, server)
        else sealed(row, content_digest(row))
        for row in all_entries(upto)
    ]
