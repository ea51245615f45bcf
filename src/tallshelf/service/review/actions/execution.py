"""Carrying out what was agreed to, for every kind of request but publishing."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from tallshelf.core.errors import Conflict
from tallshelf.service.catalog.actions import change_data_class, change_scheme, end_release, lift
from tallshelf.service.people.actor import Actor
from tallshelf.service.review.actions._shared import close_request, move_request
from tallshelf.service.review.models import Request


def settle_or_execute(actor: Actor, found: Request) -> None:
    """Move on a request whose route asks nobody: a rule approved it by itself."""
    if found.route["steps"]:
        return
    move_request(found, "agree")
    if found.kind != "publish":
        execute(actor, found)


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


def _lift(actor: Actor, found: Request) -> None:
    if found.suspension is None:
        raise Conflict(f"request {found.pk} is about no suspension")
    lift(actor, found.suspension, request=found.pk)


def _change_class(actor: Actor, found: Request) -> None:
    change_data_class(actor, found.server, found.terms["data_class"], request=found.pk)


def _change_scheme(actor: Actor, found: Request) -> None:
    change_scheme(actor, found.server, found.terms["scheme"], request=found.pk)


_ACTS: dict[str, Callable[[Actor, Request], None]] = {
    "deprecate": _end,
    "withdraw": _end,
    "lift": _lift,
    "data-class": _change_class,
    "version-scheme": _change_scheme,
}
