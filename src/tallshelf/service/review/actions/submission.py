"""Submitting a release: read, assess outside the write lock, then store everything together."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction

from tallshelf.core.assess import Assessment
from tallshelf.core.errors import BadArgument, Conflict, VersionTaken
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import LIVE_STATES, next_release_state, next_request_state
from tallshelf.core.snapshot import (
    LaunchRecord,
    Snapshot,
    need_version,
    outline,
    parse_launches,
    release_digest,
    same_precedence,
    snapshot_from,
)
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review.actions._shared import (
    assessed,
    desks_of,
    inputs_moved,
    keep_assessment,
    release_desks_of,
    rule_set_in_force,
    void_sign_offs,
)
from tallshelf.service.review.actions.execution import settle_or_execute
from tallshelf.service.review.assessing import assess_release
from tallshelf.service.review.models import Request

LONGEST_VERSION = 64
_TRIES = 3


@dataclass(frozen=True)
class Submission:
    """What is handed in: a snapshot as a version, how it is run, and whether a calendar version is to break."""

    snapshot: Snapshot
    version: str
    launches: tuple[LaunchRecord, ...]
    origin: str
    note: str = ""
    launch_given: bool = True
    breaking: bool = False

    def digest(self, slug: str) -> str:
        return release_digest(slug, self.version, self.snapshot.digest, self.launches, breaking=self.breaking)


def read_submission(
    actor: Actor,
    document: Any,
    version: str | None,
    launches: Iterable[Any] | None,
    note: str = "",
    *,
    breaking: bool = False,
) -> Submission:
    """Read what was handed in; raise `BadDocument` or `BadArgument` before anything is stored."""
    snapshot = snapshot_from(document)
    chosen = version or snapshot.declared_version
    if chosen is None:
        raise BadArgument(
            "no version is given, and the server declares none", remedy="Name one, such as 1.0.0."
        )
    if len(chosen) > LONGEST_VERSION:
        raise BadArgument(
            f"the version has {len(chosen)} characters", remedy=f"At most {LONGEST_VERSION} are read."
        )
    need_version(chosen)
    origin = "captured by CI" if actor.role == "ci" else "handed in by a person"
    records = parse_launches(launches or ())
    return Submission(snapshot, chosen, records, origin, note, launches is not None, breaking)


def check(actor: Actor, slug: str, submission: Submission, *, base: str | None = None) -> Assessment:
    """Assess without storing anything, against the base by precedence or the one named."""
    require(actor, "check")
    server = catalog.server(slug)
    _need_scheme(server, submission)
    if base is not None:
        base = catalog.release(actor, slug, base).version
    launches = submission.launches if submission.launch_given else None
    return assess_release(
        server,
        submission.version,
        submission.snapshot,
        launches,
        submission.origin,
        base=base,
        breaking=submission.breaking,
    )


def submit(
    actor: Actor, slug: str, submission: Submission, *, request: int | None = None
) -> tuple[Request, bool]:
    """Ask to publish a release; return the request and whether it was made or changed.

    The same version and release digest again answers with the request there is. Another digest
    for a version under review replaces its snapshot, and voids its sign-offs, only when the
    request is named; else `VersionTaken`.
    """
    server = catalog.server(slug)
    require(actor, "submit", server.team.slug)
    _need_scheme(server, submission)
    digest = submission.digest(slug)
    existing = _existing(server, submission.version, digest, request)
    if existing is not None:
        return existing, False
    for _ in range(_TRIES):
        assessment = assess_release(
            server,
            submission.version,
            submission.snapshot,
            submission.launches,
            submission.origin,
            breaking=submission.breaking,
        )
        try:
            with transaction.atomic():
                if inputs_moved(server, submission.version, assessment):
                    continue
                return _store(actor, server, submission, digest, assessment, request), True
        except IntegrityError:
            existing = _existing(server, submission.version, digest, request)
            if existing is not None:
                return existing, False
    raise Conflict("the catalog kept changing while the release was assessed", remedy="Submit it again.")


def _need_scheme(server: Server, submission: Submission) -> None:
    """Raise `BadArgument` when a version is not written as the server's scheme writes them."""
    need_version(submission.version, server.scheme)
    if submission.breaking and server.scheme == "semver":
        raise BadArgument(
            f"{server.slug} is numbered by SemVer, whose major version says what breaks",
            remedy="Leave breaking out, or ask for the calendar scheme.",
        )


