"""What waits for one person: to sign, publish, answer, mend, decide or do; the most pressing first."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, time
from typing import Any
from urllib.parse import quote

from tallshelf.core.routing import LIVE_STATES
from tallshelf.service import clock
from tallshelf.service.catalog.models import StoredKnown, StoredRuling, StoredStyle, StoredWaiver, Suspension
from tallshelf.service.kits.models import StoredRaise
from tallshelf.service.kits.shown import raises
from tallshelf.service.ledger.judging import refusal_to_waive
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.review import queries
from tallshelf.service.review.models import BLOCKING, Comment, FollowUp, Nudge, Request, StoredRuleSet
from tallshelf.service.review.progress import Standing, desks_to_sign, standings


def inbox(actor: Actor) -> list[dict[str, Any]]:
    """Return what waits for an actor: what has risen to them, what is overdue, then by due time and age."""
    require(actor, "see")
    now = clock.now()
    found = [
        *_requests(actor, now),
        *_questions(actor),
        *_follow_ups(actor, now),
        *_waivers(actor),
        *_proposals(actor),
        *_kits(actor),
        *_suspensions(actor),
    ]
    return sorted(found, key=lambda one: (not one["risen"], not one["overdue"], one["due_at"] or one["at"]))


def _entry(
    kind: str, words: str, page: str, at: datetime, *, due: datetime | None = None, **more: bool
) -> dict[str, Any]:
    return {
        "kind": kind,
        "words": words,
        "page": page,
        "at": at,
        "due_at": due,
        "overdue": more.get("overdue", False),
        "risen": more.get("risen", False),
    }


def _requests(actor: Actor, now: datetime) -> Iterator[dict[str, Any]]:
    rows = list(queries.near(actor))
    risen = set(Nudge.objects.filter(request__in=rows, stage="risen").values_list("request", "desk", "round"))
    for request, where in zip(rows, standings(rows).values(), strict=True):
        page, what = f"/requests/{request.pk}", f"Request {request.pk}: {request.title}"
        up = request.state == "open" and any(
            (request.pk, desk.desk, desk.since) in risen and desk.lead == actor.username
            for desk in where.asked
        )
        if up or desks_to_sign(actor, request, where):
            due = min(desk.due_at for desk in where.asked)
            kind = "risen" if up else "sign"
            yield _entry(kind, what, page, _since(where), due=due, overdue=due < now, risen=up)
        elif queries.may_publish(actor, request):
            yield _entry("publish", f"{what} is agreed", page, request.opened_at)
        elif request.state == "sent-back" and _is_asker(actor, request):
            yield _entry("sent-back", f"{what} was sent back", page, request.opened_at)


def _kits(actor: Actor) -> Iterator[dict[str, Any]]:
    """Kits that would see higher data, for curators who did not propose it."""
    if refusal(actor, "curate") is None:
        rows = StoredRaise.objects.filter(state="proposed").exclude(by_id=actor.id).select_related("by")
        for proposal in filter(raises, rows.order_by("pk")):
            words = (
                f"the kit {proposal.name} is to see {proposal.data_class} data, {proposal.by.name} proposes"
            )
            yield _entry("kit", words, "/kits", proposal.at)


def _since(where: Standing) -> datetime:
    return max(desk.since for desk in where.asked)


def _is_asker(actor: Actor, request: Request) -> bool:
    return actor.id == request.opened_by_id or (
        request.kind != "use" and request.server.team.slug in actor.teams and actor.role == "submitter"
    )


def _questions(actor: Actor) -> Iterator[dict[str, Any]]:
    rows = Comment.objects.filter(kind__in=BLOCKING, settled_at=None, request__state__in=LIVE_STATES)
    rows = rows.exclude(person_id=actor.id).select_related("person", "request__server__team")
    for comment in rows.order_by("at"):
        if _is_asker(actor, comment.request):
            verb = "objects" if comment.kind == "objection" else "asks"
            words = f"{comment.person.name} {verb}: {comment.text[:120]}"
            yield _entry("question", words, f"/requests/{comment.request_id}", comment.at)


def _follow_ups(actor: Actor, now: datetime) -> Iterator[dict[str, Any]]:
    rows = FollowUp.objects.filter(owner_id=actor.id, closed_at=None, sign_off__voided_at=None)
    for follow_up in rows.select_related("sign_off"):
        due = datetime.combine(follow_up.due, time.max, UTC)
        page = f"/requests/{follow_up.sign_off.request_id}"
        yield _entry(
            "follow-up", follow_up.text[:160], page, follow_up.sign_off.at, due=due, overdue=due < now
        )


def _waivers(actor: Actor) -> Iterator[dict[str, Any]]:
    rows = StoredWaiver.objects.filter(state="asked").select_related("server__team", "asked_by")
    for waiver in rows:
        if refusal_to_waive(actor, waiver.pk) is None:
            words = f"{waiver.asked_by.name} asks to waive {waiver.rule} in {waiver.server.slug}"
            yield _entry("waiver", words, f"/waivers?state=asked&words={waiver.rule}", waiver.asked_at)


def _proposals(actor: Actor) -> Iterator[dict[str, Any]]:
    """Yield the loosenings that wait for a second curator's consent."""
    if refusal(actor, "curate") is not None:
        return
    for style in StoredStyle.objects.filter(state="proposed").exclude(by_id=actor.id):
        yield _entry("style", f"House style, version {style.version}: {style.note[:120]}", "/style", style.at)
    for rules in StoredRuleSet.objects.filter(state="proposed").exclude(by=actor.username):
        words = f"Routing rules, version {rules.version}: {rules.note[:120]}"
        yield _entry("routing", words, "/routing", rules.at)
    for known in (
        StoredKnown.objects.filter(state="proposed").exclude(by_id=actor.id).select_related("server")
    ):
        words = f"{known.server.slug}: accept {len(known.fingerprints)} findings; {known.reason[:120]}"
        yield _entry("known", words, "/waivers", known.at)
    for ruling in (
        StoredRuling.objects.filter(state="proposed")
        .exclude(by_id=actor.id)
        .select_related("release__server", "base__server")
    ):
        words = f"Ruling {ruling.pk}, {ruling.word}: {' and '.join(ruling.members[:2])}"
        yield _entry("ruling", words, _where(ruling), ruling.at)


def _where(ruling: StoredRuling) -> str:
    """Return the page on which a proposed ruling is answered."""
    if ruling.release is not None and ruling.base is not None:
        old, new = (quote(str(release)) for release in (ruling.base, ruling.release))
        return f"/compare?old={old}&new={new}"
    return f"/overlaps?words={quote(ruling.members[0].replace('#', ' '))}"


def _suspensions(actor: Actor) -> Iterator[dict[str, Any]]:
    """Yield what stands suspended of the actor's own teams, so that its owners know."""
    if actor.role != "submitter":
        return
    rows = Suspension.objects.filter(lifted_at=None, server__team__slug__in=actor.teams)
    for suspension in rows.select_related("server").order_by("at"):
        what = f"{suspension.item} of {suspension.server.slug}" if suspension.item else suspension.server.slug
        yield _entry(
            "suspended",
            f"{what} is suspended: {suspension.reason[:120]}",
            f"/servers/{suspension.server.slug}",
            suspension.at,
        )
