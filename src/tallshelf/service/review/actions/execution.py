"""Carrying out what was agreed to, for every kind of request but publishing."""

from __future__ import annotations

import logging
from collections.abc import Callable
from datetime import datetime

from django.db import transaction

from tallshelf.core.entitlement import objecting_until
from tallshelf.core.errors import Conflict, ShelfError
from tallshelf.service import clock
from tallshelf.service.catalog.actions import (
    change_data_class,
    change_scheme,
    deprecate_item,
    end_release,
    keep_item,
    lift,
)
from tallshelf.service.kits import using
from tallshelf.service.ledger import memory
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.review.actions._shared import close_request, move_request
from tallshelf.service.review.models import Request

_log = logging.getLogger("tallshelf.review")


def settle_or_execute(actor: Actor, request: Request) -> None:
    """Move on a request whose route asks nobody: a rule approved it by itself."""
    if request.route["steps"]:
        return
    move_request(request, "agree")
    if request.kind != "publish" and not waits_for_objections(request):
        execute(actor, request)


def waits_for_objections(request: Request) -> bool:
    """Whether teams that are told of a request may still object to it."""
    with memory.told() as state:
        until = objecting_until(state.requests[request.pk])
    return until is not None and clock.now() < until


def carry_out_agreed() -> int:
    """Carry out, as the clock's job, what was agreed to and waited for objections; return how many were."""
    done = 0
    for number in Request.objects.filter(state="agreed").exclude(kind="publish").values_list("pk", flat=True):
        try:
            with transaction.atomic():
                execute(
                    CLOCK,
                    Request.objects.select_related("server__team", "release", "suspension").get(pk=number),
                )
        except (
            ShelfError
        ) as fault:  # an objection is open, or it cannot be done any more, which the request shows
            _log.info("request %d waits: %s", number, fault)
        else:
            done += 1
    return done


def execute(actor: Actor, request: Request) -> None:
    """Do what an agreed request asks for, inside the transaction of the last agreement.

    When it cannot be done any more, its `Conflict` undoes that agreement as well.
    """
    _ACTS[request.kind](actor, request)
    move_request(request, "carry-out")
    close_request(request)


def _end(actor: Actor, request: Request) -> None:
    if request.release is None:
        raise Conflict(f"request {request.pk} is about no release")
    until = request.terms.get("sunset_at")
    end_release(
        actor,
        request.release,
        request.kind,
        request.terms["reason"],
        request=request.pk,
        sunset_at=datetime.fromisoformat(until) if until else None,
        replacement=request.terms.get("replacement", ""),
    )


def _end_item(actor: Actor, request: Request) -> None:
    until = request.terms.get("sunset_at")
    deprecate_item(
        actor,
        request.server,
        request.item,
        request.terms["reason"],
        request=request.pk,
        sunset_at=datetime.fromisoformat(until) if until else None,
        replacement=request.terms.get("replacement", ""),
    )


def _keep_item(actor: Actor, request: Request) -> None:
    terms = request.terms
    keep_item(actor, request.server, request.item, terms["reason"], ends=terms["ends"], request=request.pk)


def _lift(actor: Actor, request: Request) -> None:
    if request.suspension is None:
        raise Conflict(f"request {request.pk} is about no suspension")
    lift(actor, request.suspension, request=request.pk)


def _change_class(actor: Actor, request: Request) -> None:
    change_data_class(actor, request.server, request.terms["data_class"], request=request.pk)


def _change_scheme(actor: Actor, request: Request) -> None:
    change_scheme(actor, request.server, request.terms["scheme"], request=request.pk)


def _allow_use(actor: Actor, request: Request) -> None:
    using.allow(actor, request.server, request.terms, request=request.pk)


_ACTS: dict[str, Callable[[Actor, Request], None]] = {
    "deprecate": _end,
    "deprecate-item": _end_item,
    "keep-item": _keep_item,
    "withdraw": _end,
    "lift": _lift,
    "data-class": _change_class,
    "version-scheme": _change_scheme,
    "use": _allow_use,
}