def _existing(server: Server, version: str, digest: str, number: int | None) -> Request | None:
    """Return the request that asks for exactly this already; raise when the version is taken."""
    release = server.releases.filter(version=version).first()
    if release is None:
        _keep_apart(server, version)
        if number is not None:
            raise Conflict(f"request {number} is not about version {version}")
        return None
    live = release.requests.filter(kind="publish", state__in=LIVE_STATES).first()
    if release.digest == digest and live is not None and live.state != "sent-back":
        return live
    if release.state == "in-review" and live is not None:
        if number == live.pk:
            return None
        same = release.digest == digest
        raise VersionTaken(
            f"{release} {'was sent back' if same else 'is under review already, with other contents'}",
            remedy=f"Name request {live.pk} to replace its snapshot, or choose a higher version.",
        )
    if release.state == "draft" and number is None:
        return None
    if release.state == "draft":
        raise Conflict(f"request {number} is closed", remedy="Submit it without naming a request.")
    done = release.requests.filter(kind="publish").order_by("-pk").first()
    if release.digest == digest and done is not None:
        return done
    raise VersionTaken(
        f"{release} exists already and is {release.state}",
        remedy="A version is never used again; choose a higher one.",
    )


def _keep_apart(server: Server, version: str) -> None:
    """Raise `VersionTaken` for a version that differs from a published one by build metadata only."""
    there = server.releases.exclude(state__in=("draft", "in-review", "declined"))
    for other in there.values_list("version", flat=True):
        if same_precedence(version, other):
            raise VersionTaken(
                f"{server.slug}@{other} is there, and {version} has the same precedence",
                remedy="Build metadata (after the +) and leading zeros tell no versions apart; choose a higher one.",
            )


def _store(
    actor: Actor,
    server: Server,
    submission: Submission,
    digest: str,
    assessment: Assessment,
    number: int | None,
) -> Request:
    now = clock.now()
    stored = storage.store(submission.snapshot)
    kept = keep_assessment(assessment)
    release = _release(actor, server, submission, digest, stored.pk, assessment)
    live = release.requests.filter(kind="publish", state__in=LIVE_STATES).first()
    route, rules = kept.document["route"], rule_set_in_force()
    if live is None:
        request = Request.objects.create(
            server=server,
            release=release,
            desks=desks_of(route),
            state="open",
            release_digest=digest,
            assessment=kept,
            rule_set=rules,
            route=route,
            note=submission.note,
            opened_by_id=actor.id,
            opened_at=now,
            asked_at=now,
        )
        event = Event.RELEASE_SUBMITTED
        extra: dict[str, Any] = {"origin": submission.origin, "opened_at": now.isoformat()}
    else:
        if live.pk != number:
            raise VersionTaken(f"{release} is under review already", remedy=f"Name request {live.pk}.")
        request = live
        voided = void_sign_offs(request)
        request.state = next_request_state(request.state, "resubmit")  # type: ignore[arg-type]
        request.release_digest, request.assessment, request.route = digest, kept, route
        request.rule_set, request.desks, request.asked_at, request.moved = rules, desks_of(route), now, []
        request.save()
        event, extra = Event.SNAPSHOT_REPLACED, {"voided": voided}
    record(
        actor,
        event,
        {
            "server": server.slug,
            "version": release.version,
            "release_digest": digest,
            "snapshot_digest": stored.pk,
            "request": request.pk,
            **assessed(kept, assessment, rules),
            **extra,
        },
    )
    settle_or_execute(actor, request)
    request.refresh_from_db(fields=["changed_at"])  # which the ledger's trigger has written
    return request


def _release(
    actor: Actor, server: Server, submission: Submission, digest: str, snapshot: str, assessment: Assessment
) -> Release:
    fields: dict[str, Any] = {
        "snapshot_id": snapshot,
        "captured": dict(submission.snapshot.captured),
        "launch": [launch.document() for launch in submission.launches],
        "breaking": submission.breaking,
        "digest": digest,
        "origin": submission.origin,
        "desks": release_desks_of(assessment.route.document()) if assessment.route else [],
        "item_count": len(submission.snapshot.items),
        "tool_count": len(submission.snapshot.tools),
        "tokens": outline(submission.snapshot).tokens,
        "submitted_by_id": actor.id,
        "submitted_at": clock.now(),
    }
    release = server.releases.filter(version=submission.version).first()
    if release is None:
        return Release.objects.create(server=server, version=submission.version, state="in-review", **fields)
    state = release.state if release.state == "in-review" else next_release_state(release.state, "submit")  # type: ignore[arg-type]
    for name, value in {**fields, "state": state}.items():
        setattr(release, name, value)
    release.save()
    return release
