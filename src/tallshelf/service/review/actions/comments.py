"""Talking about a request: remarks and questions, perhaps on a place, and answers to them."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from tallshelf.core.errors import BadArgument, Conflict, Denied, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import LIVE_STATES
from tallshelf.service import clock
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.models import BLOCKING, Comment, Request
from tallshelf.service.review.places import quoted_at
from tallshelf.service.review.progress import is_reviewer, standing

LONGEST = 4000


@transaction.atomic
def comment(
    actor: Actor, number: int, text: str, *, kind: str = "remark", item: str = "", pointer: str = ""
) -> Comment:
    """Say something on a request, ask, or object.

    A question is for its reviewers, an objection for teams that are told of it; both block agreement.

    ``item`` and ``pointer`` anchor it to a place, which must be there. The same again by the same person
    answers with what there is.
    """
    require(actor, "comment")
    request = _live(actor, number)
    said = _said(text)
    if kind not in ("remark", "question", "objection"):
        raise BadArgument(f"{kind!r} is neither remark, question nor objection")
    if kind == "question" and not is_reviewer(actor, standing(request)):
        raise Denied(
            "a question blocks the request, and is for those who may sign it", remedy="Leave a remark."
        )
    if kind == "objection" and all(one["team"] not in actor.teams for one in request.route.get("tells", ())):
        raise Denied(
            "to object is for members of the teams that are told of this request", remedy="Leave a remark."
        )
    if pointer and not item:
        raise BadArgument("a place is in an item", remedy="Name the item as well, such as tool:list_berths.")
    quoted = quoted_at(request.release, item, pointer) if item else ""
    if quoted is None:
        raise NotFound(f"there is no {item}{pointer} in this request")
    rows = request.comments.filter(person_id=actor.id, kind=kind, item=item, pointer=pointer, text=said)
    same = rows.filter(settled_at=None).first()
    if same is not None:
        return same
    return _store(actor, request, kind=kind, item=item, pointer=pointer, quoted=quoted, text=said)


@transaction.atomic
def answer_comment(actor: Actor, number: int, comment_id: int, text: str) -> Comment:
    """Answer a remark or question; a question or objection is settled by its first answer, also by whoever asked it."""
    require(actor, "comment")
    request = _live(actor, number)
    asked = request.comments.filter(pk=comment_id).exclude(kind="answer").first()
    if asked is None:
        raise NotFound(f"request {number} has no comment {comment_id}")
    said = _said(text)
    same = asked.replies.filter(person_id=actor.id, text=said).first()
    if same is not None:
        return same
    made = _store(actor, request, kind="answer", text=said, answers=asked)
    if asked.kind in BLOCKING and asked.settled_at is None:
        asked.settled_at = clock.now()
        asked.save(update_fields=["settled_at"])
    return made


def _live(actor: Actor, number: int) -> Request:
    request = queries.request(actor, number)
    if request.state not in LIVE_STATES:
        raise Conflict(f"request {number} is {request.state}", remedy="It is closed; nothing is added to it.")
    return request


def _said(text: str) -> str:
    said = text.strip()
    if not said or len(said) > LONGEST:
        raise BadArgument(f"a comment has 1 to {LONGEST} characters")
    return said


def _store(actor: Actor, request: Request, **fields: Any) -> Comment:
    made = Comment.objects.create(request=request, person_id=actor.id, at=clock.now(), **fields)
    record(
        actor,
        Event.COMMENTED,
        {
            "server": request.server.slug,
            "request": request.pk,
            "comment": made.pk,
            "kind": made.kind,
            "item": made.item,
            "pointer": made.pointer,
            "text": made.text,
            "answers": made.answers_id,
        },
    )
    return made
