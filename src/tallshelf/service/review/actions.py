"""Acts on requests: submit, sign off, publish, take back; and the routing rules.

Assessments are computed outside the write lock. One short transaction then checks that what
they were computed from has not moved, and stores everything together.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from tallshelf.core.assess import Assessment
from tallshelf.core.changes import base_for
from tallshelf.core.errors import BadArgument, Conflict, Denied, InputsMoved, VersionTaken
from tallshelf.core.reports import assessment_document
from tallshelf.core.routing import next_release_state, next_request_state, rule_document, rule_set_from
from tallshelf.core.snapshot import (
    LaunchRecord,
    Snapshot,
    outline,
    parse_launches,
    parse_version,
    release_digest,
    snapshot_from,
)
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.actions import set_current
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import DeskSeat
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.assessing import (
    assess_release,
    capture_again,
    moved_inputs,
    rules_in_force,
)
from tallshelf.service.review.models import LIVE_STATES, Request, SignOff, StoredAssessment, StoredRuleSet

_ANSWERS = ("agree", "send-back", "decline")
_TRIES = 3


@dataclass(frozen=True)
class Submission:
    """What is handed in: a snapshot as a version, and how it is run."""

    snapshot: Snapshot
    version: str
    launches: tuple[LaunchRecord, ...]
    origin: str
    note: str = ""

    def digest(self, slug: str) -> str:
        return release_digest(slug, self.version, self.snapshot.digest, self.launches)


def read_submission(
    actor: Actor, document: Any, version: str | None, launches: Iterable[Any], note: str = ""
) -> Submission:
    """Read what was handed in; raise `BadDocument` or `BadArgument` before anything is stored."""
    snapshot = snapshot_from(document)
    chosen = version or snapshot.declared_version
    if chosen is None:
        raise BadArgument(
            "no version is given, and the server declares none", remedy="Name one, such as 1.0.0."
        )
    parse_version(chosen)
    origin = "captured by CI" if actor.role == "ci" else "handed in by a person"
    return Submission(snapshot, chosen, parse_launches(launches), origin, note)


def check(actor: Actor, slug: str, submission: Submission, *, base: str | None = None) -> Assessment:
    """Assess without storing anything, against the base by precedence or the one named."""
    require(actor, "check")
    owner = catalog.server(slug)
    if base is not None:
        base = catalog.release(actor, slug, base).version
    return assess_release(
        owner, submission.version, submission.snapshot, submission.launches, submission.origin, base=base
    )


def submit(
    actor: Actor, slug: str, submission: Submission, *, request: int | None = None
) -> tuple[Request, bool]:
    """Ask to publish a release; return the request and whether it was made or changed.

    The same version and release digest again answers with the request there is. Another digest
    for a version under review replaces its snapshot, and voids its sign-offs, only when the
    request is named; else `VersionTaken`.
    """
    owner = catalog.server(slug)
    require(actor, "submit", owner.team.slug)
    digest = submission.digest(slug)
    existing = _existing(owner, submission.version, digest, request)
    if existing is not None:
        return existing, False
    for _ in range(_TRIES):
        assessment = assess_release(
            owner, submission.version, submission.snapshot, submission.launches, submission.origin
        )
        try:
            with transaction.atomic():
                if _inputs_moved(owner, submission.version, assessment):
                    continue
                return _store(actor, owner, submission, digest, assessment, request), True
        except IntegrityError:
            existing = _existing(owner, submission.version, digest, request)
            if existing is not None:
                return existing, False
    raise Conflict("the catalog kept changing while the release was assessed", remedy="Submit it again.")


def _existing(owner: Server, version: str, digest: str, number: int | None) -> Request | None:
    """Return the request that asks for exactly this already; raise when the version is taken."""
    release = owner.releases.filter(version=version).first()
    if release is None:
        if number is not None:
            raise Conflict(f"request {number} is not about version {version}")
        return None
    live = release.requests.filter(state__in=LIVE_STATES).first()
    if release.digest == digest and live is not None and live.state != "sent-back":
        return live
    if release.state == "in-review" and live is not None:
        if number == live.pk:
            return None
        raise VersionTaken(
            f"{release} is under review already, with other contents",
            remedy=f"Name request {live.pk} to replace its snapshot, or choose a higher version.",
        )
    if release.state == "draft":
        return None
    done = release.requests.order_by("-pk").first()
    if release.digest == digest and done is not None:
        return done
    raise VersionTaken(
        f"{release} exists already and is {release.state}",
        remedy="A version is never used again; choose a higher one.",
    )


def _inputs_moved(owner: Server, version: str, assessment: Assessment) -> bool:
    """Whether the base or the rules moved since; the write lock is held here."""
    base = base_for(version, catalog.published_versions(owner))
    same_base = assessment.base == (f"{owner.slug}@{base}" if base else "first")
    return not same_base or assessment.inputs["rules"] != rules_in_force().digest


def _store(
    actor: Actor,
    owner: Server,
    submission: Submission,
    digest: str,
    assessment: Assessment,
    number: int | None,
) -> Request:
    now = timezone.now()
    stored = storage.store(submission.snapshot)
    kept = _keep(assessment)
    release = _release(actor, owner, submission, digest, stored.pk, assessment)
    live = release.requests.filter(state__in=LIVE_STATES).first()
    route = kept.document["route"]
    if live is None:
        found = Request.objects.create(
            release=release,
            state="open",
            release_digest=digest,
            assessment=kept,
            rule_set=_rule_set(),
            route=route,
            note=submission.note,
            submitters=[actor.username],
            opened_by_id=actor.id,
            opened_at=now,
        )
        event = Event.RELEASE_SUBMITTED
        extra: dict[str, Any] = {"origin": submission.origin}
    else:
        if live.pk != number:
            raise VersionTaken(f"{release} is under review already", remedy=f"Name request {live.pk}.")
        found = live
        voided = _void(found)
        found.state = next_request_state(found.state, "resubmit")  # type: ignore[arg-type]
        found.release_digest, found.assessment, found.route = digest, kept, route
        found.rule_set = _rule_set()
        found.submitters = sorted({*found.submitters, actor.username})
        found.save()
        event, extra = Event.SNAPSHOT_REPLACED, {"voided": voided}
    record(
        actor,
        event,
        {
            "server": owner.slug,
            "version": release.version,
            "release_digest": digest,
            "snapshot_digest": stored.pk,
            "assessment_digest": assessment.digest,
            "request": found.pk,
            **extra,
        },
    )
    if not found.route["steps"]:
        found.state = "agreed"
        found.save(update_fields=["state"])
    return found


def _release(
    actor: Actor, owner: Server, submission: Submission, digest: str, snapshot: str, assessment: Assessment
) -> Release:
    fields: dict[str, Any] = {
        "snapshot_id": snapshot,
        "captured": dict(submission.snapshot.captured),
        "launch": [one.document() for one in submission.launches],
        "digest": digest,
        "origin": submission.origin,
        "desks": sorted({seat.desk for step in assessment.route.steps for seat in step.seats})
        if assessment.route
        else [],
        "item_count": len(submission.snapshot.items),
        "tool_count": len(submission.snapshot.tools),
        "tokens": outline(submission.snapshot).tokens,
        "submitted_by_id": actor.id,
        "submitted_at": timezone.now(),
    }
    found = owner.releases.filter(version=submission.version).first()
    if found is None:
        return Release.objects.create(server=owner, version=submission.version, state="in-review", **fields)
    state = found.state if found.state == "in-review" else next_release_state(found.state, "submit")  # type: ignore[arg-type]
    for name, value in {**fields, "state": state}.items():
        setattr(found, name, value)
    found.save()
    return found


def _keep(assessment: Assessment) -> StoredAssessment:
    found, _ = StoredAssessment.objects.get_or_create(
        digest=assessment.digest,
        defaults={"document": assessment_document(assessment), "at": timezone.now()},
    )
    return found


def _rule_set() -> StoredRuleSet:
    """Return the rule set in force as a stored one; the default ones are stored on first use."""
    found = StoredRuleSet.objects.order_by("-version").first()
    if found is None:
        rules = rules_in_force()
        found = StoredRuleSet.objects.create(
            version=rules.version,
            rules=[rule_document(rule) for rule in rules.rules],
            digest=rules.digest,
            at=timezone.now(),
            by="default",
        )
    return found


def _void(found: Request) -> int:
    return found.sign_offs.filter(voided_at=None).update(voided_at=timezone.now())


@transaction.atomic
def sign_off(
    actor: Actor, number: int, answer: str, *, release_digest: str, note: str = "", desk: str = ""
) -> Request:
    """Answer a request at one desk: ``agree``, ``send-back`` or ``decline``.

    ``release_digest`` is what the reviewer looked at; when the request has moved on to another,
    `InputsMoved`. The same answer again changes nothing.
    """
    found = queries.request(actor, number)
    require(actor, "sign-off")
    if answer not in _ANSWERS:
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are agree, send-back and decline.")
    if answer != "agree" and not note.strip():
        raise BadArgument("say why", remedy="The submitter needs a reason to act on.")
    if release_digest != found.release_digest:
        raise InputsMoved(
            f"request {number} is about other bytes by now ({found.release_digest[7:15]})",
            remedy="Look at it again; a new snapshot was submitted.",
        )
    own = found.sign_offs.filter(person_id=actor.id, voided_at=None).first()
    if own is not None and own.answer == answer and desk in ("", own.desk):
        return found
    next_request_state(found.state, answer)  # type: ignore[arg-type]
    if own is not None:
        raise Conflict(
            f"you have answered request {number} already, at {own.desk}", remedy="One person counts once."
        )
    chosen = _desk_for(actor, found, desk)
    SignOff.objects.create(
        request=found,
        desk=chosen,
        person_id=actor.id,
        answer=answer,
        note=note.strip(),
        release_digest=found.release_digest,
        assessment_digest=found.assessment_id,
        rule_set=found.rule_set_id,
        at=timezone.now(),
    )
    record(
        actor,
        Event.SIGNED_OFF,
        {
            "server": found.release.server.slug,
            "request": found.pk,
            "desk": chosen,
            "answer": answer,
            "release_digest": found.release_digest,
            "assessment_digest": found.assessment_id,
            "rule_set": found.rule_set_id,
            "note": note.strip(),
        },
    )
    _after_answer(actor, found, answer)
    return queries.request(actor, number)


def _desk_for(actor: Actor, found: Request, desk: str) -> str:
    """Return the desk to sign at; raise `Denied` with the reason when there is none."""
    if actor.username in found.submitters:
        raise Denied(
            "nobody signs off what they submitted", remedy="The desks that are asked will look at it."
        )
    where = queries.standing(found)
    asked = {one.desk: one for one in where.asked}
    if desk and desk not in asked:
        raise Denied(f"the desk {desk!r} is not asked now", remedy=f"Asked now: {', '.join(asked)}.")
    for name in [desk] if desk else asked:
        if actor.username in asked[name].eligible:
            return name
    seats = DeskSeat.objects.filter(person_id=actor.id, desk__slug__in=asked).select_related("desk", "person")
    reasons = [reason for seat in seats if (reason := queries.bar(found, seat))]
    raise Denied(
        reasons[0] if reasons else f"you sit at no desk that is asked now ({', '.join(asked) or 'none'})",
        remedy="Ask someone who sits there and has no part in it.",
    )


def _after_answer(actor: Actor, found: Request, answer: str) -> None:
    if answer == "agree" and not queries.standing(found).complete:
        return
    _move(found, answer)
    if answer == "decline":
        _close(found)
        _move_release(found.release, "decline")
        record(actor, Event.RELEASE_DECLINED, _about(found))


def _move(found: Request, act: str) -> None:
    """Change a request's state, if nobody else just did."""
    state = next_request_state(found.state, act)  # type: ignore[arg-type]
    if not Request.objects.filter(pk=found.pk, state=found.state).update(state=state):
        raise Conflict(f"request {found.pk} has just been changed by someone else", remedy="Look again.")
    found.state = state


