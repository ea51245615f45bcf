"""Facts, routing rules, routes, and the states of releases and requests."""

from tallshelf.core.routing.checks import faults, loosened
from tallshelf.core.routing.classes import DATA_CLASSES
from tallshelf.core.routing.desks import FALLBACK_DESK, HIT_TEAMS, OWNER_TEAM, team_desk, team_of
from tallshelf.core.routing.desks import RESERVED as RESERVED_DESKS
from tallshelf.core.routing.facts import FACTS, Facts, facts_from
from tallshelf.core.routing.kinds import ASKED_FOR, ENDING, KINDS, RELEASE_KINDS, REQUEST_KINDS, Kind, Term
from tallshelf.core.routing.rehearsal import DeskLoad, Moved, Rehearsal, try_rules
from tallshelf.core.routing.route import (
    DEFAULT_RULES,
    Condition,
    Route,
    RoutingRule,
    RuleSet,
    Seat,
    Step,
    Told,
    rule_document,
    rule_set_from,
)
from tallshelf.core.routing.states import (
    LIVE_STATES,
    RELEASE_STATES,
    REQUEST_STATES,
    ReleaseState,
    RequestState,
    next_release_state,
    next_request_state,
)
from tallshelf.core.routing.toml import parse_routing, routing_text

__all__ = [
    "ASKED_FOR",
    "DATA_CLASSES",
    "DEFAULT_RULES",
    "ENDING",
    "FACTS",
    "FALLBACK_DESK",
    "HIT_TEAMS",
    "KINDS",
    "LIVE_STATES",
    "OWNER_TEAM",
    "RELEASE_KINDS",
    "RELEASE_STATES",
    "REQUEST_KINDS",
    "REQUEST_STATES",
    "RESERVED_DESKS",
    "Condition",
    "DeskLoad",
    "Facts",
    "Kind",
    "Moved",
    "Rehearsal",
    "ReleaseState",
    "RequestState",
    "Route",
    "RoutingRule",
    "RuleSet",
    "Seat",
    "Step",
    "Term",
    "Told",
    "facts_from",
    "faults",
    "loosened",
    "next_release_state",
    "next_request_state",
    "parse_routing",
    "routing_text",
    "rule_document",
    "rule_set_from",
    "team_desk",
    "team_of",
    "try_rules",
]
