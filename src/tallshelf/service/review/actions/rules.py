"""The routing rules: proposed, agreed to where they ask less, and in force."""

from __future__ import annotations

from django.db import transaction

from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import faults, loosened, parse_routing, rule_document
from tallshelf.service import clock
from tallshelf.service.consent import answered_so, need_another, need_base, need_reason, need_seen
from tallshelf.service.invalidation import invalidate
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require
from tallshelf.service.people.queries import desk_sizes
from tallshelf.service.review.actions._shared import rule_set_in_force
from tallshelf.service.review.assessing import rules_in_force
from tallshelf.service.review.models import StoredRuleSet


@transaction.atomic
def apply_rules(actor: Actor, text: str, note: str, *, seen: int | None = None) -> StoredRuleSet:
    """Store routing rules (TOML) as a new version; they are in force at once unless they ask less.

    Rules that ask less are proposed, and take a second curator (`answer_rules`). Open requests are assessed
    anew by those in force. ``seen`` is the version they were written against: `Outdated`
    when another is in force by now. Raises `BadArgument` for rules that can never fire or name a desk
    that is not there or too small.
    """
    require(actor, "curate")
    rules, now, note = parse_routing(text), rule_set_in_force(), need_reason(note)
    wrong = faults(rules, desk_sizes())
    if wrong:
        raise BadArgument(f"these rules cannot be in force: {'; '.join(wrong)}")
    need_seen("the routing rules", now.version, seen)
    if now.digest == rules.digest:
        return now
    same = StoredRuleSet.objects.filter(state="proposed", digest=rules.digest, replaces=now.version).first()
    if same is not None:
        return same
    loose = list(loosened(rules_in_force(), rules))
    last = StoredRuleSet.objects.order_by("-version").first()
    made = StoredRuleSet.objects.create(
        version=last.version + 1 if last else 1,
        text=text,
        rules=[rule_document(rule) for rule in rules.rules],
        digest=rules.digest,
        note=note,
        state="proposed",
        replaces=now.version,
        loosened=loose,
        at=clock.now(),
        by=actor.username,
    )
    told = {"version": made.version, "digest": made.digest, "replaces": made.replaces, "note": made.note}
    record(actor, Event.RULES_PROPOSED, {**told, "loosened": loose, "rules": made.rules})
    if not loose:
        _put_in_force(actor, made)
    return made


@transaction.atomic
def answer_rules(actor: Actor, version: int, answer: str, note: str = "") -> None:
    """Agree to proposed routing rules, which puts them in force, or decline them; never by who proposed."""
    require(actor, "curate")
    rule_set = StoredRuleSet.objects.filter(pk=version).first()
    if rule_set is None:
        raise NotFound(f"there is no version {version} of the routing rules")
    if answered_so(f"version {version} of the routing rules", rule_set.state, answer):
        return
    if answer == "decline":
        rule_set.state = "declined"
        rule_set.save(update_fields=["state"])
        record(actor, Event.RULES_DECLINED, {"version": version, "note": need_reason(note)})
        return
    need_another("a rule set that asks less", own=rule_set.by == actor.username)
    need_base(version, rule_set.replaces, rule_set_in_force().version)
    rule_set.agreed_by = actor.username
    _put_in_force(actor, rule_set)


def _put_in_force(actor: Actor, rule_set: StoredRuleSet) -> None:
    rule_set.state, rule_set.in_force_at = "in force", clock.now()
    rule_set.save(update_fields=["state", "in_force_at", "agreed_by"])
    record(actor, Event.RULES_CHANGED, {"version": rule_set.version, "digest": rule_set.digest})
    invalidate("rules")
