"""What several acts on requests share, always inside their transactions."""

from __future__ import annotations

from typing import Any

from tallshelf.core.assess import Assessment
from tallshelf.core.entitlement import assessed_document
from tallshelf.core.errors import Conflict
from tallshelf.core.ledger.events import Event
from tallshelf.core.reports import assessment_document
from tallshelf.core.routing import next_release_state, next_request_state, rule_document, team_desk, team_of
from tallshelf.service import clock
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actions import SETUP
from tallshelf.service.review.assessing import moved_since, rules_in_force, stored_rules_in_force
from tallshelf.service.review.models import Request, StoredAssessment, StoredRuleSet


def inputs_moved(server: Server, version: str, assessment: Assessment) -> bool:
    """Whether what an assessment rests on moved since it was worked out; the write lock is held here."""
    return bool(moved_since(server, version, assessment))


def assessed(kept: StoredAssessment, assessment: Assessment, rules: StoredRuleSet) -> dict[str, Any]:
    """Return what an entry says of the assessment that a request rests on."""
    return {"assessment_digest": kept.digest, "assessed": assessed_document(assessment, rules.version)}


def keep_assessment(assessment: Assessment) -> StoredAssessment:
    """Keep an assessment, but for the kits that it hits: these move on, and are told as they are when one looks."""
    document = {name: value for name, value in assessment_document(assessment).items() if name != "kits"}
    found, _ = StoredAssessment.objects.get_or_create(
        digest=assessment.digest, defaults={"document": document, "at": clock.now()}
    )
    return found


def rule_set_in_force() -> StoredRuleSet:
    """Return the rule set in force as a stored one; the default ones are stored on first use."""
    rule_set = stored_rules_in_force()
    if rule_set is None:
        rules = rules_in_force()
        documents = [rule_document(rule) for rule in rules.rules]
        rule_set = StoredRuleSet.objects.create(
            version=rules.version,
            rules=documents,
            digest=rules.digest,
            at=clock.now(),
            by="default",
            in_force_at=clock.now(),
        )
        told = {"version": rule_set.version, "digest": rule_set.digest}
        more = {"replaces": 0, "note": "", "loosened": [], "rules": documents}
        record(SETUP, Event.RULES_PROPOSED, {**told, **more})
        record(SETUP, Event.RULES_CHANGED, told)
    return rule_set


def void_sign_offs(request: Request) -> int:
    return request.sign_offs.filter(voided_at=None).update(voided_at=clock.now())


def move_request(request: Request, act: str) -> None:
    """Change a request's state, if nobody else just did."""
    state = next_request_state(request.state, act)  # type: ignore[arg-type]
    if not Request.objects.filter(pk=request.pk, state=request.state).update(state=state):
        raise Conflict(f"request {request.pk} has just been changed by someone else", remedy="Look again.")
    request.state = state


def move_release(release: Release, act: str, **fields: Any) -> None:
    state = next_release_state(release.state, act)  # type: ignore[arg-type]
    if not Release.objects.filter(pk=release.pk, state=release.state).update(state=state, **fields):
        raise Conflict(f"{release} has just been changed by someone else", remedy="Look again.")
    release.state = state


def close_request(request: Request) -> None:
    Request.objects.filter(pk=request.pk).update(closed_at=clock.now(), taken_by=None, taken_at=None)


def desks_of(route: dict[str, Any]) -> list[str]:
    """Return the desks that a route asks, and those of the teams that it tells."""
    told = {team_desk(one["team"]) for one in route.get("tells", ())}
    return sorted({seat["desk"] for step in route["steps"] for seat in step["desks"]} | told)


def release_desks_of(route: dict[str, Any]) -> list[str]:
    """Return the desks whose members see the whole release: teams that it hits see what reaches their kits alone."""
    return [one for one in desks_of(route) if not team_of(one)]


def about(request: Request) -> dict[str, Any]:
    return {
        "server": request.server.slug,
        "version": request.version,
        "release_digest": request.release_digest,
        "request": request.pk,
    }
