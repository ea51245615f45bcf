"""Facts, routing rules, routes, and the states of releases and requests."""

from tallshelf.core.routing.checks import faults, loosened
from tallshelf.core.routing.facts import DATA_CLASSES, FACTS, Facts, facts_from
from tallshelf.core.routing.route import (
    DEFAULT_RULES,
    FALLBACK_DESK,
    Condition,
    Route,
    RoutingRule,
    RuleSet,
    Seat,
    Step,
    rule_document,
    rule_set_from,
)
from tallshelf.core.routing.states import (
    RELEASE_STATES,
    REQUEST_KINDS,
    REQUEST_STATES,
    ReleaseState,
    RequestKind,
    RequestState,
    next_release_state,
    next_request_state,
)
from tallshelf.core.routing.toml import parse_routing, routing_text
from tallshelf.core.routing.trial import DeskLoad, Moved, Trial, try_rules

__all__ = [
    "DATA_CLASSES",
    "DEFAULT_RULES",
    "FACTS",
    "FALLBACK_DESK",
    "RELEASE_STATES",
    "REQUEST_KINDS",
    "REQUEST_STATES",
    "Condition",
    "DeskLoad",
    "Facts",
    "Moved",
    "ReleaseState",
    "RequestKind",
    "RequestState",
    "Route",
    "RoutingRule",
    "RuleSet",
    "Seat",
    "Step",
    "Trial",
    "facts_from",
    "faults",
    "loosened",
    "next_release_state",
    "next_request_state",
    "parse_routing",
    "routing_text",
    "rule_document",
    "rule_set_from",
    "try_rules",
]
