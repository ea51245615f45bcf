"""Known findings: today's are accepted for a server, so that only new ones count; they only ever shrink.

One curator proposes it, another one answers. Safety findings are never taken: those are mended, or waived one by one.
"""

from __future__ import annotations

from django.db import IntegrityError, transaction

from tallshelf.core.errors import Conflict, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.service import clock
from tallshelf.service.catalog import linting, queries
from tallshelf.service.catalog.models import KnownFinding, Release, Server, StoredKnown
from tallshelf.service.consent import answered_so, need_another, need_reason
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


@transaction.atomic
def propose_known(actor: Actor, slug: str, reason: str) -> StoredKnown | None:
    """Propose to accept all findings of a server's current release as known, but for safety findings.

    The same again answers with what waits; None where exactly these are known already. Raises `Conflict` while
    another proposal waits.
    """
    require(actor, "curate")
    reason, owner = need_reason(reason), queries.server(slug)
    if owner.current is None:
        raise Conflict(f"{slug} has no current release", remedy="Known findings are those of what is in use.")
    findings = linting.findings_of(owner.current)
    today = {
        finding.fingerprint for finding in findings if finding.family != "safety" and finding.waived is None
    }
    if today == linting.known_findings(owner):
        return None
    waiting = owner.known_proposals.filter(state="proposed").first()
    if waiting is not None:
        if waiting.fingerprints == sorted(today):
            return waiting
        raise Conflict(
            f"proposal {waiting.pk} waits already, about other findings", remedy="Have it answered first."
        )
    try:
        made = StoredKnown.objects.create(
            server=owner,
            release_digest=owner.current.digest,
            fingerprints=sorted(today),
            reason=reason,
            state="proposed",
            by_id=actor.id,
            at=clock.now(),
        )
    except IntegrityError:
        raise Conflict("this has just been proposed by someone else", remedy="Look again.") from None
    record(actor, Event.KNOWN_PROPOSED, {**_about(made), "reason": reason})
    return made


@transaction.atomic
def answer_known(actor: Actor, number: int, answer: str, note: str = "") -> StoredKnown:
    """Agree to what another curator proposed, which makes these findings known, or decline it.

    Agreeing has the open requests of the server assessed anew. The same again changes nothing.
    """
    require(actor, "curate")
    known = StoredKnown.objects.filter(pk=number).select_related("server__current", "by").first()
    if known is None:
        raise NotFound(f"there is no proposal {number} about known findings")
    if answered_so(f"proposal {number}", known.state, answer):
        return known
    if answer == "agree":
        need_another("taking findings as known", own=known.by_id == actor.id)
        current = known.server.current
        if current is None or current.digest != known.release_digest:
            raise Conflict(
                f"{known.server.slug} has another current release by now",
                remedy="Decline it; propose it anew.",
            )
    note = note.strip() if answer == "agree" else need_reason(note)
    known.state = "in force" if answer == "agree" else "declined"
    known.answered_by_id, known.answered_at, known.answer_note = actor.id, clock.now(), note
    known.save()
    if answer == "agree":
        record(actor, Event.KNOWN_ACCEPTED, {**_about(known), "note": note})
        keep_known(known.server, set(known.fingerprints))
        invalidate("known", server=known.server.slug)
    else:
        about = {"server": known.server.slug, "proposal": known.pk}
        record(actor, Event.KNOWN_DECLINED, {**about, "note": note})
    return known


def _about(known: StoredKnown) -> dict[str, object]:
    return {
        "server": known.server.slug,
        "proposal": known.pk,
        "release_digest": known.release_digest,
        "fingerprints": known.fingerprints,
    }


def keep_known(server: Server, fingerprints: set[str]) -> None:
    """Make exactly these findings the known ones of a server."""
    server.known_findings.exclude(fingerprint__in=fingerprints).delete()
    KnownFinding.objects.bulk_create(
        (KnownFinding(server=server, fingerprint=fingerprint) for fingerprint in sorted(fingerprints)),
        ignore_conflicts=True,
    )


def shrink_known(actor: Actor, current: Release) -> None:
    """Forget the known findings that a newly published release has no more, in its transaction."""
    server = current.server
    known = linting.known_findings(server)
    if not known:
        return
    left = known & {finding.fingerprint for finding in linting.findings_of(current)}
    if left != known:
        keep_known(server, set(left))
        record(
            actor,
            Event.KNOWN_SHRUNK,
            {"server": server.slug, "gone": sorted(known - left), "left": len(left)},
        )
