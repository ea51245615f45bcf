"""The routing rules in force."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.db import transaction

from tallshelf.core.routing import rule_document, rule_set_from
from tallshelf.service import clock
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.events import Event
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.review.models import StoredRuleSet


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
        at=clock.now(),
        by=actor.username,
    )
    record(actor, Event.RULES_CHANGED, {"version": made.version, "digest": made.digest})
    return made
