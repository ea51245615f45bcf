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
    lift,
)
from tallshelf.service.kits import using
from tallshelf.service.ledger import memory
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.review.actions._shared import close_request, move_request
from tallshelf.service.review.models import Request

_log = logging.getLogger("tallshelf.review")


def settle_or_execute(actor: Actor, found: Request) -> None:
    """Move on a request whose route asks nobody: a rule approved it by itself."""
    if found.route["steps"]:
        return
    move_request(found, "agree")
    if found.kind != "publish" and not waits_for_objections(found):
        execute(actor, found)


def waits_for_objections(found: Request) -> bool:
    """Whether teams that are told of a request may still object to it."""
    with memory.told() as state:
        until = objecting_until(state.requests[found.pk])
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


def execute(actor: Actor, found: Request) -> None:
    """Do what an agreed request asks for, inside the transaction of the last agreement.

    When it cannot be done any more, its `Conflict` undoes that agreement as well.
    """
    _ACTS[found.kind](actor, found)
    move_request(found, "carry-out")
    close_request(found)


def _end(actor: Actor, found: Request) -> None:
    if found.release is None:
        raise Conflict(f"request {found.pk} is about no release")
    until = found.terms.get("sunset_at")
    end_release(
        actor,
        found.release,
        found.kind,
        found.terms["reason"],
        request=found.pk,
        sunset_at=datetime.fromisoformat(until) if until else None,
        replacement=found.terms.get("replacement", ""),
    )


def _end_item(actor: Actor, found: Request) -> None:
    until = found.terms.get("sunset_at")
    deprecate_item(
        actor,
        found.server,
        found.item,
        found.terms["reason"],
        request=found.pk,
        sunset_at=datetime.fromisoformat(until) if until else None,
        replacement=found.terms.get("replacement", ""),
    )


def _lift(actor: Actor, found: Request) -> None:
    if found.suspension is None:
        raise Conflict(f"request {found.pk} is about no suspension")
    lift(actor, found.suspension, request=found.pk)


def _change_class(actor: Actor, found: Request) -> None:
    change_data_class(actor, found.server, found.terms["data_class"], request=found.pk)


def _change_scheme(actor: Actor, found: Request) -> None:
    change_scheme(actor, found.server, found.terms["scheme"], request=found.pk)


def _allow_use(actor: Actor, found: Request) -> None:
    using.allow(actor, found.server, found.terms, request=found.pk)


_ACTS: dict[str, Callable[[Actor, Request], None]] = {
    "deprecate": _end,
    "deprecate-item": _end_item,
    "withdraw": _end,
    "lift": _lift,
    "data-class": _change_class,
    "version-scheme": _change_scheme,
    "use": _allow_use,
}
