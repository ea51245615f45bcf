"""Taking in what a company runs already: recorded as it is, published without review, and marked so."""

from __future__ import annotations

from dataclasses import dataclass, field

from django.db import transaction

from tallshelf.core.errors import Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.core.snapshot import LaunchRecord, Snapshot, outline, release_digest
from tallshelf.core.style import Finding, lint
from tallshelf.service import clock
from tallshelf.service.catalog import linting, shelf, storage
from tallshelf.service.catalog.actions.known import keep_known
from tallshelf.service.catalog.actions.releases import set_current
from tallshelf.service.catalog.actions.servers import enrol_server
from tallshelf.service.catalog.models import Release
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


@dataclass(frozen=True)
class Adoption:
    """One running server as it is today, and who owns it."""

    slug: str
    title: str
    team: str
    contact: str
    version: str
    snapshot: Snapshot
    launches: tuple[LaunchRecord, ...] = ()
    source_link: str = ""
    data_class: str = "internal"
    tags: tuple[str, ...] = field(default=())
    scheme: str = "semver"
    use: str = ""


@transaction.atomic
def adopt(actor: Actor, adoption: Adoption) -> tuple[Release, tuple[Finding, ...]]:
    """Enrol a server and publish its present snapshot unreviewed; its findings count as known from now on.

    But for those of the safety family: the shelf shows them, and the next check fails on them. Returns the
    release and the findings. The same again changes nothing; a server that has other
    releases already is a `Conflict`, since those go through review.
    """
    require(actor, "administer")
    owner, _ = enrol_server(
        actor,
        adoption.slug,
        title=adoption.title,
        team=adoption.team,
        contact=adoption.contact,
        source_link=adoption.source_link,
        data_class=adoption.data_class,
        tags=adoption.tags,
        scheme=adoption.scheme,
        use=adoption.use,
    )
    digest = release_digest(adoption.slug, adoption.version, adoption.snapshot.digest, adoption.launches)
    findings = lint(
        adoption.snapshot,
        style=linting.style_in_force(),
        version=adoption.version,
        launches=tuple(adoption.launches),
        data_class=adoption.data_class,
        server=adoption.slug,
    )
    there = owner.releases.first()
    if there is not None:
        if there.digest == digest:
            return there, findings
        raise Conflict(
            f"{adoption.slug} has releases already, the first of them {there.version}",
            remedy="Take it out of the owners file; its next release is submitted like any other.",
        )
    now = clock.now()
    made = Release.objects.create(
        server=owner,
        version=adoption.version,
        snapshot=storage.store(adoption.snapshot),
        captured=dict(adoption.snapshot.captured),
        launch=[record.document() for record in adoption.launches],
        digest=digest,
        state="published",
        origin=shelf.ADOPTED,
        item_count=len(adoption.snapshot.items),
        tool_count=len(adoption.snapshot.tools),
        tokens=outline(adoption.snapshot).tokens,
        submitted_by_id=actor.id,
        submitted_at=now,
        published_at=now,
    )
    known = {finding.fingerprint for finding in findings if finding.family != "safety"}
    keep_known(owner, known)
    record(
        actor,
        Event.RELEASE_ADOPTED,
        {
            "server": adoption.slug,
            "version": adoption.version,
            "release_digest": digest,
            "snapshot_digest": adoption.snapshot.digest,
            "fingerprints": sorted(known),
        },
    )
    set_current(owner)
    return made, findings