def _move_release(release: Release, act: str, **fields: Any) -> None:
    state = next_release_state(release.state, act)  # type: ignore[arg-type]
    if not Release.objects.filter(pk=release.pk, state=release.state).update(state=state, **fields):
        raise Conflict(f"{release} has just been changed by someone else", remedy="Look again.")
    release.state = state


def _close(found: Request) -> None:
    Request.objects.filter(pk=found.pk).update(closed_at=timezone.now())


def _about(found: Request) -> dict[str, Any]:
    return {
        "server": found.release.server.slug,
        "version": found.release.version,
        "release_digest": found.release_digest,
        "request": found.pk,
    }


@transaction.atomic
def take_back(actor: Actor, number: int) -> Request:
    """Take a request back; its release becomes a draft."""
    found = queries.request(actor, number)
    require(actor, "take-back", found.release.server.team.slug)
    if found.state == "taken-back":
        return found
    _move(found, "take-back")
    _void(found)
    _close(found)
    _move_release(found.release, "take-back")
    record(actor, Event.REQUEST_TAKEN_BACK, _about(found))
    return queries.request(actor, number)


def publish(actor: Actor, number: int) -> Request:
    """Publish what was agreed to, if it is still what was signed.

    What the sign-offs rest on is looked at again, HTTP servers are captured once more. When
    something moved, the request is assessed and opened again: `InputsMoved` says what it was.
    Published already answers with the request.
    """
    found = queries.request(actor, number)
    release, owner = found.release, found.release.server
    require(actor, "publish", owner.team.slug)
    if found.state == "done":
        return found
    next_request_state(found.state, "publish")  # type: ignore[arg-type]
    snapshot, launches = catalog.snapshot_of(release), parse_launches(release.launch)
    now = assess_release(owner, release.version, snapshot, launches, release.origin)
    moved = moved_inputs(found.assessment.document["inputs"], now.inputs)
    if moved:
        _reopen(actor, found, now, moved)
        raise InputsMoved(
            f"{', '.join(moved)} moved since request {number} was agreed to; it has been assessed again",
            remedy="The reviewers must look once more.",
        )
    capture_again(launches, release.snapshot_id)
    with transaction.atomic():
        if _inputs_moved(owner, release.version, now):
            raise InputsMoved("the base or the rules moved at this moment", remedy="Publish again.")
        found.refresh_from_db(fields=["state"])
        if found.state == "done":
            return queries.request(actor, number)
        _move(found, "publish")
        _close(found)
        _move_release(release, "publish", published_at=timezone.now())
        set_current(owner)
        record(
            actor,
            Event.RELEASE_PUBLISHED,
            {
                **_about(found),
                "snapshot_digest": release.snapshot_id,
                "assessment_digest": found.assessment_id,
            },
        )
    return queries.request(actor, number)


