"""Reading routing rules: what is in force, how it came about, desks, and rehearsals on past requests."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.routing import (
    DEFAULT_RULES,
    Rehearsal,
    facts_from,
    faults,
    loosened,
    parse_routing,
    routing_text,
    rule_set_from,
    try_rules,
)
from tallshelf.service import clock
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.people.queries import desk_sizes
from tallshelf.service.review.assessing import rules_in_force, stored_rules_in_force
from tallshelf.service.review.models import Request, StoredRuleSet

LONGEST_REHEARSAL = 366


def rules_document(actor: Actor, version: int | None = None) -> dict[str, Any]:
    """Return the routing rules in force, or those of a version, with their TOML; raise `NotFound`."""
    require(actor, "see")
    rule_set = (
        stored_rules_in_force() if version is None else StoredRuleSet.objects.filter(pk=version).first()
    )
    if rule_set is None and version is not None:
        raise NotFound(f"there is no version {version} of the routing rules")
    may = refusal(actor, "curate") is None
    if rule_set is None:
        return {**_DEFAULT, "text": routing_text(DEFAULT_RULES), "may_change": may}
    names = dict(Person.objects.values_list("username", "name"))
    text = rule_set.text or routing_text(rule_set_from(rule_set.rules))
    return {**rules_row(actor, rule_set, names), "text": text, "may_change": may}


def versions(actor: Actor) -> list[dict[str, Any]]:
    """Return every version of the routing rules, newest first."""
    require(actor, "see")
    names = dict(Person.objects.values_list("username", "name"))
    return [rules_row(actor, rule_set, names) for rule_set in StoredRuleSet.objects.order_by("-version")]


def rules_row(actor: Actor, rule_set: StoredRuleSet, names: Mapping[str, str]) -> dict[str, Any]:
    """Return one version without its text; ``names`` are people's, by user name."""
    standing = stored_rules_in_force()
    mine = rule_set.by == actor.username
    return {
        "version": rule_set.version,
        "digest": rule_set.digest,
        "state": "in force"
        if standing == rule_set
        else "was in force"
        if rule_set.in_force_at
        else rule_set.state,
        "note": rule_set.note or "The rules that ship with the service.",
        "replaces": rule_set.replaces,
        "loosened": rule_set.loosened,
        "by": names.get(rule_set.by, rule_set.by),
        "at": rule_set.at,
        "agreed_by": names.get(rule_set.agreed_by, rule_set.agreed_by) or None,
        "may_answer": rule_set.state == "proposed" and not mine and refusal(actor, "curate") is None,
    }


_DEFAULT: dict[str, Any] = {
    "version": 0,
    "digest": DEFAULT_RULES.digest,
    "state": "in force",
    "note": "The rules that ship with the service.",
    "replaces": 0,
    "loosened": [],
    "by": "default",
    "at": None,
    "agreed_by": None,
    "may_answer": False,
}


def rehearsal(actor: Actor, text: str, days: int) -> tuple[Rehearsal, tuple[str, ...], tuple[str, ...]]:
    """Try rules on the requests of the last days; return the rehearsal, what they loosen, and their faults.

    Raises `BadArgument` for more than a year, and for rules that cannot be read.
    """
    require(actor, "see-ledger")
    if not 1 <= days <= LONGEST_REHEARSAL:
        raise BadArgument(f"a rehearsal looks back from 1 to {LONGEST_REHEARSAL} days")
    wanted, now = parse_routing(text), rules_in_force()
    rows = Request.objects.filter(opened_at__gte=clock.now() - timedelta(days=days)).order_by("pk")
    past = [
        (number, facts_from(facts)) for number, facts in rows.values_list("pk", "assessment__document__facts")
    ]
    return try_rules(now, wanted, past), loosened(now, wanted), faults(wanted, desk_sizes())
