"""Routing rules written in TOML: read with errors that name the rule, and written."""

from __future__ import annotations

import json
import tomllib
from collections.abc import Mapping
from typing import Any

from tallshelf.core.errors import BadDocument
from tallshelf.core.routing.route import RoutingRule, RuleSet, rule_set_from

_OPERATORS = {"equals": "equals", "at_least": "at-least", "one_of": "one-of", "contains": "contains"}
_KEYS = ("name", "when", "desk", "sign_offs", "step", "due_hours", "reason", "hint", "tell_hours")
_HEAD = """\
# Routing rules add up: each whose conditions all hold asks its desk. Steps run one after another,
# desks of one step side by side. When no rule matches, the curators are asked.
"""


def parse_routing(text: str, version: int = 0) -> RuleSet:
    """Read a rule set.

    Each ``[[rules]]`` has name, desk, sign_offs, step, due_hours and reason, perhaps a hint, and
    ``when``: a list of tables of a fact and one of equals, at_least, one_of and contains. Raises
    `BadDocument` for what is no TOML or not of that form, `BadArgument` for facts and values that
    cannot be.
    """
    try:
        found = tomllib.loads(text)
    except tomllib.TOMLDecodeError as fault:
        raise BadDocument(f"the routing rules are no TOML: {fault}") from None
    rules = found.get("rules")
    if set(found) - {"rules"} or not isinstance(rules, list) or not rules:
        raise BadDocument("routing rules are a list of [[rules]], and nothing else")
    return rule_set_from([_document(number, rule) for number, rule in enumerate(rules, 1)], version)


def _document(number: int, rule: Any) -> dict[str, Any]:
    name = rule.get("name", f"number {number}") if isinstance(rule, dict) else f"number {number}"
    if not isinstance(rule, dict):
        raise BadDocument(f"rule {name} is no table")
    unknown = sorted(set(rule) - set(_KEYS))
    if unknown:
        raise BadDocument(f"rule {name} has the key {unknown[0]!r}", remedy=f"Keys are {', '.join(_KEYS)}.")
    for key, kind in (
        ("name", str),
        ("desk", str),
        ("reason", str),
        ("hint", str),
        ("step", int),
        ("due_hours", int),
        ("sign_offs", int),
        ("tell_hours", int),
    ):
        if not isinstance(rule.get(key, kind()), kind):
            raise BadDocument(f"rule {name}: {key} must be {'a text' if kind is str else 'a whole number'}")
    return {
        "step": 1,
        "due_hours": 72,
        "sign_offs": 0 if rule.get("tell_hours") else 1,
        **rule,
        "when": [_condition(name, one) for one in rule.get("when", [])],
    }


def _condition(name: str, when: Any) -> dict[str, Any]:
    operators = [key for key in when if key in _OPERATORS] if isinstance(when, dict) else []
    if len(operators) != 1 or set(when) != {"fact", operators[0]}:
        raise BadDocument(
            f"rule {name}: a condition has a fact and one of {', '.join(_OPERATORS)}",
            remedy='Write it as { fact = "errors", at_least = 1 }.',
        )
    return {"fact": when["fact"], "operator": _OPERATORS[operators[0]], "value": when[operators[0]]}


def routing_text(rules: RuleSet) -> str:
    """Write a rule set as TOML that `parse_routing` reads."""
    return "\n".join([_HEAD, *(_written(rule) for rule in rules.rules)])


def _written(rule: RoutingRule) -> str:
    lines = ["[[rules]]", f"name = {_value(rule.name)}"]
    if rule.when:
        lines.append("when = [")
        for condition in rule.when:
            key = condition.operator.replace("-", "_")
            lines.append(f"  {{ fact = {_value(condition.fact)}, {key} = {_value(condition.value)} }},")
        lines.append("]")
    fields: Mapping[str, Any] = {
        "desk": rule.desk,
        "sign_offs": rule.sign_offs,
        "step": rule.step,
        "due_hours": rule.due_hours,
        "reason": rule.reason,
        **({"hint": rule.hint} if rule.hint else {}),
    }
    if rule.tell_hours:
        fields = {**fields, "tell_hours": rule.tell_hours}
    lines += [f"{key} = {_value(value)}" for key, value in fields.items()]
    return "\n".join(lines) + "\n"


def _value(value: Any) -> str:
    # A JSON text, number, flag or list of these reads the same in TOML.
    return json.dumps(value, ensure_ascii=False)
