"""Carrying out what was agreed to, for every kind of request but publishing."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from tallshelf.service.catalog.actions import change_data_class, end_release, lift
from tallshelf.service.people.actor import Actor
from tallshelf.service.review.actions._shared import close_request, move_request
from tallshelf.service.review.models import Request


def settle(actor: Actor, found: Request) -> None:
    """Move on a request whose route asks nobody: a rule approved it by itself."""
    if found.route["steps"]:
        return
    move_request(found, "agree")
    if found.kind != "publish":
        carry_out(actor, found)


def carry_out(actor: Actor, found: Request) -> None:
    """Do what an agreed request asks for, inside the transaction of the last agreement.

    When it cannot be done any more, its `Conflict` undoes that agreement as well.
    """
    terms = found.terms
    if found.kind in ("deprecate", "withdraw") and found.release is not None:
        until = terms.get("sunset_at")
        end_release(
            actor,
            found.release,
            found.kind,
            terms["reason"],
            request=found.pk,
            sunset_at=datetime.fromisoformat(until) if until else None,
            replacement=terms.get("replacement", ""),
        )
    elif found.kind == "lift" and found.suspension is not None:
        lift(actor, found.suspension, request=found.pk)
    elif found.kind == "data-class":
        change_data_class(actor, found.server, terms["data_class"], request=found.pk)
    move_request(found, "carry-out")
    close_request(found)
    if found.kind == "data-class":
        # Assessing anew may settle another request, and so comes back here.
        from tallshelf.service.review.actions.reassessment import reassess_open

        server = found.server
        transaction.on_commit(lambda: reassess_open(actor, server))
