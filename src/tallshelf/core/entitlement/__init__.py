"""Who is entitled to what, by the ledger alone: a replay of its entries, and a judge over what it comes to.

`replay` rebuilds people, desks, servers, requests and decisions; `entitled` says whether an act may become the
next entry. Nothing is in force that it does not allow; tables are a cache of what it says.
"""

from tallshelf.core.entitlement._decisions import why_not_waive
from tallshelf.core.entitlement._kits import raises_class
from tallshelf.core.entitlement._requests import SAFETY_GATE, refuses_despite
from tallshelf.core.entitlement.assessed import assessed_document, assessed_from
from tallshelf.core.entitlement.inputs import (
    bases,
    current,
    granted,
    in_force_digest,
    moved,
    moved_since,
    subject,
)
from tallshelf.core.entitlement.judge import RULES, Entitled, Refused, entitled
from tallshelf.core.entitlement.part import behind, handed_in, why_part, why_part_in_server
from tallshelf.core.entitlement.progress import AskedDesk, asked_now, objecting_until, stands, why_not_here
from tallshelf.core.entitlement.proof import PROOF_FORMAT, Proved, matters, sealed, verify_proof
from tallshelf.core.entitlement.records import CLOCK as SYSTEM_CLOCK
from tallshelf.core.entitlement.records import LOCAL, MACHINE, RESERVED, Entry, Request
from tallshelf.core.entitlement.replay import Audit, advance, audit, read_entry, replay, uncollected
from tallshelf.core.entitlement.roles import (
    ACTS,
    ALL_SCOPES,
    CI_SCOPES,
    ROLES,
    SCOPES,
    Permission,
    refusal_of,
)
from tallshelf.core.entitlement.state import State, moment
from tallshelf.core.entitlement.tell_requests import agreed_at
from tallshelf.core.entitlement.uses import items_of, unagreed

__all__ = [
    "ACTS",
    "ALL_SCOPES",
    "CI_SCOPES",
    "LOCAL",
    "MACHINE",
    "PROOF_FORMAT",
    "RESERVED",
    "ROLES",
    "RULES",
    "SAFETY_GATE",
    "SCOPES",
    "SYSTEM_CLOCK",
    "AskedDesk",
    "Audit",
    "Entitled",
    "Entry",
    "Permission",
    "Proved",
    "Refused",
    "Request",
    "State",
    "advance",
    "agreed_at",
    "asked_now",
    "assessed_document",
    "assessed_from",
    "audit",
    "bases",
    "behind",
    "current",
    "entitled",
    "granted",
    "handed_in",
    "in_force_digest",
    "items_of",
    "matters",
    "moment",
    "moved",
    "moved_since",
    "objecting_until",
    "raises_class",
    "read_entry",
    "refusal_of",
    "refuses_despite",
    "replay",
    "sealed",
    "stands",
    "subject",
    "unagreed",
    "uncollected",
    "verify_proof",
    "why_not_here",
    "why_not_waive",
    "why_part",
    "why_part_in_server",
]
