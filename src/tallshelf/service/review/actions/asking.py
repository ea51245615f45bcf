"""Asking for what is no publication: ending a release, lifting a suspension, another data class or scheme."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction

from tallshelf.core.assess import Assessment
from tallshelf.core.errors import BadArgument, Conflict, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import (
    ASKED_FOR,
    DATA_CLASSES,
    KINDS,
    LIVE_STATES,
    RELEASE_KINDS,
    next_release_state,
    next_request_state,
)
from tallshelf.core.snapshot import SCHEMES, digest
from tallshelf.service import clock
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.actions import check_ending, check_item_ending, deprecation_of
from tallshelf.service.catalog.models import Release, Server, Suspension
from tallshelf.service.consent import need_reason
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.actions._shared import (
    about,
    assessed,
    desks_of,
    keep_assessment,
    rule_set_in_force,
    void_sign_offs,
)
from tallshelf.service.review.actions.execution import settle_or_execute
from tallshelf.service.review.assessing import assess_act
from tallshelf.service.review.models import Request


@dataclass(frozen=True)
class RequestDraft:
    """What is asked for: the kind of act, what it is on, and what goes with it."""

    kind: str
    server: str
    reason: str
    version: str = ""
    item: str = ""
    sunset_at: datetime | None = None
    replacement: str = ""
    data_class: str = ""
    scheme: str = ""


def ask(actor: Actor, draft: RequestDraft) -> tuple[Request, bool]:
    """Ask for an act that is no publication; return the request and whether it was made or changed.

    The same again answers with the request there is; other terms replace those of a request that was sent
    back, and are a `Conflict` while one is under review. Whoever asks may not sign.
    """
    server = catalog.server(draft.server)
    require(actor, "ask", server.team.slug)
    reason = need_reason(draft.reason)
    if draft.kind not in ASKED_FOR:
        raise BadArgument(
            f"{draft.kind!r} is not asked for like this", remedy=f"Kinds are {', '.join(ASKED_FOR)}."
        )
    release = _release(actor, draft, server)
    suspension = _suspension(draft, server)
    terms = {**_terms(actor, draft, server), "reason": reason}
    wanted = _digest(draft.kind, server, release, suspension, {**terms, **_named(draft)})
    live = _live(draft.kind, server, release, suspension, _item(draft))
    if live is not None and live.release_digest == wanted and live.state != "sent-back":
        return live, False
    if live is not None and live.state != "sent-back":
        raise Conflict(
            f"request {live.pk} asks to {draft.kind} already, on other terms", remedy="Take it back first."
        )
    assessment = assess_act(server, draft.kind, release or server.current, terms, item=_item(draft))
    try:
        with transaction.atomic():
            request = open_request(
                actor, draft.kind, server, release, suspension, terms, wanted, assessment, live, _item(draft)
            )
    except IntegrityError:
        raise Conflict("this has just been asked for by someone else", remedy="Look again.") from None
    return queries.request(actor, request.pk), True


def _item(draft: RequestDraft) -> str:
    return draft.item if KINDS[draft.kind].subject == "item" else ""


def _named(draft: RequestDraft) -> dict[str, str]:
    return {"item": _item(draft)} if _item(draft) else {}


def _release(actor: Actor, draft: RequestDraft, server: Server) -> Release | None:
    if draft.kind not in RELEASE_KINDS:
        return None
    if not draft.version:
        raise BadArgument("name the version", remedy=f"Such as {server.slug}@1.0.0.")
    release = catalog.release(actor, server.slug, draft.version)
    next_release_state(release.state, draft.kind)  # type: ignore[arg-type]
    return release


def _suspension(draft: RequestDraft, server: Server) -> Suspension | None:
    if KINDS[draft.kind].subject != "suspension":
        return None
    suspension = server.suspensions.filter(item=draft.item, lifted_at=None).first()
    if suspension is None:
        what = f"{draft.item} of {server.slug}" if draft.item else server.slug
        raise NotFound(f"no suspension of {what} stands")
    return suspension


def _terms(actor: Actor, draft: RequestDraft, server: Server) -> dict[str, Any]:
    if draft.kind in RELEASE_KINDS:
        check_ending(actor, draft.kind, draft.sunset_at, draft.replacement)
    elif draft.kind == "deprecate-item":
        check_item_ending(actor, server, draft.item, draft.sunset_at, draft.replacement)
    elif draft.sunset_at or draft.replacement:
        raise BadArgument("a last day and a replacement go with deprecating")
    if draft.kind == "keep-item":
        return {"ends": deprecation_of(server, draft.item).words}
    if draft.kind in ("deprecate", "deprecate-item"):
        until = draft.sunset_at.isoformat() if draft.sunset_at else None
        return {"sunset_at": until, "replacement": draft.replacement}
    if draft.kind == "version-scheme":
        return _scheme(draft.scheme, server)
    if draft.kind != "data-class":
        return {}
    if draft.data_class not in DATA_CLASSES:
        raise BadArgument(
            f"there is no data class {draft.data_class!r}", remedy=f"Classes are {', '.join(DATA_CLASSES)}."
        )
    if draft.data_class == server.data_class:
        raise Conflict(f"{server.slug} is {server.data_class} already")
    return {"data_class": draft.data_class, "data_class_before": server.data_class}


def _scheme(scheme: str, server: Server) -> dict[str, Any]:
    if scheme not in SCHEMES:
        raise BadArgument(
            f"there is no version scheme {scheme!r}", remedy=f"Schemes are {', '.join(SCHEMES)}."
        )
    if scheme == server.scheme:
        raise Conflict(f"{server.slug} is numbered by the {scheme} scheme already")
    return {"scheme": scheme, "scheme_before": server.scheme}


def _digest(
    kind: str, server: Server, release: Release | None, suspension: Suspension | None, terms: dict[str, Any]
) -> str:
    return digest(
        {
            "kind": kind,
            "server": server.slug,
            "release": release.digest if release else None,
            "suspended": [suspension.item, suspension.at.isoformat()] if suspension else None,
            "terms": terms,
        }
    )


def _live(
    kind: str, server: Server, release: Release | None, suspension: Suspension | None, item: str
) -> Request | None:
    rows = Request.objects.filter(server=server, state__in=LIVE_STATES)
    if release is not None:
        request = rows.filter(release=release, kind__in=RELEASE_KINDS).first()
        if request is not None and request.kind != kind:
            raise Conflict(f"request {request.pk} asks to {request.kind} {release} already")
        return request
    return rows.filter(kind=kind, suspension=suspension, item=item).first()


def open_request(
    actor: Actor,
    kind: str,
    server: Server,
    release: Release | None,
    suspension: Suspension | None,
    terms: dict[str, Any],
    wanted: str,
    assessment: Assessment,
    live: Request | None,
    item: str = "",
) -> Request:
    """Open a request, or let a live one begin anew on other terms; inside a transaction, asked by who may."""
    kept, rules = keep_assessment(assessment), rule_set_in_force()
    route = kept.document["route"]
    fields: dict[str, Any] = {
        "release": release or server.current,
        "terms": terms,
        "release_digest": wanted,
        "assessment": kept,
        "rule_set": rules,
        "moved": [],
        "route": route,
        "desks": desks_of(route),
        "note": terms["reason"],
        "asked_at": clock.now(),
    }
    extra: dict[str, Any]
    if live is None:
        extra = {"opened_at": clock.now().isoformat()}
        request = Request.objects.create(
            kind=kind,
            server=server,
            suspension=suspension,
            item=item,
            state="open",
            opened_by_id=actor.id,
            opened_at=datetime.fromisoformat(extra["opened_at"]),
            **fields,
        )
    else:
        request = live
        extra = {"voided": void_sign_offs(request)}
        state = next_request_state(request.state, "resubmit")  # type: ignore[arg-type]
        fields |= {"state": state}
        for name, value in fields.items():
            setattr(request, name, value)
        request.save()
    event = Event.REQUEST_CHANGED if live else Event.REQUEST_OPENED
    item = item or (suspension.item if suspension else "")
    asked = {"kind": kind, "item": item, "terms": terms, **assessed(kept, assessment, rules)}
    record(actor, event, {**about(request), **asked, **extra})
    settle_or_execute(actor, request)
    return request