@transaction.atomic
def _reopen(actor: Actor, found: Request, assessment: Assessment, moved: list[str]) -> None:
    """Store a new assessment and route, void the sign-offs, and ask again."""
    _move(found, "reassess")
    voided = _void(found)
    kept = _keep(assessment)
    Request.objects.filter(pk=found.pk).update(
        assessment=kept, route=kept.document["route"], rule_set=_rule_set()
    )
    desks = sorted({seat["desk"] for step in kept.document["route"]["steps"] for seat in step["desks"]})
    Release.objects.filter(pk=found.release_id).update(desks=desks)
    record(
        actor,
        Event.REASSESSED,
        {
            "server": found.release.server.slug,
            "request": found.pk,
            "assessment_digest": assessment.digest,
            "because": moved,
            "voided": voided,
        },
    )


@transaction.atomic
def set_rules(actor: Actor, documents: Iterable[Mapping[str, Any]]) -> StoredRuleSet:
    """Put a new version of the routing rules in force; open requests keep theirs until published.

    It takes a steward: a change by one curator alone could loosen what the others rely on.
    """
    require(actor, "administer")
    rules = rule_set_from(documents)
    last = StoredRuleSet.objects.order_by("-version").first()
    if last is not None and last.digest == rules.digest:
        return last
    made = StoredRuleSet.objects.create(
        version=last.version + 1 if last else 1,
        rules=[rule_document(rule) for rule in rules.rules],
        digest=rules.digest,
        at=timezone.now(),
        by=actor.username,
    )
    record(actor, Event.RULES_CHANGED, {"version": made.version, "digest": made.digest})
    return made
