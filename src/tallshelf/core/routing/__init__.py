"""Facts, routing rules, routes, and the states of releases and requests."""

from tallshelf.core.routing.facts import FACTS, Facts
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
    REQUEST_STATES,
    ReleaseState,
    RequestState,
    next_release_state,
    next_request_state,
)

__all__ = [
    "DEFAULT_RULES",
    "FACTS",
    "FALLBACK_DESK",
    "RELEASE_STATES",
    "REQUEST_STATES",
    "Condition",
    "Facts",
    "ReleaseState",
    "RequestState",
    "Route",
    "RoutingRule",
    "RuleSet",
    "Seat",
    "Step",
    "next_release_state",
    "next_request_state",
    "rule_document",
    "rule_set_from",
]
