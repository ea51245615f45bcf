"""Known findings: today's are accepted for a server, so that only new ones count; they only ever shrink."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import Conflict
from tallshelf.service.catalog import linting, queries
from tallshelf.service.catalog.models import KnownFinding, Release, Server
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


@transaction.atomic
def accept_known(actor: Actor, slug: str, reason: str) -> int:
    """Accept all findings of a server's current release as known; return how many there are.

    Safety findings are not taken: those are mended, or waived one by one.
    """
    require(actor, "curate")
    reason, owner = need_reason(reason), queries.server(slug)
    if owner.current is None:
        raise Conflict(f"{slug} has no current release", remedy="Known findings are those of what is in use.")
    found = linting.findings_of(owner.current)
    today = {one.fingerprint for one in found if one.family != "safety" and one.waived is None}
    if today == linting.known_findings(owner):
        return len(today)
    keep_known(owner, today)
    record(
        actor,
        Event.KNOWN_ACCEPTED,
        {
            "server": slug,
            "release_digest": owner.current.digest,
            "fingerprints": sorted(today),
            "reason": reason,
        },
    )
    return len(today)


def keep_known(owner: Server, fingerprints: set[str]) -> None:
    """Make exactly these findings the known ones of a server."""
    owner.known_findings.exclude(fingerprint__in=fingerprints).delete()
    KnownFinding.objects.bulk_create(
        (KnownFinding(server=owner, fingerprint=one) for one in sorted(fingerprints)), ignore_conflicts=True
    )


def shrink_known(actor: Actor, current: Release) -> None:
    """Forget the known findings that a newly published release has no more, in its transaction."""
    owner = current.server
    known = linting.known_findings(owner)
    if not known:
        return
    left = known & {one.fingerprint for one in linting.findings_of(current)}
    if left != known:
        keep_known(owner, set(left))
        record(
            actor,
            Event.KNOWN_SHRUNK,
            {"server": owner.slug, "gone": sorted(known - left), "left": len(left)},
        )
