"""What is wrong with a set of routing rules before it is in force, and what it loosens."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.core.routing.desks import RESERVED
from tallshelf.core.routing.facts import DOMAINS, type_of

if TYPE_CHECKING:
    from tallshelf.core.routing.route import Condition, RoutingRule, RuleSet


def faults(rules: RuleSet, members: Mapping[str, int]) -> tuple[str, ...]:
    """Return what keeps a rule set from being put in force; ``members`` counts who sits at each desk.

    A name that is used twice, a desk that is not there or has too few members, and a rule that can
    never fire since its conditions exclude each other.
    """
    return (*_twice(rules), *(fault for rule in rules.rules for fault in _faults_of(rule, members)))


def _twice(rules: RuleSet) -> Iterator[str]:
    names = [rule.name for rule in rules.rules]
    yield from (
        f"two rules are called {name!r}" for name in sorted({one for one in names if names.count(one) > 1})
    )


def _faults_of(rule: RoutingRule, members: Mapping[str, int]) -> Iterator[str]:
    if rule.desk in RESERVED:
        if rule.sign_offs > 1:
            yield f"{rule.name!r} asks each team, which is one sign-off each"
    elif rule.sign_offs and rule.desk not in members:
        yield f"{rule.name!r} names the desk {rule.desk!r}, which is not there"
    elif rule.sign_offs > members.get(rule.desk, 0):
        seats = members[rule.desk]
        yield f"{rule.name!r} needs {rule.sign_offs} sign-offs at {rule.desk}, where {seats} sit"
    for fact, conditions in itertools.groupby(
        sorted(rule.when, key=lambda condition: condition.fact), key=lambda condition: condition.fact
    ):
        if not _possible(fact, list(conditions)):
            yield f"{rule.name!r} can never fire: its conditions on {fact} exclude each other"


def _possible(fact: str, conditions: Sequence[Condition]) -> bool:
    return any(
        all(condition.accepts(value) for condition in conditions) for value in _values(fact, conditions)
    )


def _values(fact: str, conditions: Sequence[Condition]) -> Sequence[Any]:
    """Return values of a fact of which one meets all conditions, if any value does."""
    named = [condition.value for condition in conditions]
    kind = type_of(fact)
    if kind is bool:
        return (True, False, None)
    if kind is tuple:
        whole = sorted({*DOMAINS.get(fact, ()), *(one for one in named if isinstance(one, str))})
        chosen = [condition.value for condition in conditions if condition.operator == "contains"]
        return (tuple(whole), tuple(chosen), ()) if fact not in DOMAINS else (DOMAINS[fact], ())
    flat = [each for one in named for each in (one if isinstance(one, list) else [one])]
    if kind is int:
        return [each for one in flat if one is not None for each in (one - 1, one, one + 1)] + [None, 0]
    return DOMAINS.get(fact, [*flat, "another", None])


def loosened(old: RuleSet, new: RuleSet) -> tuple[str, ...]:
    """Return in words where a new rule set asks less than the old one, or might.

    Rules are compared by name: one that is gone, asks another desk, fewer people, later, or only when
    more conditions hold; and a new rule that approves by itself.
    """
    there = {rule.name: rule for rule in new.rules}
    before = {rule.name: rule for rule in old.rules}
    gone = [f"{rule.name!r} is taken out" for rule in old.rules if rule.name not in there]
    changed = [
        words for rule in old.rules if rule.name in there for words in _asks_less(rule, there[rule.name])
    ]
    approving = [
        f"{rule.name!r} approves by itself"
        for rule in new.rules
        if not (rule.sign_offs or rule.tell_hours)
        and (rule.name not in before or before[rule.name].sign_offs)
    ]
    return (*gone, *changed, *approving)


def _asks_less(old: RoutingRule, new: RoutingRule) -> Iterator[str]:
    if old.desk != new.desk:
        yield f"{old.name!r} asks {new.desk} instead of {old.desk}"
    if new.sign_offs < old.sign_offs:
        yield f"{old.name!r} needs {new.sign_offs} sign-offs instead of {old.sign_offs}"
    if new.due_hours > old.due_hours:
        yield f"{old.name!r} is due in {new.due_hours} hours instead of {old.due_hours}"
    if new.tell_hours < old.tell_hours:
        yield f"{old.name!r} waits {new.tell_hours} hours for objections instead of {old.tell_hours}"
    if any(condition not in old.when for condition in new.when):
        yield f"{old.name!r} asks under other conditions"
