"""Routing rules: conditions over facts, and the route they add up to."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from typing import Any, Literal, get_args

from msgspec import Struct

from tallshelf.core.errors import BadArgument
from tallshelf.core.routing.desks import FALLBACK_DESK, HIT_TEAMS, asked_by, team_desk, team_of
from tallshelf.core.routing.facts import FACTS, Facts, type_of
from tallshelf.core.routing.kinds import KINDS
from tallshelf.core.snapshot import digest

LONGEST_WAIT = 24 * 14
Operator = Literal["equals", "at-least", "one-of", "contains"]


class Condition(Struct, frozen=True):
    """One test of one fact; a fact that was not checked (None) meets no condition but equals None."""

    fact: str
    operator: Operator
    value: Any

    def holds(self, facts: Facts) -> bool:
        return self.accepts(getattr(facts, self.fact))

    def accepts(self, actual: Any) -> bool:
        """Whether a value of the fact meets it."""
        if self.operator == "equals":
            return type(actual) is type(self.value) and bool(actual == self.value)
        if actual is None:
            return False
        if self.operator == "at-least":
            return bool(actual >= self.value)
        return actual in self.value if self.operator == "one-of" else self.value in actual

    def __str__(self) -> str:
        return f"{self.fact} {self.operator.replace('-', ' ')} {self.value}"


class RoutingRule(Struct, frozen=True):
    """When every condition holds, a desk must agree; no sign-offs and a reason approve by themselves.

    ``hint`` tells the reviewer what to look at. With ``tell_hours`` and no sign-offs the desk (of the hit teams) is
    told instead, and whoever belongs to it may object for so long.
    """

    name: str
    when: tuple[Condition, ...]
    desk: str
    sign_offs: int
    step: int
    due_hours: int
    reason: str
    hint: str = ""
    tell_hours: int = 0

    def matches(self, facts: Facts) -> bool:
        return all(condition.holds(facts) for condition in self.when)

    def may_approve(self, facts: Facts) -> bool:
        """Whether the rule, where it matches, approves without a sign-off."""
        knows = not facts.undecided or any(condition.fact == "undecided" for condition in self.when)
        return not self.sign_offs and not self.tell_hours and knows and KINDS[facts.kind].alone


class RuleSet(Struct, frozen=True):
    """Routing rules in force, under a version."""

    rules: tuple[RoutingRule, ...]
    version: int = 0

    @property
    def digest(self) -> str:
        """The digest of the rules, whatever their version number."""
        return digest([rule_document(rule) for rule in self.rules])

    def route(self, facts: Facts, gates: Collection[str] = ()) -> Route:
        """Return the route for some facts; ``gates`` names the gates that fail.

        Rules add up: a desk named twice at one step needs the larger number of sign-offs.
        When no rule matches, the fallback desk is asked for one sign-off. A rule without sign-offs
        approves by itself, but never a request that takes back what was decided (lifting a suspension,
        another data class), nor where a gate fails, and what is undecided only when one of its conditions
        says so.
        """
        matching = [rule for rule in self.rules if rule.matches(facts)]
        asking = [rule for rule in matching if rule.sign_offs > 0]
        approving = [] if gates else [rule for rule in matching if rule.may_approve(facts)]
        tells = _told(matching, facts)
        seats = _seats(asking, facts)
        if not seats and approving:
            return Route((), approving[0].reason, tells)
        if not seats:
            failing = f"the check fails: {', '.join(sorted(gates))}" if gates else ""
            alone = failing or "no rule may approve this by itself"
            reason = alone if matching else "no routing rule matches"
            return Route((Step(1, (Seat(FALLBACK_DESK, 1, 72, (reason,)),)),), "", tells)
        steps = [
            Step(number, tuple(desks[name] for name in sorted(desks)))
            for number, desks in sorted(seats.items())
        ]
        return Route(tuple(steps), "", tells)


class Seat(Struct, frozen=True):
    """One desk in a route: how many must agree, in how many hours, and why it is asked."""

    desk: str
    sign_offs: int
    due_hours: int
    reasons: tuple[str, ...]
    hints: tuple[str, ...] = ()


class Step(Struct, frozen=True):
    """Desks that are asked side by side."""

    number: int
    seats: tuple[Seat, ...]


class Told(Struct, frozen=True):
    """A team that is told of a request and may object for some hours, and why."""

    team: str
    hours: int
    reasons: tuple[str, ...]


class Route(Struct, frozen=True):
    """Steps in order; ``approved_by`` is the reason when a rule approves by itself; ``tells`` whom it waits for."""

    steps: tuple[Step, ...]
    approved_by: str = ""
    tells: tuple[Told, ...] = ()

    @property
    def tell_hours(self) -> int:
        """How long it waits for objections."""
        return max((told.hours for told in self.tells), default=0)

    def document(self) -> dict[str, Any]:
        """Return the route as a JSON object; ``tells`` is left out where nobody is told."""
        told = [{"team": one.team, "hours": one.hours, "reasons": list(one.reasons)} for one in self.tells]
        return {
            **({"tells": told} if told else {}),
            "approved_by": self.approved_by,
            "steps": [
                {
                    "number": step.number,
                    "desks": [
                        {
                            "desk": seat.desk,
                            "sign_offs": seat.sign_offs,
                            "due_hours": seat.due_hours,
                            "reasons": list(seat.reasons),
                            "hints": list(seat.hints),
                        }
                        for seat in step.seats
                    ],
                }
                for step in self.steps
            ],
        }


_USE = ("the use of this server asks its owner",)


def _seats(asking: Iterable[RoutingRule], facts: Facts) -> dict[int, dict[str, Seat]]:
    """Return the seats of each step, by desk; the use of a server asks its owner team first, whatever rules say."""
    seats: dict[int, dict[str, Seat]] = {}
    if facts.kind == "use":
        owner = team_desk(facts.team)
        seats[1] = {owner: Seat(owner, 1, 72, _USE)}
    for rule in asking:
        for desk in asked_by(rule.desk, facts):
            desks = seats.setdefault(rule.step, {})
            desks[desk] = _merge(desks.get(desk), rule, desk)
    return seats


def _told(matching: Iterable[RoutingRule], facts: Facts) -> tuple[Told, ...]:
    told: dict[str, Told] = {}
    for rule in matching:
        for desk in asked_by(rule.desk, facts) if rule.tell_hours and not rule.sign_offs else ():
            team = team_of(desk)
            before = told.get(team, Told(team, 0, ()))
            told[team] = Told(team, max(before.hours, rule.tell_hours), (*before.reasons, rule.reason))
    return tuple(told[team] for team in sorted(told))


def _merge(seat: Seat | None, rule: RoutingRule, desk: str) -> Seat:
    hints = (rule.hint,) if rule.hint else ()
    if seat is None:
        return Seat(desk, rule.sign_offs, rule.due_hours, (rule.reason,), hints)
    return Seat(
        desk,
        max(seat.sign_offs, rule.sign_offs),
        min(seat.due_hours, rule.due_hours),
        (*seat.reasons, rule.reason),
        (*seat.hints, *hints),
    )


def rule_document(rule: RoutingRule) -> dict[str, Any]:
    """Return one rule as a JSON object, as `rule_set_from` reads it."""
    return {
        "name": rule.name,
        "when": [
            {"fact": condition.fact, "operator": condition.operator, "value": condition.value}
            for condition in rule.when
        ],
        "desk": rule.desk,
        "sign_offs": rule.sign_offs,
        "step": rule.step,
        "due_hours": rule.due_hours,
        "reason": rule.reason,
        **({"hint": rule.hint} if rule.hint else {}),
        **({"tell_hours": rule.tell_hours} if rule.tell_hours else {}),
    }


def rule_set_from(documents: Iterable[Mapping[str, Any]], version: int = 0) -> RuleSet:
    """Read a rule set; raise `BadArgument` for an unknown fact or operator, or a rule without reason."""
    return RuleSet(tuple(map(_rule, documents)), version)


def _rule(document: Mapping[str, Any]) -> RoutingRule:
    try:
        rule = RoutingRule(
            name=document["name"],
            when=tuple(_condition(one) for one in document["when"]),
            desk=document["desk"],
            sign_offs=int(document["sign_offs"]),
            step=int(document["step"]),
            due_hours=int(document["due_hours"]),
            reason=document["reason"],
            hint=document.get("hint", ""),
            tell_hours=int(document.get("tell_hours", 0)),
        )
    except (KeyError, TypeError, ValueError) as fault:
        raise BadArgument(
            f"a routing rule cannot be read: {fault}",
            remedy="A rule has name, when, desk, sign_offs, step, due_hours and reason.",
        ) from None
    if not rule.reason.strip() or rule.sign_offs < 0:
        raise BadArgument(f"the rule {rule.name!r} needs a reason and no fewer than 0 sign-offs")
    if rule.tell_hours and (
        rule.sign_offs or rule.desk != HIT_TEAMS or not 0 < rule.tell_hours <= LONGEST_WAIT
    ):
        raise BadArgument(
            f"the rule {rule.name!r} tells a desk that cannot be told",
            remedy=f"tell_hours (1 to {LONGEST_WAIT}) goes with desk = {HIT_TEAMS!r} and sign_offs = 0.",
        )
    return rule


def _condition(document: Mapping[str, Any]) -> Condition:
    condition = Condition(document["fact"], document["operator"], document["value"])
    if condition.fact not in FACTS:
        raise BadArgument(
            f"there is no fact {condition.fact!r}", remedy=f"Facts are {', '.join(sorted(FACTS))}."
        )
    if condition.operator not in get_args(Operator):
        raise BadArgument(
            f"there is no operator {condition.operator!r}",
            remedy=f"Operators are {', '.join(get_args(Operator))}.",
        )
    wrong = _misfit(condition)
    if wrong:
        raise BadArgument(f"the condition {condition} cannot be: {wrong}")
    return condition


def _misfit(condition: Condition) -> str:
    """Return why an operator or value does not fit a fact, or nothing."""
    kind, value = type_of(condition.fact), condition.value
    if condition.operator == "at-least":
        fits = kind is int and isinstance(value, int) and not isinstance(value, bool)
        return (
            ""
            if fits
            else f"at-least goes with a fact that is a number, and {condition.fact} is {kind.__name__}"
        )
    if condition.operator == "contains":
        fits = kind is tuple and isinstance(value, str)
        return "" if fits else "contains goes with a fact that is a list, and a text"
    if condition.operator == "one-of":
        fits = isinstance(value, list) and value != [] and all(type(one) is kind for one in value)
        return "" if fits else f"one-of goes with a list of {kind.__name__}"
    return "" if value is None or type(value) is kind else f"{condition.fact} is {kind.__name__}"


DEFAULT_RULES = rule_set_from(
    [
        {
            "name": "every request",
            "when": [],
            "desk": FALLBACK_DESK,
            "sign_offs": 1,
            "step": 1,
            "due_hours": 72,
            "reason": "a curator looks at every release",
        },
        {
            "name": "safety",
            "when": [{"fact": "safety_findings", "operator": "at-least", "value": 1}],
            "desk": "security",
            "sign_offs": 1,
            "step": 2,
            "due_hours": 48,
            "reason": "safety findings",
        },
        {
            "name": "newly writing",
            "when": [{"fact": "newly_writing_tools", "operator": "at-least", "value": 1}],
            "desk": "security",
            "sign_offs": 1,
            "step": 2,
            "due_hours": 48,
            "reason": "a tool newly writes",
        },
        {
            "name": "consent loosened",
            "when": [{"fact": "loosened_consent", "operator": "at-least", "value": 1}],
            "desk": "security",
            "sign_offs": 1,
            "step": 2,
            "due_hours": 48,
            "reason": "hosts would ask people less",
        },
    ],
    version=1,
)
